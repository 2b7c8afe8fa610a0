"""Open a ledger version's lines: segments verified, made where there are none, checked against MariaDB, shared by all who ask."""

from __future__ import annotations

import logging
import zlib
from collections import OrderedDict
from collections.abc import Collection, Iterator, Mapping, Sequence
from concurrent.futures import Future, ThreadPoolExecutor, wait
from dataclasses import dataclass, field
from pathlib import Path
from threading import Lock
from typing import Any

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import Engine

from lofty_abacus.actions.errors import RecordsError
from lofty_abacus.core.grouping.blocks import Workers
from lofty_abacus.core.grouping.source import ColumnsSource
from lofty_abacus.core.lines import DayColumn, DimensionColumn, Figure, Level, LineColumns, Members, dated_codes
from lofty_abacus.core.segments import Segments, segments_of, small_ones_joined
from lofty_abacus.store.alone import Alone
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.level_columns import level_steps, narrow
from lofty_abacus.store.level_entries import KnownLevels
from lofty_abacus.store.members import members_of
from lofty_abacus.store.segment_build import MOST_MERGED, merge_segments, read_segments
from lofty_abacus.store.segment_files import (
    OWN,
    OWN_DAY,
    Arrays,
    Manifest,
    clear_unfinished,
    exact_sum,
    figure_names,
    is_whole,
    kept_or_made,
    mapped,
    segments_in,
    throw_away,
)
from lofty_abacus.store.version_lines import Control, IdRanges, VersionLines, uncovered, version_lines

_log = logging.getLogger(__name__)
#: Ledgers of which a version is opened while an earlier one is read.
OPENED_AT_ONCE = 4
#: Versions held open in memory, over all ledgers.
MOST_OPEN = 8
#: Sizes of a dimension or level of which the members are kept.
MOST_NAMED = 3
#: So many segments of about one size are put together.
ALIKE = 8
#: How many times larger the segments of one size are than those of the next smaller.
STEP = 8
#: Flags of lines that do not count, and members of levels whose lines change theirs, that are kept ready for a segment.
MOST_FLAGS, MOST_DATED = 4, 8


@dataclass(eq=False)
class _Held:
    """A segment that was verified and is mapped, with what was found out about its lines."""

    folder: Path
    manifest: Manifest
    arrays: Arrays
    remembered: dict[str, Any] = field(default_factory=dict)
    dated: OrderedDict[str, NDArray[Any]] = field(default_factory=OrderedDict)
    flags: OrderedDict[object, NDArray[np.uint8] | None] = field(default_factory=OrderedDict)


@dataclass(frozen=True)
class _Open:
    """A version that can be asked, and the segments that it stands on."""

    held: tuple[_Held, ...]
    source: ColumnsSource


