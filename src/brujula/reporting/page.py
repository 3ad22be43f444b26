"""placeholder"""
from __future__ import annotations


def page(plan):
    return ""
