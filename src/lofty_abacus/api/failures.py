"""The one place that makes HTTP of errors."""

from __future__ import annotations

import logging
from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from lofty_abacus.actions.errors import (
    ActionError,
    NameTakenError,
    NotFoundError,
    RecordsError,
    RefusedError,
    StoppedError,
    UnreachableError,
)
from lofty_abacus.api.shapes import STRICT, Failure
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.ingest.problems import MappingError, UnreadableFileError

#: Shapes that are one of several kinds: their names are steps on the way to a field that its reader never wrote.
_BRANCHES = frozenset(shape.__name__ for shape in STRICT) | {"str"}

_log = logging.getLogger(__name__)

#: Status and kind by class; the first that fits counts.
STATUS: tuple[tuple[type[Exception], int, str], ...] = (
    (QuestionError, 422, "question"),
    (MappingError, 422, "mapping"),
    (UnreadableFileError, 422, "unreadable"),
    (NotFoundError, 404, "not_found"),
    (NameTakenError, 409, "taken"),
    (RefusedError, 409, "refused"),
    (StoppedError, 409, "stopped"),
    (UnreachableError, 503, "away"),
    (RecordsError, 500, "ours"),
)


def failure_of(error: Exception) -> tuple[int, Failure]:
    """Status and body for an error."""
    for kind, status, name in STATUS:
        if isinstance(error, kind):
            part = getattr(error, "part", None)
            return status, Failure(name, str(error), part, getattr(error, "way_out", None))
    return 500, Failure("ours", "Something went wrong on our side; it is in the log. Nothing was changed.")


def install(app: FastAPI) -> None:
    """Answer every error with a Failure."""

    def known(_: Request, error: Exception) -> JSONResponse:
        status, failure = failure_of(error)
        if status >= 500:
            _log.error("request failed", exc_info=error)
        return JSONResponse(asdict(failure), status)

    def form(_: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, RequestValidationError)
        first = telling_error(error.errors())
        part = ".".join(str(step) for step in first["loc"] if step != "body" and not _is_branch(step))
        return JSONResponse(asdict(Failure("form", f"{part}: {first['msg']}", part)), 422)

    def http(_: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, HTTPException)
        return JSONResponse(
            asdict(Failure("not_found" if error.status_code == 404 else "form", str(error.detail))), error.status_code
        )

    for kind in (ActionError, QuestionError, MappingError, UnreadableFileError, Exception):
        app.add_exception_handler(kind, known)
    app.add_exception_handler(RequestValidationError, form)
    app.add_exception_handler(HTTPException, http)


def _is_branch(step: object) -> bool:
    return step in _BRANCHES


def telling_error(errors: Sequence[Any]) -> Any:
    """The error to be told: of a shape that is one of several kinds, the first of the kind that was meant by its `kind`."""
    other_kinds = {each["loc"][:-1] for each in errors if each["loc"][-1] == "kind" and each["type"] == "literal_error"}
    meant = [each for each in errors if not any(each["loc"][: len(place)] == place for place in other_kinds)]
    # A level that is a name or a level of time is told by what it looks like.
    written = [each for each in meant if not (each["loc"][-1] == "str" and isinstance(each.get("input"), dict))]
    unknown = [each for each in errors if each["loc"][-1] == "kind"]
    return (written or meant or unknown or errors)[0]
