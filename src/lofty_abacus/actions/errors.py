"""What can stop a person's request, each in a sentence that says what to do.

ActionError
├── NotFoundError        no such ledger, batch, staging (the asker's to mend)
├── NameTakenError       a name that exists already (the asker's to mend)
├── StoppedError         long work that somebody stopped; nothing was changed
├── RefusedError         a posting that the ledger's rules refuse; nothing was changed (the asker's to mend)
└── RecordsError         records could not be read or written (ours to mend)
    ├── UnreachableError     the database does not answer
    ├── NotReadyError        a ledger's lines are still being read
    └── FullDiskError        the disk has no room left (the machine's owner's to mend)
"""

from __future__ import annotations


class ActionError(Exception):
    """A request that could not be carried out."""


class NotFoundError(ActionError):
    """Something that does not exist."""


class NameTakenError(ActionError):
    """A name that is already used."""


class RefusedError(ActionError):
    """A posting that is refused; nothing was changed."""


class StoppedError(ActionError):
    """Work that was stopped on request; nothing was changed."""

    def __init__(self) -> None:
        super().__init__("Stopped as asked. Nothing was changed.")


class RecordsError(ActionError):
    """Records could not be read or written."""


class UnreachableError(RecordsError):
    """The database does not answer."""

    def __init__(self) -> None:
        super().__init__("The database is being started again; no posted line is lost. Ask again in a moment.")


class NotReadyError(RecordsError):
    """The lines of a ledger are being read for the first time since they were posted."""

    def __init__(self, ledger: str, lines: int) -> None:
        super().__init__(
            f"The {lines:,} lines of {ledger} are being read, as is done once after so many are posted. Ask again in a moment."
        )


class FullDiskError(RecordsError):
    """The disk is full. where: whose place it is that has no room; needed, free: bytes, where they are known."""

    def __init__(self, where: str, needed: int | None = None, free: int | None = None) -> None:
        room = f" has {free >> 20:,} MB left" if free is not None else " is full"
        wanted = f", and about {max(needed >> 20, 1):,} MB are needed" if needed is not None else ""
        super().__init__(f"The disk is full: {where}{room}{wanted}. Free some space, then try again. Nothing was changed.")


class BrokenOffError(ActionError):
    """The application ended while this ran."""

    def __init__(self) -> None:
        super().__init__(
            "The application ended while this ran. A posting is whole or not there at all: the versions of the ledger show which."
        )
