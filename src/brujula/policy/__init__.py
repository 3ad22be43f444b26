"""What the steward decides: how a list is read, mapped, matched, decided and updated."""

from brujula.policy.model import Policy

__all__ = ["Policy"]