class ColumnsCache:
    """Sources by ledger and version. Safe for several threads: what is read for one ledger stops no other."""

    def __init__(self, engine: Engine, url: str, folder: Path, workers: Workers) -> None:
        self._engine = engine
        self._url = url
        self._folder = folder
        self._workers = workers
        self._open: OrderedDict[tuple[int, Control], _Open] = OrderedDict()
        self._held: dict[Path, _Held] = {}
        #: Members by dimension, size and the last lookup that may have named them.
        self._named: OrderedDict[tuple[int, int, int], Members] = OrderedDict()
        self._levels = KnownLevels()
        #: Whoever reads, makes or throws away segments of a ledger does so alone; other ledgers go on.
        self._alone = Alone()
        self._lock = Lock()
        self._closing = False
        self._merging = ThreadPoolExecutor(1, thread_name_prefix="segments")
        self._openers = ThreadPoolExecutor(OPENED_AT_ONCE, thread_name_prefix="opening")
        self._opening: dict[tuple[int, Control], Future[None]] = {}

    def close(self) -> None:
        """Begin nothing more in the background; a segment that is being read or put together is left to its end."""
        self._closing = True
        for each in (self._openers, self._merging):
            each.shutdown(wait=True, cancel_futures=True)

    def _go_on(self) -> None:
        if self._closing:
            raise RecordsError("The application is ending: lines that were not read yet are read at its next start.")

    def source(self, ledger_id: int, control: Control) -> ColumnsSource:
        """The lines of a version. Raises RecordsError where they will not agree with what they must come to."""
        key = (ledger_id, control)
        found = self._known(key)
        if found is None:
            with self._alone.holding(ledger_id):
                found = self._known(key)
                if found is None:
                    found = self._opened(ledger_id, control)
                    with self._lock:
                        self._open[key] = found
                        self._make_room(key)
                    self._settle(ledger_id, control.version)
        return found.source

    def at_hand(self, ledger_id: int, control: Control) -> ColumnsSource | None:
        """The lines of a version, if it is open."""
        found = self._known((ledger_id, control))
        return None if found is None else found.source

    def part(self, ledger_id: int, control: Control, without: Collection[int]) -> ColumnsSource:
        """The lines of a version without some of the batches that came with it: kept by nobody. Raises RecordsError."""
        self.source(ledger_id, control)
        with self._alone.holding(ledger_id):
            opened = self._known((ledger_id, control)) or self._opened(ledger_id, control)
            with transaction(self._engine) as connection:
                lines = version_lines(connection, ledger_id, control.version, self._levels, without)
            return ColumnsSource(small_ones_joined(self._assembled(opened.held, lines)), workers=self._workers)

    def _make_room(self, kept: tuple[int, Control]) -> None:
        """Let go of versions that were used longest ago, earlier ones first: whoever looks back takes nobody the newest."""
        while len(self._open) > MOST_OPEN:
            newest: dict[int, int] = {}
            for number, control in self._open:
                newest[number] = max(newest.get(number, 0), control.version)
            others = [each for each in self._open if each != kept]
            del self._open[next((each for each in others if each[1].version < newest[each[0]]), others[0])]

    def opens_within(self, ledger_id: int, control: Control, seconds: float) -> bool:
        """Whether a version can be asked, at once or after so many seconds; its opening goes on beside all else."""
        key = (ledger_id, control)
        with self._lock:
            if key in self._open:
                return True
            opening = self._opening.get(key)
            if opening is None:
                opening = self._opening[key] = self._openers.submit(self._open_aside, ledger_id, control)
        return bool(wait((opening,), seconds).done)

    def latest_open(self, ledger_id: int) -> Control | None:
        """The newest version of a ledger that can be asked at once."""
        with self._lock:
            found = [control for number, control in self._open if number == ledger_id]
        return max(found, key=lambda each: each.version, default=None)

    def _open_aside(self, ledger_id: int, control: Control) -> None:
        try:
            self.source(ledger_id, control)
        except Exception:
            # Whoever asks next meets it, and is told.
            _log.warning("version %s of ledger %s was not opened", control.version, ledger_id, exc_info=True)
        finally:
            with self._lock:
                self._opening.pop((ledger_id, control), None)

    def _known(self, key: tuple[int, Control]) -> _Open | None:
        with self._lock:
            if key in self._open:
                self._open.move_to_end(key)
            return self._open.get(key)

    def verify(self, ledger_id: int | None = None) -> int:
        """Read the files of what is open (of one ledger, or of all) again; how many segments were changed under us.

        They are made anew when a version that stands on them is next asked for.
        """
        with self._lock:
            looked_at = [each for each in self._held.values() if ledger_id in (None, each.manifest.ledger_id)]
        spoilt = [each for each in looked_at if not is_whole(each.folder, each.manifest)]
        for each in spoilt:
            with self._alone.holding(each.manifest.ledger_id):
                self._drop(each)
            _log.error("the columns in %s were changed by something else: they are made anew", each.folder.name)
        return len(spoilt)

    def _drop(self, held: _Held) -> None:
        with self._lock:
            for key in [key for key, each in self._open.items() if held in each.held]:
                del self._open[key]
            self._held.pop(held.folder, None)
        throw_away(held.folder)

    def forget(self, ledger_id: int) -> None:
        """Throw all columns of a ledger away."""
        with self._lock:
            for key in [key for key in self._open if key[0] == ledger_id]:
                del self._open[key]
            self._held = {path: each for path, each in self._held.items() if each.manifest.ledger_id != ledger_id}
            self._named.clear()
        throw_away(self._home(ledger_id))

    def _home(self, ledger_id: int) -> Path:
        return self._folder / f"ledger-{ledger_id}"

    def _opened(self, ledger_id: int, control: Control) -> _Open:
        home = self._home(ledger_id)
        if home.exists() and not home.is_dir():
            throw_away(home)
        with transaction(self._engine) as connection:
            lines = version_lines(connection, ledger_id, control.version, self._levels)
        for attempt in ("with what is there", "made anew"):
            held = self._segments(ledger_id, lines, home)
            segments = self._assembled(held, lines)
            total = sum(_counted_amount(each, part) for each, part in zip(held, segments, strict=True)) if held else 0
            if (len(segments), str(total), lines.control.scales) == (control.lines, control.amount, control.scales):
                return _Open(tuple(held), ColumnsSource(small_ones_joined(segments), workers=self._workers))
            _log.warning("the columns of ledger %s do not agree with its record, %s", ledger_id, attempt)
            for each in held:
                self._drop(each)
        raise RecordsError(
            f"The lines of ledger {ledger_id} do not agree with its batches: {len(segments)} lines of"
            f" {total} minor units, and the batches say {control.lines} lines of {control.amount}."
        )

    def _segments(self, ledger_id: int, lines: VersionLines, home: Path) -> list[_Held]:
        """The segments that a version stands on, the large ones first; what none holds is read."""
        held = self._chosen(lines, home)
        missing = uncovered(lines.counting, [hold for each in held for hold in each.manifest.holds])
        if missing:
            _log.info("reading %s lines of ledger %s", sum(each.size for each in missing), ledger_id)
            read_segments(self._url, ledger_id, lines, missing, home, self._go_on)
            held = self._chosen(lines, home)
        return held

    def _chosen(self, lines: VersionLines, home: Path) -> list[_Held]:
        found: list[_Held] = []
        taken, counting = IdRanges(()), IdRanges(lines.counting)
        usable = [(path, each) for path, each in segments_in(home).items() if _fits(each, lines)]
        for path, manifest in sorted(usable, key=lambda each: (-each[1].rows, each[0].name)):
            mine = manifest.holds
            # It brings lines that count, and none that are there.
            if not any(map(taken.meets, mine)) and any(map(counting.meets, mine)):
                held = self._hold(path, manifest)
                if held is not None:
                    found.append(held)
                    taken = taken.also(mine)
        return found

    def _hold(self, path: Path, manifest: Manifest) -> _Held | None:
        """A segment that is whole, mapped; one that is not is thrown away."""
        with self._lock:
            held = self._held.get(path)
        if held is not None and held.manifest == manifest and path.is_dir():
            return held
        if not is_whole(path, manifest):
            throw_away(path)
            return None
        try:
            held = _Held(path, manifest, mapped(path, manifest))
        except (OSError, ValueError):
            return None
        with self._lock:
            self._held[path] = held
        return held

    def _assembled(self, held: Sequence[_Held], lines: VersionLines) -> Segments:
        members = {name: self._members(name, lines) for name in lines.sizes}
        own = {each.name: members[each.name] for _, each in lines.own}
        steps = {name: level_steps(each.history, lines.sizes[each.of], lines.sizes[name]) for name, each in lines.levels.items()}
        parts = [_columns(each, lines, members, steps) for each in held] or [_empty(lines, members, steps)]
        return segments_of(parts, own)

    def _members(self, name: str, lines: VersionLines) -> Members:
        """The members of a dimension: versions with the same ones share them, and those with more read only the further ones."""
        size, number = lines.sizes[name], lines.ids[name]
        with self._lock:
            found = self._named.pop((number, size, lines.named), None)
            alike = [each for (other, _, named), each in self._named.items() if (other, named) == (number, lines.named)]
        before = max((each for each in alike if each.size < size and each.known), key=lambda each: each.size, default=None)
        keys, labels = (before.known if before else None) or ([], [])

        def load() -> tuple[list[str | None], list[str]]:
            with transaction(self._engine) as connection:
                further = members_of(connection, number, size, len(keys))
            return [*keys, *further[0]], [*labels, *further[1]]

        found = found or (before.extended(size, load) if before else Members(size, load))
        with self._lock:
            self._named[number, size, lines.named] = found
            mine = [each for each in self._named if each[0] == number]
            for key in mine[:-MOST_NAMED]:
                del self._named[key]
        return found

    def _settle(self, ledger_id: int, version: int) -> None:
        """After a version was opened: throw away what nothing needs any more, put small segments together beside all else."""
        with self._lock:
            versions = [key[1].version for key in self._open if key[0] == ledger_id]
            if version < max(versions):
                return
            used = {each for key, opened in self._open.items() if key[0] == ledger_id for each in opened.held}
            latest = next(opened for key, opened in self._open.items() if (key[0], key[1].version) == (ledger_id, version))
        holds = [hold for each in latest.held for hold in each.manifest.holds]
        clear_unfinished(self._home(ledger_id))
        for path, manifest in segments_in(self._home(ledger_id)).items():
            known = self._held.get(path)
            if known not in used and not uncovered(manifest.holds, holds):
                with self._lock:
                    self._held.pop(path, None)
                throw_away(path)
        if next(alike(latest.held), None):
            self._merging.submit(self._merge, ledger_id, latest)

    def _merge(self, ledger_id: int, latest: _Open) -> None:
        home = self._home(ledger_id)
        for some in alike(latest.held):
            if _overtaken(home, {each.folder: each.manifest for each in some}):
                # An earlier version had some of it put together meanwhile: the next one goes on from there.
                continue
            try:
                merge_segments(home, {each.folder: each.manifest for each in some}, dict(latest.source.segments.roles))
            except (OSError, ValueError):
                # They are thrown away meanwhile, or the disk is full: the next version tries again.
                _log.warning("segments of ledger %s could not be put together", ledger_id, exc_info=True)


