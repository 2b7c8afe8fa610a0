"""The records as statements need them."""

from __future__ import annotations

from typing import Protocol

from lofty_abacus.actions.records import (
    Kept,
    SavedStatement,
)


class StatementBooks(Protocol):
    """The records as statements need them: those that are kept, and short addresses."""

    def keep_link(self, number: str, address: str, by: str) -> None:
        """Keep an address under a short name."""
        ...

    def link(self, number: str) -> str | None:
        """The address under a short name; None where there is none."""
        ...

    def take_back_statement(self, ledger_id: int, name: str) -> bool:
        """Keep a statement again that was forgotten; False where none of that name was."""
        ...

    def saved_statements(self, ledger_id: int) -> Kept[SavedStatement]:
        """A ledger's statements by folder and name."""
        ...

    def save_statement(self, ledger_id: int, saved: SavedStatement) -> int:
        """Keep a statement under its name, in place of the one before; its number. Raises NameTakenError."""
        ...

    def forget_statement(self, ledger_id: int, name: str) -> bool:
        """Keep a statement no more; False where there is none of that name."""
        ...
