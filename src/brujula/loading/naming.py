"""Names of what does not exist yet."""

NEW = "new:"
"""Begins the account_id of a contact whose account the same plan creates: `new:A3` is what action A3 of the accounts makes."""
