"""What versions are, remembered: asked of MariaDB again only when something else than lines was changed."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass
from threading import Lock

from sqlalchemy import Connection, Engine

from lofty_abacus.actions.errors import RecordsError
from lofty_abacus.actions.records import LedgerRecord
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.store.alone import Alone
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.ledgers import facts_at, ledger_named, stamped
from lofty_abacus.store.version_lines import Control, posted_control

#: Versions, over all ledgers, that are remembered.
MOST_KNOWN = 32


@dataclass(frozen=True)
class KnownVersion:
    """The facts of a version, and what its columns must hold."""

    facts: LedgerFacts
    control: Control


class KnownFacts:
    """By ledger, version and stamp, the least recently used forgotten first. Safe for several threads."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._known: OrderedDict[tuple[int, int, str], KnownVersion] = OrderedDict()
        self._alone = Alone()
        self._lock = Lock()

    def opened(self, name: str, version: int | None) -> tuple[LedgerRecord, KnownVersion]:
        """A ledger and what one of its versions is, the current one if None. Raises NotFoundError, RecordsError."""
        with transaction(self._engine) as connection:
            # As one transaction sees it: what is set meanwhile makes another stamp.
            stamp = stamped(connection, name)
            if stamp is None:
                # Says which there are.
                ledger_named(self._engine, name)
                raise RecordsError(f"The ledger {name!r} is being made or thrown away just now: try again in a moment.")
            return stamp[0], self._known_at(connection, *stamp, version)

    def facts(self, ledger_id: int, version: int | None) -> LedgerFacts:
        """The facts of a ledger's version, the current one if None. Raises NotFoundError."""
        with transaction(self._engine) as connection:
            stamp = stamped(connection, ledger_id)
            return facts_at(connection, ledger_id) if stamp is None else self._known_at(connection, *stamp, version).facts

    def _known_at(self, connection: Connection, record: LedgerRecord, stamp: str, version: int | None) -> KnownVersion:
        at = record.version if version is None else version
        key = (record.id, at, stamp)
        found = self._find(key)
        if found is None:
            # Whoever asks at once for a version that was just made waits for the first of them.
            with self._alone.holding(key):
                found = self._find(key)
                if found is None:
                    found = KnownVersion(facts_at(connection, record.id, at), posted_control(connection, record.id, at))
                    self._keep(key, found)
        return found

    def _find(self, key: tuple[int, int, str]) -> KnownVersion | None:
        with self._lock:
            found = self._known.get(key)
            if found is not None:
                self._known.move_to_end(key)
            return found

    def _keep(self, key: tuple[int, int, str], found: KnownVersion) -> None:
        with self._lock:
            self._known[key] = found
            while len(self._known) > MOST_KNOWN:
                self._known.popitem(last=False)
