"""Text that no spreadsheet runs."""

from __future__ import annotations

#: Signs that begin a formula, those of other widths, too.
_RUN_BY_SPREADSHEETS = ("=", "+", "-", "@", "\t", "\r", "\n", "＝", "＋", "－", "＠")


def harmless(text: str) -> str:
    """Text that a spreadsheet would run as a formula, made plain text by an apostrophe."""
    return f"'{text}" if text.lstrip(" \u00a0").startswith(_RUN_BY_SPREADSHEETS) else text