def _overtaken(home: Path, parts: Mapping[Path, Manifest]) -> bool:
    """Whether another segment has all lines of one of some."""
    others = [each.holds for path, each in segments_in(home).items() if path not in parts]
    return any(not uncovered(each.holds, holds) for each in parts.values() for holds in others)


def alike(held: Sequence[_Held]) -> Iterator[list[_Held]]:
    """Segments of about one size, wherever there are so many that they are better one."""
    sizes: dict[int, list[_Held]] = {}
    for each in held:
        size, rows = 0, each.manifest.rows
        while rows >= STEP:
            size, rows = size + 1, rows // STEP
        # The smallest are all alike: a segment of ten lines costs as much as one of a thousand.
        sizes.setdefault(max(size, 3), []).append(each)
    for some in sizes.values():
        some.sort(key=lambda each: each.manifest.holds)
        while len(some) >= ALIKE:
            lot: list[_Held] = []
            while some and sum(each.manifest.rows for each in (*lot, some[0])) <= MOST_MERGED:
                lot.append(some.pop(0))
            if len(lot) < 2:
                break
            yield lot


def _fits(manifest: Manifest, lines: VersionLines) -> bool:
    """Whether a segment is of the record as it is: of the same batches, with the same decimals."""
    decimals = {each.name: each.decimals for each in lines.columns}
    return (
        manifest.scales == lines.control.scales
        and all(lines.marks.get(int(batch)) == mark for batch, mark in manifest.marks.items())
        and all(decimals.get(name) == each for name, each in manifest.figures.items())
    )


