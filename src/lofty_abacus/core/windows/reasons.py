"""Why a value is undefined: the codes of the semantics (section 5). An undefined value is never shown as 0."""

from __future__ import annotations

from typing import Literal

Reason = Literal[
    "before_coverage",
    "after_coverage",
    "not_posted",
    "after_as_of",
    "base_is_zero",
    "base_is_negative",
    "window_incomplete",
    "not_given",
    "not_applicable",
]
