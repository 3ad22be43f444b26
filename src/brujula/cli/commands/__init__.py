"""One file per command."""
