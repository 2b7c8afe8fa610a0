"""Text encodings: found by content, and brought to UTF-8 so that one reader reads all."""

from __future__ import annotations

import codecs
from pathlib import Path

import numpy as np

from lofty_abacus.ingest.problems import UnreadableFileError

_BLOCK = 1 << 20
#: Stands where bytes could not be read.
SPOILT = "\ufffd"
#: Encodings that an analyst can choose among.
ENCODINGS = ("utf-8", "utf-16-le", "utf-16-be", "cp1252", "iso8859-15", "cp1250", "mac-roman", "cp850")
_MARKS = ((codecs.BOM_UTF8, "utf-8"), (codecs.BOM_UTF16_LE, "utf-16-le"), (codecs.BOM_UTF16_BE, "utf-16-be"))


def encoding_of(path: Path) -> str:
    """The text encoding of a file: by byte order mark, by the zeros of UTF-16, else UTF-8 where it decodes, else Windows-1252.

    A file that has letters of UTF-8 stays UTF-8 though some bytes of it are spoilt.
    """
    with path.open("rb") as file:
        head = file.read(4096)
        for mark, name in _MARKS:
            if head.startswith(mark):
                return name
        even, odd = head[::2].count(0), head[1::2].count(0)
        if max(even, odd) * 10 > len(head) * 2 and min(even, odd) * 10 < max(even, odd):
            return "utf-16-le" if odd > even else "utf-16-be"
        file.seek(0)
        decoder = codecs.getincrementaldecoder("utf-8")()
        try:
            while block := file.read(_BLOCK):
                decoder.decode(block)
            decoder.decode(b"", final=True)
        except UnicodeDecodeError:
            letters, spoilt = _beyond_ascii(path)
            return "utf-8" if letters >= spoilt else "cp1252"
    return "utf-8"


def spoilt_bytes(path: Path) -> int:
    """How many places of a text of UTF-8 are spoilt; 0 for one that is whole, and for one that is no such text at all."""
    with path.open("rb") as file:
        decoder = codecs.getincrementaldecoder("utf-8")()
        try:
            while block := file.read(_BLOCK):
                decoder.decode(block)
            decoder.decode(b"", final=True)
        except UnicodeDecodeError:
            letters, spoilt = _beyond_ascii(path)
            return spoilt if letters >= spoilt else 0
    return 0


def _beyond_ascii(path: Path) -> tuple[int, int]:
    """(letters beyond ASCII that are UTF-8, places that are not)."""
    letters = spoilt = 0
    decoder = codecs.getincrementaldecoder("utf-8")("replace")
    with path.open("rb") as file:
        file.seek(mark_length(path))
        while True:
            block = file.read(_BLOCK)
            signs = np.frombuffer(decoder.decode(block, final=not block).encode("utf-32-le"), np.uint32)
            bad = int((signs == ord(SPOILT)).sum())
            spoilt += bad
            letters += int((signs > 127).sum()) - bad
            if not block:
                return letters, spoilt


def mark_length(path: Path) -> int:
    """Bytes of the byte order mark that a file starts with."""
    with path.open("rb") as file:
        head = file.read(4)
    return next((len(mark) for mark, _ in _MARKS if head.startswith(mark)), 0)


def check_utf8(path: Path, name: str) -> None:
    """Refuse text that is no UTF-8 or holds NUL bytes. Raises UnreadableFileError with the place."""
    decoder = codecs.getincrementaldecoder("utf-8")()
    before = 0
    with path.open("rb") as file:
        try:
            while block := file.read(_BLOCK):
                if b"\0" in block:
                    at = before + block.index(b"\0") + 1
                    raise UnreadableFileError(
                        name,
                        f"it holds NUL bytes (the first is byte {at:,}), so it is no delimited text.",
                        "Save it as CSV (UTF-8).",
                    )
                decoder.decode(block)
                before += len(block)
            decoder.decode(b"", final=True)
        except UnicodeDecodeError as error:
            raise UnreadableFileError(
                name, f"it cannot be read as UTF-8 text (about byte {before + error.start + 1:,}).", "Choose another encoding."
            ) from error


def write_as_utf8(path: Path, encoding: str, place: Path, name: str) -> None:
    """Write a file's text anew as UTF-8, block by block. Raises UnreadableFileError."""
    making = place.with_name(f"{place.name}.making")
    try:
        with path.open("rb") as file, making.open("wb") as out:
            file.seek(mark_length(path))
            decoder = codecs.getincrementaldecoder(encoding)("replace" if encoding == "utf-8" else "strict")
            while block := file.read(_BLOCK):
                out.write(decoder.decode(block).encode())
            out.write(decoder.decode(b"", final=True).encode())
    except (UnicodeError, LookupError) as error:
        making.unlink(missing_ok=True)
        raise UnreadableFileError(name, f"it cannot be read as {encoding} text ({error}).", "Choose another encoding.") from error
    making.rename(place)
