"""A small mail server on loopback that keeps what comes as files: for the demo and for tests. Nothing leaves the machine."""

from __future__ import annotations

import os
import socket
from collections.abc import Iterator
from contextlib import contextmanager
from email import message_from_bytes
from pathlib import Path

from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session

_MOST_BYTES = 64 * 1024 * 1024


class _Keeper:
    def __init__(self, folder: Path) -> None:
        self._folder = folder

    async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:
        """Keep a message; one of the same id takes the place of the one before only if it is the same."""
        content = envelope.original_content or b""
        number = message_from_bytes(content)["Message-ID"] or "none"
        safe = "".join(each if each.isalnum() or each in "-." else "_" for each in number.strip("<>"))[:150]
        taken = len(list(self._folder.glob(f"{safe}*.eml")))
        path = self._folder / f"{safe}{f'.{taken}' if taken else ''}.eml"
        beside = path.with_suffix(f".{os.getpid()}.part")
        beside.write_bytes(content)
        beside.replace(path)
        return "250 kept"


@contextmanager
def catching(folder: Path, port: int = 0) -> Iterator[int]:
    """Catch mail into a folder meanwhile; the port on loopback at which it is caught."""
    folder.mkdir(parents=True, exist_ok=True)
    place = port or _free_port()
    controller = Controller(_Keeper(folder), hostname="127.0.0.1", port=place, data_size_limit=_MOST_BYTES)
    controller.start()
    try:
        yield place
    finally:
        controller.stop()


def _free_port() -> int:
    """A port that nobody uses; the library wants to know it before."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])
