"""Names of what does not exist yet, and of child rows."""

from __future__ import annotations

from pathlib import Path

from brujula.policy.model import ChildPolicy

NEW = "new:"
"""Begins the account_id of a contact whose account the same plan creates: `new:A3` is what action A3 of the accounts makes."""
MERGED, MERGED_LEFT = "merged away", "merged, left as inactive"
"""What the journal says of a record that was merged into another, and taken out or left in."""
PREFIX = "child-"
"""Begins the names of the files of child rows in a plan folder."""
OURS = ("record_id", "action", "problem")
"""Columns that such a file gets behind its own."""


def name_of(child: ChildPolicy) -> str:
    """What child rows are called: by the policy, or by their file."""
    return child.name or Path(child.list).stem
