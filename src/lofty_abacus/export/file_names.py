"""What files are called: after what they show, and the day as of which they show it."""

from __future__ import annotations

import re
from datetime import date
from urllib.parse import quote

#: Characters of a name before its date.
LONGEST = 80
_UNFIT = re.compile(r"[\x00-\x1f\x7f<>:\"/\\|?*]+")


def file_name(title: str, as_of: date, ending: str) -> str:
    """A name that every file system takes: 'Sales by region 2026-10-17.csv'."""
    bare = " ".join(_UNFIT.sub(" ", title).split()).strip(". ")[:LONGEST].rstrip(". ")
    return f"{bare or 'Figures'} {as_of.isoformat()}.{ending}"


def disposition(name: str) -> str:
    """The header that gives a file its name: in plain letters, and in all of them for those who read that."""
    plain = name.encode("ascii", "replace").decode().replace("?", "_").replace('"', "_")
    return f"attachment; filename=\"{plain}\"; filename*=UTF-8''{quote(name)}"
