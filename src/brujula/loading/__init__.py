"""The plan folder, and carrying it out: journal, resume, undo."""
