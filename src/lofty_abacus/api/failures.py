"""The one place that makes HTTP of errors."""

from __future__ import annotations

import logging
import secrets
from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from lofty_abacus.actions.errors import (
    ActionError,
    BrokenOffError,
    FullDiskError,
    NameTakenError,
    NotFoundError,
    NotReadyError,
    RecordsError,
    RefusedError,
    StoppedError,
    UnreachableError,
)
from lofty_abacus.api.asking import GoneError
from lofty_abacus.api.shapes import Failure, StatementKept, nested
from lofty_abacus.core.errors import QuestionError, said_part
from lofty_abacus.ingest.problems import MappingError, UnreadableFileError

#: Shapes that are one of several kinds: their names are steps on the way to a field that its reader never wrote.
_BRANCHES = frozenset(shape.__name__ for shape in nested(StatementKept)) | {"str"}

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
    (BrokenOffError, 409, "stopped"),
    (GoneError, 499, "stopped"),
    (UnreachableError, 503, "away"),
    (NotReadyError, 503, "away"),
    (FullDiskError, 507, "full"),
    (RecordsError, 500, "ours"),
)
#: What a field must be, by the kind of its reader's error.
_MUST: dict[str, str] = {
    "missing": "is missing",
    "extra_forbidden": "is no field that is known",
    "unexpected_keyword_argument": "is no field that is known",
    "bool_parsing": "must be true or false",
    "bool_type": "must be true or false",
    "int_parsing": "must be a whole number",
    "int_type": "must be a whole number",
    "int_from_float": "must be a whole number",
    "int_parsing_size": "is too large a number",
    "float_type": "must be a number",
    "string_type": "must be text",
    "string_unicode": "must be text",
    "tuple_type": "must be a list",
    "list_type": "must be a list",
    "dict_type": "must be an object",
    "mapping_type": "must be an object",
    "dataclass_type": "must be an object",
    "dataclass_exact_type": "must be an object",
    "date_type": "must be a day such as 2026-03-31",
    "date_parsing": "must be a day such as 2026-03-31",
    "date_from_datetime_parsing": "must be a day such as 2026-03-31",
    "date_from_datetime_inexact": "must be a day such as 2026-03-31",
    "json_invalid": "cannot be read as JSON",
    "recursion_loop": "is nested in itself",
}

_SAID = {"model": Failure}
#: The errors that routes give, in their real form.
RESPONSES: dict[int | str, dict[str, Any]] = {
    400: {**_SAID, "description": "What was sent cannot be read."},
    404: {**_SAID, "description": "There is no such ledger, statement, staging or address."},
    409: {**_SAID, "description": "Refused by a rule; nothing was changed."},
    422: {
        **_SAID,
        "description": "A field or a part of the statement makes no sense; `part` names it, `way_out` says what would.",
    },
    500: {**_SAID, "description": "Something went wrong on our side; the message has the number under which the log tells it."},
    503: {**_SAID, "description": "The database is being started again, or lines are being read: ask again in a moment."},
}


def failure_of(error: Exception) -> tuple[int, Failure]:
    """Status and body for an error. One that was not expected is in the log with its trace, under the number that is told."""
    for kind, status, name in STATUS:
        if isinstance(error, kind):
            if name == "ours":
                number = log_unexpected(error)
                return status, Failure(name, f"{error} (In the log under {number}.)")
            part = getattr(error, "part", None)
            return status, Failure(name, str(error), part, getattr(error, "way_out", None))
    number = log_unexpected(error)
    return 500, Failure("ours", f"Something went wrong on our side; it is in the log under {number}. Nothing was changed.")


def log_unexpected(error: Exception) -> str:
    """Write an error that was not expected into the log, with its trace; the number under which it stands there."""
    known: str | None = getattr(error, "number", None)
    if known:
        return known
    number = secrets.token_hex(4)
    # Asked for again (a job is looked at until its asker has seen its end), it is the same error under the same number.
    error.number = number  # type: ignore[attr-defined]
    _log.error("unexpected error (number %s)", number, exc_info=error, extra={"number": number})
    return number


def install(app: FastAPI) -> None:
    """Answer every error with a Failure."""

    def known(_: Request, error: Exception) -> JSONResponse:
        status, failure = failure_of(error)
        return JSONResponse(asdict(failure), status)

    def form(_: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, RequestValidationError)
        first = telling_error(error.errors())
        steps = [step for step in first["loc"] if step not in ("body", "query", "path", "header") and step not in _BRANCHES]
        part = ".".join(map(str, steps))
        place = "".join(f"[{step}]" if isinstance(step, int) else f".{step}" for step in steps).lstrip(".")
        status = 400 if first["type"] == "json_invalid" else 422
        return JSONResponse(asdict(Failure("form", f"{said_part(place) or 'The form'} {must(first)}.", part)), status)

    def http(_: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, HTTPException)
        failure = Failure("not_found" if error.status_code == 404 else "form", str(error.detail))
        return JSONResponse(asdict(failure), error.status_code, headers=error.headers)

    for kind in (ActionError, QuestionError, MappingError, UnreadableFileError):
        app.add_exception_handler(kind, known)
    app.add_exception_handler(RequestValidationError, form)
    app.add_exception_handler(HTTPException, http)


class Unexpected:
    """Answers what nobody expected with a Failure, while it is known of which request it is."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let a request through."""
        begun = False

        async def sending(message: Message) -> None:
            nonlocal begun
            begun = True
            await send(message)

        try:
            await self._app(scope, receive, sending)
        except Exception as error:  # whatever it is: the asker gets a sentence, the log the whole of it
            status, failure = failure_of(error)
            if not begun and scope["type"] == "http":
                await JSONResponse(asdict(failure), status)(scope, receive, send)


def must(error: Any) -> str:
    """What a field must be, as a sentence's end."""
    kind = error["type"]
    if kind == "literal_error":
        return f"must be one of {str(error['ctx']['expected']).replace(chr(39), '')}"
    if kind == "value_error":
        return f"makes no sense: {error['ctx']['error']}"
    return _MUST.get(kind, "cannot be read as it is written")


def telling_error(errors: Sequence[Any]) -> Any:
    """The error to be told: of a shape that is one of several kinds, the first of the kind that was meant by its `kind`."""
    other_kinds = {each["loc"][:-1] for each in errors if each["loc"][-1] == "kind" and each["type"] == "literal_error"}
    meant = [each for each in errors if not any(each["loc"][: len(place)] == place for place in other_kinds)]
    # A level that is a name or a level of time is told by what it looks like.
    written = [each for each in meant if not (each["loc"][-1] == "str" and isinstance(each.get("input"), dict))]
    unknown = [each for each in errors if each["loc"][-1] == "kind"]
    return (written or meant or unknown or errors)[0]
