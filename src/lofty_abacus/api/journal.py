"""Every request with its number: who asked what of which ledger, how it ended, and how long it took."""

from __future__ import annotations

import logging
import secrets
import time
from contextvars import ContextVar
from typing import Any
from urllib.parse import parse_qs, unquote

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

#: A header of every answer: the number under which its request stands in the log.
NUMBER = "Lofty-Request"
#: A header with the name under which somebody posts, percent-encoded.
PERSON = "Lofty-Person"
LONGEST = 80

_log = logging.getLogger(__name__)
_about: ContextVar[dict[str, Any] | None] = ContextVar("about", default=None)


def about() -> dict[str, Any]:
    """What is known of the request that is worked on, empty outside of one: it stands beside everything that is logged."""
    return _about.get() or {}


def note(**known: Any) -> None:
    """Know more of the request that is worked on."""
    found = _about.get()
    if found is not None:
        found.update(known)


class Journal:
    """Gives each request of the API a number, and logs how it ended."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let a request through, and log it."""
        if scope["type"] != "http" or not scope["path"].startswith("/api/"):
            await self._app(scope, receive, send)
            return
        number, started, status = secrets.token_hex(4), time.perf_counter(), 0
        query = parse_qs(scope["query_string"].decode("latin-1"))
        known: dict[str, Any] = {"request": number}
        person = unquote(Headers(scope=scope).get(PERSON, ""))[:LONGEST]
        ledger = next(iter(query.get("ledger") or query.get("name") or []), "")[:LONGEST]
        known |= {name: value for name, value in (("person", person), ("ledger", ledger)) if value}
        # One and the same dictionary in all threads and tasks of the request: what they note is known when it has ended.
        token = _about.set(known)

        async def sending(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
                MutableHeaders(scope=message)[NUMBER] = number
            await send(message)

        try:
            await self._app(scope, receive, sending)
        finally:
            took = round((time.perf_counter() - started) * 1000, 1)
            extra = {"method": scope["method"], "path": scope["path"], "status": status, "milliseconds": took}
            _log.info("request", extra=extra)
            _about.reset(token)
