"""Pure computation on columns: arrays in, arrays out. Reads no file, prints nothing, knows no store."""
