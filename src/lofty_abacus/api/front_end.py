"""The built front end: its files, read and packed once, and its document at every address that is one of its pages."""

from __future__ import annotations

import gzip
import mimetypes
from dataclasses import dataclass
from pathlib import Path

from fastapi import FastAPI, Request
from fastapi.responses import Response
from starlette.concurrency import run_in_threadpool
from starlette.exceptions import HTTPException

#: What is worth packing, and from how many bytes on.
_TEXTS = ("text/", "application/javascript", "application/json", "image/svg+xml")
_LEAST_PACKED = 2_000
#: A file whose name holds a hash of its content never changes: no browser asks for it twice.
FOR_GOOD = "public, max-age=31536000, immutable"
#: The document names the files of this build: it is asked for each time.
EACH_TIME = "no-cache"
DOCUMENT = "index.html"
HASHED = "assets/"


@dataclass(frozen=True)
class _File:
    """A file as it is sent: packed where that is worth it."""

    content: bytes
    packed: bytes | None
    media_type: str


class FrontEnd:
    """The files of a folder by their names."""

    def __init__(self, folder: Path) -> None:
        self._paths = {path.relative_to(folder).as_posix(): path for path in folder.rglob("*") if path.is_file()}
        self._read: dict[str, _File] = {}

    async def answer(self, name: str, request: Request) -> Response:
        """A file; the document for whatever is no file. Raises HTTPException (404) for a file of another build."""
        if name.startswith(HASHED) and name not in self._paths:
            raise HTTPException(404, "There is no such file in this build: load the page again.")
        name = name if name in self._paths else DOCUMENT
        file = self._read.get(name)
        if file is None:
            file = self._read[name] = await run_in_threadpool(_read, self._paths[name])
        headers = {"Cache-Control": FOR_GOOD if name.startswith(HASHED) else EACH_TIME, "Vary": "Accept-Encoding"}
        if file.packed is not None and "gzip" in request.headers.get("Accept-Encoding", ""):
            return Response(file.packed, headers=headers | {"Content-Encoding": "gzip"}, media_type=file.media_type)
        return Response(file.content, headers=headers, media_type=file.media_type)


def _read(path: Path) -> _File:
    content = path.read_bytes()
    media_type = mimetypes.guess_type(path.name)[0] or "application/octet-stream"
    packs = media_type.startswith(_TEXTS) and len(content) >= _LEAST_PACKED
    return _File(content, gzip.compress(content, 6) if packs else None, media_type)


def serve_front_end(app: FastAPI, folder: Path) -> None:
    """Every address that is no part of the API is a file of the front end, or one of its pages."""
    front_end = FrontEnd(folder)

    @app.api_route("/{page:path}", methods=["GET", "HEAD"], include_in_schema=False)
    async def page(page: str, request: Request) -> Response:
        return await front_end.answer(page, request)