def _columns(
    held: _Held,
    lines: VersionLines,
    members: Mapping[str, Members],
    steps: Mapping[str, tuple[NDArray[np.int32], NDArray[np.int32] | None]],
) -> LineColumns:
    """A segment as the version reads it."""
    arrays, manifest = held.arrays, held.manifest
    named = {number: name for name, number in manifest.dimensions.items()}
    codes: dict[str, Any] = {each.name: arrays[f"code-{named[number]}"] for number, each in lines.own if number in named}
    dimensions = {name: DimensionColumn(values, members[name]) for name, values in codes.items()}
    levels = {}
    for name, level in lines.levels.items():
        mapping, changes = steps[name]
        found = None if changes is None else _dated(held, name, mapping, changes, codes.get(level.of), lines.sizes[name])
        levels[name] = Level(level.of, mapping, members[name], found, changes)
    return LineColumns(
        first_day=manifest.first_day,
        day=arrays["day"],
        side=arrays["side"],
        amount=arrays["amount"],
        line_id=arrays["line_id"],
        dimensions=dimensions,
        levels=levels,
        roles=lines.roles,
        figures={name.removeprefix(OWN): Figure(arrays[name], arrays.get(f"{name}_missing")) for name in figure_names(arrays)},
        days={name: DayColumn(first, arrays[f"{OWN_DAY}{name}"]) for name, first in manifest.days.items()},
        out=_flags(held, lines),
        largest={name.removeprefix(OWN): size for name, size in manifest.largest.items()},
        remembered=held.remembered.setdefault(lines.roles.get("order", ""), {}),
    )


