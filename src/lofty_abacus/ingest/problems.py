"""What can be wrong with incoming data.

Problems of values are values, all of them reported; a file that cannot be read at all is an error:

    UnreadableFileError      the file's bytes are not what intake reads: which file, why, the way out
    MappingError             the mapping cannot be applied to the file: which column, why, the way out
"""

from __future__ import annotations

import errno
from dataclasses import dataclass


@dataclass(frozen=True)
class Problem:
    """A value that cannot be used: where it stands (row 1 is the header), its text, and why."""

    file: str
    row: int
    column: str
    text: str
    reason: str


class UnreadableFileError(Exception):
    """A file that cannot be read as delimited text."""

    def __init__(self, file: str, why: str, way_out: str) -> None:
        super().__init__(f"{file}: {why} {way_out}")
        self.file = file
        self.why = why
        self.way_out = way_out


def is_out_of_room(error: BaseException) -> bool:
    """Whether it is not the file that is at fault, but the room that reading it may take."""
    return isinstance(error, MemoryError) or getattr(error, "errno", None) in (errno.EFBIG, errno.ENOSPC)


class MappingError(Exception):
    """A mapping that cannot be applied."""

    def __init__(self, file: str, part: str, why: str, way_out: str) -> None:
        super().__init__(f"{file}: {part}: {why} {way_out}")
        self.file = file
        self.part = part
