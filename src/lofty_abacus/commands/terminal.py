"""What all commands say and heed in a terminal."""

from __future__ import annotations

import socket
import sys
import time
from pathlib import Path

import click

from lofty_abacus.actions.records import Progress
from lofty_abacus.settings import Settings, read_settings

ROOT = Path(__file__).resolve().parents[3]


def say(text: str) -> None:
    """A line beside what a command gives."""
    click.echo(f"  {text}", err=True)


def settings_here() -> Settings:
    """The settings of this place."""
    return read_settings(ROOT)


def refuse_taken(port: int) -> None:
    """Raises ClickException where another process listens on a port."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError as error:
            raise click.ClickException(
                f"Port {port} is taken: stop what uses it (another Lofty Abacus?), or give another with --port."
            ) from error


def progress() -> Progress:
    """Progress as a line now and then, so that a terminal or a log can follow it."""
    last = [0.0]

    def show(doing: str, done: int, total: int) -> None:
        heed()
        now = time.monotonic()
        if now - last[0] > 0.5:
            say(f"{doing}{f' ({done:,} of {total:,})' if total else ''}")
            last[0] = now

    return show


_told_to_end: list[int] = []


def end(received: int, _: object) -> None:
    """End as an exception, so that what was started is stopped on the way out."""
    _told_to_end.append(received)
    sys.exit(128 + received)


def heed() -> None:
    """End now if it was told before: an exception that comes within a callback of a library is dropped there."""
    if _told_to_end:
        sys.exit(128 + _told_to_end[0])
