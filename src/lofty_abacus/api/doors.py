"""What stands before every request: where it comes from, how large it is, and what its text holds; what every answer tells a
browser."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import asdict
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from lofty_abacus.api.journal import LONGEST, note
from lofty_abacus.api.shapes import Failure

#: Characters of an address with its query, bytes of what is sent beside files, and of the files of one drop.
MOST_ADDRESS = 8_000
MOST_BODY = 2 << 20
MOST_UPLOAD = 4 << 30
_SAFE = ("GET", "HEAD", "OPTIONS")
#: Scripts come from this address alone, and none stands within a page; nobody may put the pages into a frame.
_POLICY = (
    "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self' data:;"
    " connect-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)
HEADERS = {
    "Content-Security-Policy": _POLICY,
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "no-referrer",
    "Cross-Origin-Opener-Policy": "same-origin",
}


_FRAMED = "frame-ancestors 'self'"
FRAMED_HEADERS = {"X-Frame-Options": "SAMEORIGIN"}


class Doors:
    """Refuses what another site sends, what is too large, and text that no field can hold; adds the headers."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let a request through, or refuse it."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return

        async def sending(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                # A rendering that is shown within one of our pages has a stricter policy of its own.
                framed = _FRAMED in headers.get("Content-Security-Policy", "")
                for name, value in (HEADERS | FRAMED_HEADERS if framed else HEADERS).items():
                    headers[name] = value if name != "Content-Security-Policy" or not framed else headers[name]
                if scope["path"].startswith("/api/") and not framed:
                    headers["Cache-Control"] = "no-store"
            await send(message)

        refusal, body = _refusal(scope), b""
        if refusal is None and scope["method"] not in _SAFE and not _is_upload(scope):
            body, refusal = await _read(receive)
            refusal = refusal or _text_refusal(body, scope)
            receive = _again(body, receive)
        if refusal is None:
            await self._app(scope, receive, sending)
        else:
            await JSONResponse(asdict(refusal[1]), refusal[0])(scope, receive, sending)


Refusal = tuple[int, Failure]


def _refusal(scope: Scope) -> Refusal | None:
    """Why a request is refused before it is read."""
    headers = Headers(scope=scope)
    query: bytes = scope["query_string"]
    length = len(scope.get("raw_path") or scope["path"].encode()) + len(query)
    if length > MOST_ADDRESS:
        said = (
            f"This address has {length:,} characters, and at most {MOST_ADDRESS:,} are read: ask with less, or by a short link."
        )
        return 414, Failure("form", said)
    if "\0" in scope["path"] or b"%00" in query or not _is_text(scope["path"]):
        return 422, Failure("form", "The address holds signs that are no text.")
    if scope["method"] in _SAFE:
        return None
    if not _is_ours(headers):
        return 403, Failure("refused", "Another site sent this: what changes something is taken from these pages only.")
    sent = headers.get("content-length", "")
    if _is_upload(scope) and sent.isdigit() and int(sent) > MOST_UPLOAD:
        said = f"{int(sent) >> 20:,} MB are too much at once: drop at most {MOST_UPLOAD >> 20:,} MB, or pack the files (gzip)."
        return 413, Failure("form", said)
    return None


def _is_ours(headers: Headers) -> bool:
    """Whether a request comes from our own pages, or from a program that is no browser (it names no site)."""
    site, origin = headers.get("sec-fetch-site"), headers.get("origin")
    if site is not None and site not in ("same-origin", "none"):
        return False
    return origin is None or urlsplit(origin).netloc == headers.get("host")


def _is_upload(scope: Scope) -> bool:
    return Headers(scope=scope).get("content-type", "").startswith("multipart/form-data")


async def _read(receive: Receive) -> tuple[bytes, Refusal | None]:
    """What is sent beside files, up to its bound."""
    parts: list[bytes] = []
    size = 0
    while True:
        message = await receive()
        if message["type"] == "http.disconnect":
            return b"", (400, Failure("form", "The request broke off."))
        part = message.get("body", b"")
        size += len(part)
        if size > MOST_BODY:
            said = f"What was sent has more than {MOST_BODY:,} bytes: name fewer members, rows or measures."
            return b"", (413, Failure("form", said))
        parts.append(part)
        if not message.get("more_body"):
            return b"".join(parts), None


def _again(body: bytes, receive: Receive) -> Receive:
    """Give what was read once more, then whatever comes after it."""
    given = False

    async def received() -> Message:
        nonlocal given
        if given:
            return await receive()
        given = True
        return {"type": "http.request", "body": body, "more_body": False}

    return received


def _text_refusal(body: bytes, scope: Scope) -> Refusal | None:
    """Why a body cannot be taken: NUL and halves of signs are no text, and what is nested too deeply or too long is no number."""
    if not body or "json" not in Headers(scope=scope).get("content-type", "json"):
        return None
    try:
        found = json.loads(body)
    except RecursionError:
        return 422, Failure("form", "What was sent is nested too deeply to be read.")
    except json.JSONDecodeError:
        return None  # told with its place by whoever reads the form
    except ValueError:
        return 422, Failure("form", "What was sent holds a number of too many digits.")
    if isinstance(found, dict) and isinstance(found.get("ledger"), str):
        note(ledger=found["ledger"][:LONGEST])
    if all(_is_text(text) for text in _texts(found)):
        return None
    return 422, Failure("form", "A text holds a NUL, or half of a sign that is written in two: no field can hold that.")


def _texts(found: object) -> Iterable[str]:
    waiting = [found]
    while waiting:
        each = waiting.pop()
        if isinstance(each, str):
            yield each
        elif isinstance(each, dict):
            waiting += [*each.keys(), *each.values()]
        elif isinstance(each, list):
            waiting += each


def _is_text(text: str) -> bool:
    return "\0" not in text and not any("\ud800" <= sign <= "\udfff" for sign in text)