def _dated(held: _Held, name: str, mapping: NDArray[np.int32], changes: NDArray[np.int32], codes: Any, size: int) -> NDArray[Any]:
    """The member of each line on its day, kept beside the segment under the content of the level's history."""
    arrays, first_day = held.arrays, held.manifest.first_day
    own = np.zeros(len(arrays["amount"]), np.uint8) if codes is None else codes
    mark = zlib.crc32(np.ascontiguousarray(changes).tobytes(), zlib.crc32(np.ascontiguousarray(mapping).tobytes()))

    def make() -> NDArray[Any]:
        days = arrays["day"].astype(np.int32) + first_day
        return dated_codes(mapping, changes, own, days).astype(narrow(size))

    kept = f"lines-{name}-{mark:08x}-{narrow(size).__name__}"
    # The same array for all versions: what was found out about it is found again by it.
    found: NDArray[Any] | None = held.dated.pop(kept, None)
    held.dated[kept] = kept_or_made(held.folder, kept, make) if found is None else found
    while len(held.dated) > MOST_DATED:
        held.dated.popitem(last=False)
    return held.dated[kept]


def _flags(held: _Held, lines: VersionLines) -> NDArray[np.uint8] | None:
    """Flags of the lines that do not count, the last ones kept ready."""
    manifest = held.manifest
    key = lines.out_key(manifest.holds)
    if key not in held.flags:
        held.flags[key] = lines.out_of(manifest.holds, held.arrays, manifest.first_day)
        while len(held.flags) > MOST_FLAGS:
            held.flags.popitem(last=False)
    held.flags.move_to_end(key)
    return held.flags[key]


def _counted_amount(held: _Held, columns: LineColumns) -> int:
    whole = int(held.manifest.amount)
    return whole if columns.out is None else whole - exact_sum(columns.amount[np.flatnonzero(columns.out)])


def _empty(
    lines: VersionLines,
    members: Mapping[str, Members],
    steps: Mapping[str, tuple[NDArray[np.int32], NDArray[np.int32] | None]],
) -> LineColumns:
    """No lines at all."""
    none = np.zeros(0, np.uint8)
    return LineColumns(
        first_day=0,
        day=np.zeros(0, np.uint16),
        side=none,
        amount=np.zeros(0, np.int64),
        line_id=np.zeros(0, np.uint32),
        dimensions={each.name: DimensionColumn(none, members[each.name]) for _, each in lines.own},
        levels={
            name: Level(level.of, steps[name][0], members[name], None if steps[name][1] is None else none, steps[name][1])
            for name, level in lines.levels.items()
        },
        roles=lines.roles,
    )
