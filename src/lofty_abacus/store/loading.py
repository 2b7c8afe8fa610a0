"""Load what a posting writes over two connections side by side: MariaDB works for each on a core of its own.

The posting's own connection is in the transaction that makes the version. What the one beside it wrote is nobody's until that
transaction names it: members by how many there are, lines by their batch. It is committed just before (`settle`); where the
posting ends between the two, what was written beside counts nowhere, and whoever changes the ledger next clears it away.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from types import TracebackType

from sqlalchemy import Connection

from lofty_abacus.store import members
from lofty_abacus.store.line_ids import IdPiece, write_piece

#: Lines that MariaDB loads in the time of one new member.
LINES_A_MEMBER = 0.75


class _Lane:
    """One connection, used by one thread; work: how much was given to it to load, in lines."""

    def __init__(self, connection: Connection, name: str) -> None:
        self._connection = connection
        self.work = 0.0
        self._pool = ThreadPoolExecutor(1, thread_name_prefix=name)

    def submit(self, lines: float, do: Callable[[Connection], None]) -> Future[None]:
        """Have something done over the connection, after what was submitted before. lines: how many take as long."""
        self.work += lines
        return self._pool.submit(do, self._connection)

    def end(self) -> None:
        """Wait for everything that was submitted; nothing more is."""
        self._pool.shutdown()


class Loading:
    """The loading of one posting, as long as this is entered. Nobody else uses the connections while something is loaded."""

    def __init__(self, own: Connection, beside: Connection, asked: Connection) -> None:
        """own: the posting's. asked: one on which every statement is by itself, to look up what is committed."""
        self._own, self._beside = _Lane(own, "load"), _Lane(beside, "beside")
        self.asked = asked

    def __enter__(self) -> Loading:
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None) -> None:
        self._own.end()
        self._beside.end()

    def add_members(self, dimension_id: int, first: int, keys: Sequence[str]) -> Future[None]:
        """Rows for new members, with the codes from `first` on."""
        return self._beside.submit(
            len(keys) * LINES_A_MEMBER, lambda connection: members.add_members(connection, dimension_id, first, keys)
        )

    def add_lines(self, rows: int, load: Callable[[Connection], None]) -> Future[None]:
        """Lines, over the connection that was given less. load: loads them over a connection."""
        return min(self._own, self._beside, key=lambda lane: lane.work).submit(rows, load)

    def add_ids(self, piece: IdPiece) -> Future[None]:
        """The ids of some lines. They name their batch, which the posting's own connection alone sees."""
        return self._own.submit(0, lambda connection: write_piece(connection, piece))

    def settle(self) -> None:
        """Commit what was written beside, once all of it is: the posting's own connection sees it from now on."""
        self._beside.submit(0, lambda connection: connection.commit()).result()
