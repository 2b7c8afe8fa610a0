"""Files as they are dropped: written where they are to be read from as they come, and not read by the application itself."""

from __future__ import annotations

import errno
import shutil
import tempfile
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, BinaryIO

from fastapi import HTTPException, Request
from python_multipart.exceptions import MultipartParseError
from python_multipart.multipart import MultipartParser, parse_options_header
from starlette.concurrency import run_in_threadpool
from starlette.requests import ClientDisconnect

from lofty_abacus.actions.errors import FullDiskError, RefusedError
from lofty_abacus.actions.intake.stage_files import MOST_FILES
from lofty_abacus.api.doors import MOST_UPLOAD

#: Bytes of a field that is no file.
MOST_FIELD = 10_000
#: The form of a drop, for the API's schema.
UPLOAD: dict[str, Any] = {
    "requestBody": {
        "required": True,
        "content": {
            "multipart/form-data": {
                "schema": {
                    "type": "object",
                    "required": ["ledger", "files"],
                    "properties": {
                        "ledger": {"type": "string"},
                        "files": {"type": "array", "items": {"type": "string", "format": "binary"}},
                    },
                }
            }
        },
    }
}


@dataclass
class Drop:
    """Files that came, in a folder of their own, and the ledger that they are for."""

    folder: Path
    ledger: str = ""
    files: list[tuple[str, Path]] = field(default_factory=list)

    def discard(self) -> None:
        """Throw away what is left of it."""
        shutil.rmtree(self.folder, ignore_errors=True)


class _Writer:
    """Writes the parts of a form as they come."""

    def __init__(self, drop: Drop, boundary: bytes) -> None:
        self._drop = drop
        self._name = self._value = self._field = b""
        self._part = ""
        self._headers: dict[bytes, bytes] = {}
        self._out: BinaryIO | None = None
        self._size = 0
        self._parser = MultipartParser(
            boundary,
            {
                "on_part_begin": self._begin,
                "on_header_field": self._header_name,
                "on_header_value": self._header_value,
                "on_header_end": self._header_end,
                "on_headers_finished": self._open,
                "on_part_data": self._data,
                "on_part_end": self._close,
            },
        )

    def write(self, piece: bytes) -> None:
        """Take another piece of the form."""
        self._size += len(piece)
        if self._size > MOST_UPLOAD:
            raise HTTPException(413, f"More than {MOST_UPLOAD >> 20:,} MB are too much at once: drop fewer files.")
        try:
            self._parser.write(piece)
        except MultipartParseError as error:
            raise HTTPException(400, "What was sent is no form of files.") from error
        except OSError as error:
            if error.errno != errno.ENOSPC:
                raise
            raise FullDiskError("the folder of files that are not posted yet", self._size) from error

    def _begin(self) -> None:
        self._headers, self._field = {}, b""

    def _header_name(self, data: bytes, start: int, end: int) -> None:
        self._name += data[start:end]

    def _header_value(self, data: bytes, start: int, end: int) -> None:
        self._value += data[start:end]

    def _header_end(self) -> None:
        self._headers[self._name.lower()] = self._value
        self._name = self._value = b""

    def _open(self) -> None:
        _, options = parse_options_header(self._headers.get(b"content-disposition", b""))
        self._part = options.get(b"name", b"").decode("utf-8", "replace")
        if b"filename" not in options:
            return
        if len(self._drop.files) >= MOST_FILES:
            raise RefusedError(f"More than {MOST_FILES} files at once are too many: drop fewer.")
        name = options[b"filename"].decode("utf-8", "replace").replace("\\", "/").rsplit("/", 1)[-1]
        name = "".join(sign if sign.isprintable() else " " for sign in name).strip()[:200]
        place = self._drop.folder / str(len(self._drop.files))
        self._drop.files.append((name or f"file {len(self._drop.files) + 1}", place))
        self._out = place.open("wb")

    def _data(self, data: bytes, start: int, end: int) -> None:
        if self._out is not None:
            self._out.write(memoryview(data)[start:end])
        elif len(self._field) < MOST_FIELD:
            self._field += data[start:end]

    def _close(self) -> None:
        self.close()
        if self._part == "ledger":
            self._drop.ledger = self._field.decode("utf-8", "replace")

    def close(self) -> None:
        """Close the file that is being written."""
        if self._out is not None:
            self._out.close()
            self._out = None


async def receive_drop(request: Request, staging: Path) -> Drop:
    """Receive files into a folder within the staging's. Raises HTTPException for what is no form of files, RefusedError."""
    kind, options = parse_options_header(request.headers.get("content-type", ""))
    if kind != b"multipart/form-data" or b"boundary" not in options:
        raise HTTPException(422, "Send a form (multipart/form-data) with a ledger and files.")
    drop = Drop(Path(await run_in_threadpool(tempfile.mkdtemp, prefix="drop-", dir=staging)))
    writer = _Writer(drop, options[b"boundary"])
    try:
        async for piece in request.stream():
            if piece:
                await run_in_threadpool(writer.write, piece)
        writer.close()
        if not drop.files or not drop.ledger:
            raise HTTPException(422, "The form has no file." if drop.ledger else "The form does not say for which ledger.")
    except ClientDisconnect as error:
        writer.close()
        drop.discard()
        raise HTTPException(400, "The files broke off on their way: drop them again.") from error
    except BaseException:
        writer.close()
        drop.discard()
        raise
    return drop
