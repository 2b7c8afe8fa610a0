"""Text that no spreadsheet runs."""

from __future__ import annotations

_RUN_BY_SPREADSHEETS = ("=", "+", "-", "@", "\t", "\r")


def harmless(text: str) -> str:
    """Text that a spreadsheet would run as a formula, made plain text by an apostrophe."""
    return f"'{text}" if text.startswith(_RUN_BY_SPREADSHEETS) else text
