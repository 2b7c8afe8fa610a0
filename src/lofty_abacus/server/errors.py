"""What can go wrong around the private MariaDB; each is one clear sentence.

ServerError
├── MissingProgramError    a program is not installed
├── FolderError            a folder cannot be written, or the disk is full
└── NoStartError           MariaDB ended or did not answer
"""

from __future__ import annotations


class ServerError(Exception):
    """The private MariaDB cannot be used."""


class MissingProgramError(ServerError):
    """A program that is needed is not installed."""

    def __init__(self, program: str) -> None:
        super().__init__(f"{program} is not installed: install Debian's package mariadb-server.")


class FolderError(ServerError):
    """A folder that cannot be used."""


class NoStartError(ServerError):
    """MariaDB did not start."""
