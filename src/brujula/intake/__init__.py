"""Lists in and out: formats, headings, mapping, profile."""
