"""Settling open cases: the decisions a person takes, kept and used again."""
