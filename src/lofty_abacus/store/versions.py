"""The journal of a ledger's versions: what each holds, who made it and how."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from sqlalchemy import Connection, select

from lofty_abacus.actions.errors import RecordsError
from lofty_abacus.store.signed import Signed
from lofty_abacus.store.tables import ledger, ledger_version

LONGEST_WHAT = 400


@dataclass(frozen=True)
class Held:
    """Lines that count, and their exact net total."""

    lines: int
    amount: Decimal

    def __add__(self, other: Held) -> Held:
        return Held(self.lines + other.lines, self.amount + other.amount)

    def __sub__(self, other: Held) -> Held:
        return Held(self.lines - other.lines, self.amount - other.amount)


NOTHING = Held(0, Decimal(0))


def held_at(connection: Connection, ledger_id: int, version: int) -> Held:
    """What a version holds by the journal. Raises RecordsError where the journal does not know it."""
    if version == 0:
        return NOTHING
    row = connection.execute(
        select(ledger_version.c.line_count, ledger_version.c.amount_total).where(
            ledger_version.c.ledger_id == ledger_id, ledger_version.c.version == version
        )
    ).first()
    if row is None:
        raise RecordsError(f"The journal of ledger {ledger_id} knows no version {version}.")
    return Held(row[0], row[1])


def next_version(connection: Connection, ledger_id: int) -> int:
    """Lock the ledger for this transaction and give the version that it is to make."""
    version = connection.execute(select(ledger.c.version).where(ledger.c.id == ledger_id).with_for_update()).scalar_one()
    return int(version) + 1


def enter_version(connection: Connection, ledger_id: int, version: int, change: Held, signed: Signed, what: str) -> None:
    """Write a new version into the journal: what the one before held, and the change."""
    held = held_at(connection, ledger_id, version - 1) + change
    connection.execute(
        ledger_version.insert().values(
            ledger_id=ledger_id,
            version=version,
            line_count=held.lines,
            amount_total=held.amount,
            made_at=signed.at,
            made_by=signed.by,
            what=what[:LONGEST_WHAT],
        )
    )
    connection.execute(ledger.update().where(ledger.c.id == ledger_id).values(version=version))
