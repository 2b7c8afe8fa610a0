"""Who changes something in the record, and when."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime


@dataclass(frozen=True)
class Signed:
    """at: in UTC, without its zone, as MariaDB keeps it."""

    by: str
    at: datetime
