"""Kept, new, lost, returns only: by sale lines in the current window and the named base (section 8)."""

from __future__ import annotations

from typing import Literal

Status = Literal["kept", "new", "lost", "returns_only"]


def status_of(current_sales: int, base_sales: int | None) -> Status | None:
    """The status of a row from its numbers of sale lines; None where the base is undefined."""
    if base_sales is None:
        return None
    if current_sales and base_sales:
        return "kept"
    if current_sales:
        return "new"
    return "lost" if base_sales else "returns_only"
