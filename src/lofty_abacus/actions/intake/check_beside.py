"""Check files while their lines are being loaded: nothing of them counts before the check is through.

Loading takes several times as long as checking: where a check stops the posting, the smaller part is to be undone.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import suppress
from dataclasses import dataclass
from threading import Event
from types import TracebackType

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.intake.checks import StagingCheck
from lofty_abacus.actions.records import Progress
from lofty_abacus.core.money import MAX_SCALE
from lofty_abacus.ingest.lines_of_file import Handover, LinesOfFile
from lofty_abacus.ingest.problems import MappingError, UnreadableFileError
from lofty_abacus.ingest.staged import StagedLines
from lofty_abacus.ingest.tally import Tally

#: Pieces that the check lays down at most for those who load: some ten megabytes each.
MOST_LAID = 16


class NotAsPresumedError(Exception):
    """The check found files otherwise than their first pieces let expect: they are to be posted by what it found."""


class _NobodyWaitsError(Exception):
    """Raised in a check whose posting has ended."""


def refuse_unready(check: StagingCheck) -> None:
    """Raises RefusedError with the first sentence that stops a posting."""
    if not check.ready:
        first = next(each for each in check.files if each.blocking)
        raise RefusedError(f"{first.file}: {first.blocking[0]} Nothing was posted.")


class CheckBeside:
    """A check on a thread of its own, as long as this is entered.

    add_up: the lines of a file, added up, with pieces laid down for the loading. check: makes the check, once all are.
    presumed: what is loaded meanwhile, by file. found: told what it found, as soon as whoever loads hears of it.
    """

    def __init__(
        self,
        add_up: Callable[[int, Progress, Handover], LinesOfFile],
        check: Callable[[Progress], StagingCheck],
        presumed: Mapping[int, LinesOfFile],
        found: Callable[[StagingCheck], None],
    ) -> None:
        self._add_up, self._check, self._presumed, self._found = add_up, check, presumed, found
        self._handovers = {at: Handover(MOST_LAID) for at in presumed}
        self._loaded: dict[int, tuple[int, int]] = {}
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="check")
        self._ended = Event()
        self._told = False

    def __enter__(self) -> CheckBeside:
        self._checking: Future[_Checked] = self._pool.submit(self._checked)
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None) -> None:
        self._ended.set()
        self._pool.shutdown()

    def pieces(self, file: int) -> Iterator[StagedLines]:
        """The presumed lines of a file, as long as the check has nothing against them; the last of the last file wait for it.

        Raises RefusedError, NotAsPresumedError.
        """
        lines = nano = 0
        for piece in self._presumed[file].pieces(self._handovers[file]):
            # There is no room for decimals that nobody expected: the check, which meets them as well, is waited for.
            unexpected = _has_more_decimals(piece, self._presumed[file].tally)
            if (unexpected or self._checking.done()) and not self.hear():
                raise NotAsPresumedError
            lines, nano = lines + len(piece), nano + piece.amount.total * 10 ** (MAX_SCALE - piece.amount.scale)
            yield piece
        self._loaded[file] = lines, nano
        # What was loaded is held against what was checked before any of it counts.
        if file == max(self._presumed) and not (self.hear() and self._loaded == self._checking.result().totals):
            raise NotAsPresumedError

    def hear(self) -> bool:
        """Wait for the check, and tell what it found; whether the files are as presumed. Raises RefusedError."""
        checked = self._checking.result()
        if not self._told:
            self._told = True
            self._found(checked.check)
        refuse_unready(checked.check)
        return checked.as_presumed

    def _checked(self) -> _Checked:
        def go_on(doing: str, done: int, total: int) -> None:
            if self._ended.is_set():
                raise _NobodyWaitsError

        lines: dict[int, LinesOfFile] = {}
        # Of files that cannot be read the check says so itself.
        with suppress(MappingError, UnreadableFileError):
            for at in self._presumed:
                lines[at] = self._add_up(at, go_on, self._handovers[at])
        as_presumed = len(lines) == len(self._presumed) and all(_alike(self._presumed[at], each) for at, each in lines.items())
        return _Checked(self._check(go_on), as_presumed, {at: (each.tally.lines, each.tally.nano) for at, each in lines.items()})


@dataclass(frozen=True)
class _Checked:
    """A check, whether the files are as presumed, and how many lines with which amount (in units of 1e-9) each has."""

    check: StagingCheck
    as_presumed: bool
    totals: Mapping[int, tuple[int, int]]


def _alike(presumed: LinesOfFile, found: LinesOfFile) -> bool:
    """Whether a file gives the lines that were presumed, with the decimals that were prepared for."""
    mapping, tally = found.mapping, found.tally
    left_out = (tally.repeated.count and mapping.repeated == "leave_out") or (
        tally.identical.count and mapping.identical == "leave_out"
    )
    return not left_out and decimals_of(tally) == decimals_of(presumed.tally)


def _has_more_decimals(piece: StagedLines, presumed: Tally) -> bool:
    amount, quantity, own = decimals_of(presumed)
    numbers = [(piece.amount, amount), (piece.cost, amount), (piece.quantity, quantity)]
    numbers += [(each, own[name]) for name, each in piece.figures.items()]
    return any(each is not None and each.scale > scale for each, scale in numbers)


def decimals_of(tally: Tally) -> tuple[int, int, dict[str, int]]:
    """The decimals of amounts, of quantities, and of each figure of the ledger's own."""
    return tally.amount_scale, tally.quantity_scale, {name: each.scale for name, each in tally.own.items()}
