"""The built front end: its files, and its document at every address that is one of its pages."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from fastapi import FastAPI
from fastapi.responses import FileResponse, Response
from fastapi.staticfiles import StaticFiles

#: A file whose name holds a hash of its content never changes: no browser asks for it twice.
FOR_GOOD = "public, max-age=31536000, immutable"
#: The document names the files of this build: it is asked for each time.
EACH_TIME = "no-cache"
DOCUMENT = "index.html"
#: Bytes of a file that are read at once: the largest one whole, since each step costs a thread's turn.
AT_ONCE = 1 << 20


class HashedFiles(StaticFiles):
    """Files whose names change with their content."""

    def file_response(self, *args: Any, **named: Any) -> Response:
        """A file, to be kept for good."""
        response = super().file_response(*args, **named)
        if isinstance(response, FileResponse):
            response.chunk_size = AT_ONCE
        response.headers["Cache-Control"] = FOR_GOOD
        return response


def serve_front_end(app: FastAPI, folder: Path) -> None:
    """Every address that is no file and no part of the API is one of the front end's pages."""
    app.mount("/assets", HashedFiles(directory=folder / "assets"), name="assets")

    files = {path.relative_to(folder).as_posix(): path for path in folder.rglob("*") if path.is_file()}

    @app.get("/{page:path}", include_in_schema=False)
    def page(page: str) -> Response:
        if page in files and page != DOCUMENT:
            return FileResponse(files[page])
        return FileResponse(folder / DOCUMENT, headers={"Cache-Control": EACH_TIME})
