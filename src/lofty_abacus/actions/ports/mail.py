"""The way that mail takes, as actions see it."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import AbstractContextManager, contextmanager
from dataclasses import dataclass
from typing import Protocol


class MailError(Exception):
    """A message that was not handed over; the message says why."""


class MailAwayError(MailError):
    """The mail server cannot be reached now, or asks to come later: the message was not taken."""


class MailRefusedError(MailError):
    """The mail server will never take this message."""


class MailUnsureError(MailError):
    """The way broke off while the message was handed over: nobody knows whether it was taken."""


@dataclass(frozen=True)
class MailAbout:
    """What is known of the way. real: whether mail leaves this machine. place: where it goes, in words. sender: the address."""

    real: bool
    place: str
    sender: str


class MailSession(Protocol):
    """A connection to a mail server."""

    def send(self, address: str, message: bytes) -> None:
        """Hand a message over. Raises MailAwayError, MailRefusedError, MailUnsureError."""
        ...


class MailRoad(Protocol):
    """How mail is sent."""

    @property
    def about(self) -> MailAbout:
        """What is known of it."""
        ...

    def session(self) -> AbstractContextManager[MailSession]:
        """A connection, signed in. Raises MailAwayError."""
        ...


class NoMail:
    """No way at all: commands that send nothing need none."""

    about = MailAbout(False, "nowhere", "")

    @contextmanager
    def session(self) -> Iterator[MailSession]:
        """Refused. Raises MailAwayError."""
        raise MailAwayError("No mail is sent by this command.")
        yield
