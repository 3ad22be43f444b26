"""The command line: translates options into one library call and shows the result."""
