"""What can go wrong with records, in our own words.

    StoreError
    ├── NotFoundError        no such ledger, batch, staging
    ├── NameTakenError       a name that exists already
    ├── RefusedError         a posting that the ledger's rules refuse; nothing was changed
    └── UnreachableError     MariaDB does not answer
"""

from __future__ import annotations


class StoreError(Exception):
    """Records could not be read or written."""


class NotFoundError(StoreError):
    """Something that does not exist."""


class NameTakenError(StoreError):
    """A name that is already used."""


class RefusedError(StoreError):
    """A posting that is refused; nothing was changed."""


class UnreachableError(StoreError):
    """MariaDB does not answer."""

    def __init__(self) -> None:
        super().__init__("The database does not answer: start the application again; no posted line is lost.")
