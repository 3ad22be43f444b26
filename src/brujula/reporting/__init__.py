"""The page and the words a steward signs for."""
