"""Open a ledger version's columns: verified against MariaDB, rebuilt when missing or wrong, shared by all who ask."""

from __future__ import annotations

import json
import logging
import re
from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from threading import Lock
from typing import Any

import numpy as np
from sqlalchemy import Engine

from lofty_abacus.actions.errors import RecordsError
from lofty_abacus.core.grouping.blocks import Workers
from lofty_abacus.core.grouping.source import ColumnsSource
from lofty_abacus.core.lines import DimensionColumn, Level, LineColumns, Members
from lofty_abacus.store.columns_build import FORM, Control, Manifest, build, checksum_of, throw_away
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.members import members_of

_log = logging.getLogger(__name__)
#: Versions held open in memory, over all ledgers, and kept as files per ledger.
MOST_OPEN = 8
MOST_KEPT = 3
_VERSION = re.compile(r"version-(\d+)")


@dataclass(frozen=True)
class _Open:
    """Columns that are mapped, and where from."""

    folder: Path
    source: ColumnsSource


class ColumnsCache:
    """Sources by ledger and version. Safe for several threads: a version is built once, and its building stops no other."""

    def __init__(self, engine: Engine, url: str, folder: Path, workers: Workers) -> None:
        self._engine = engine
        self._url = url
        self._folder = folder
        self._workers = workers
        self._open: OrderedDict[tuple[int, Control], _Open] = OrderedDict()
        #: Per ledger and version that is being built, or waited for: its lock, and how many hold or want it.
        self._building: dict[tuple[int, int], tuple[Lock, int]] = {}
        self._lock = Lock()

    def source(self, ledger_id: int, control: Control) -> ColumnsSource:
        """The lines of a version. Raises RecordsError where columns will not agree with what they must hold."""
        key = (ledger_id, control)
        found = self._known(key)
        if found is None:
            with self._alone(ledger_id, control.version):
                found = self._known(key)
                if found is None:
                    found = self._opened(ledger_id, control)
                    with self._lock:
                        self._open[key] = found
                        while len(self._open) > MOST_OPEN:
                            self._open.popitem(last=False)
        return found.source

    def _known(self, key: tuple[int, Control]) -> _Open | None:
        with self._lock:
            if key in self._open:
                self._open.move_to_end(key)
            return self._open.get(key)

    @contextmanager
    def _alone(self, ledger_id: int, version: int) -> Iterator[None]:
        """Whoever builds or throws away the columns of a version does so alone; other versions and ledgers go on."""
        key = (ledger_id, version)
        with self._lock:
            lock, wanted = self._building.get(key, (Lock(), 0))
            self._building[key] = (lock, wanted + 1)
        try:
            with lock:
                yield
        finally:
            with self._lock:
                lock, wanted = self._building[key]
                if wanted == 1:
                    del self._building[key]
                else:
                    self._building[key] = (lock, wanted - 1)

    def verify(self, ledger_id: int | None = None) -> int:
        """Read the files of what is open (of one ledger, or of all) again; how many versions were changed under us.

        They are made anew when they are next asked for.
        """
        with self._lock:
            looked_at = [(key, each) for key, each in self._open.items() if ledger_id in (None, key[0])]
        spoilt = [(key, each) for key, each in looked_at if verified(each.folder, key[1]) is None]
        for key, each in spoilt:
            with self._alone(key[0], key[1].version):
                with self._lock:
                    is_open = self._open.get(key) is each
                    if is_open:
                        del self._open[key]
                if is_open:
                    throw_away(each.folder)
            _log.error("the columns in %s were changed by something else: they are made anew", each.folder.name)
        return len(spoilt)

    def forget(self, ledger_id: int) -> None:
        """Throw all columns of a ledger away."""
        with self._lock:
            for key in [key for key in self._open if key[0] == ledger_id]:
                del self._open[key]
            throw_away(self._folder / f"ledger-{ledger_id}")

    def _opened(self, ledger_id: int, control: Control) -> _Open:
        home = self._folder / f"ledger-{ledger_id}"
        folder = home / f"version-{control.version}"
        manifest = verified(folder, control)
        if manifest is None:
            _log.info("building the columns of ledger %s, version %s", ledger_id, control.version)
            if home.exists() and not home.is_dir():
                throw_away(home)
            built = build(self._engine, self._url, ledger_id, control.version, folder)
            manifest = verified(folder, control)
            if manifest is None:
                raise RecordsError(
                    f"The lines of ledger {ledger_id} do not agree with its batches: {built.rows} lines of"
                    f" {built.amount} minor units, and the batches say {control.lines} lines of {control.amount}."
                )
            self._keep_few(ledger_id, home, control.version)
        columns = mapped_columns(folder, manifest, lambda name: self._members(name, manifest))
        return _Open(folder, ColumnsSource(columns, workers=self._workers))

    def _keep_few(self, ledger_id: int, home: Path, version: int) -> None:
        """The folder just made, those being made and those of the latest versions stay, whatever clocks say.

        What is mapped lives on anyway.
        """
        with self._lock:
            making = {at for of, at in self._building if of == ledger_id}
        numbers = {path: int(found[1]) for path in home.iterdir() if (found := _VERSION.fullmatch(path.name))}
        latest = sorted((number for number in numbers.values() if number != version), reverse=True)[: MOST_KEPT - 1]
        for path in home.iterdir():
            if numbers.get(path) not in {version, *latest, *making} and ".making-" not in path.name:
                throw_away(path)

    def _members(self, name: str, manifest: Manifest) -> Members:
        size, number = manifest.sizes[name], manifest.ids[name]

        def load() -> tuple[list[str | None], list[str]]:
            with transaction(self._engine) as connection:
                return members_of(connection, number, size)

        return Members(size, load)


def mapped_columns(folder: Path, manifest: Manifest, members: Callable[[str], Members]) -> LineColumns:
    """The columns of a folder, mapped: nothing is read until it is asked for."""
    return LineColumns(
        first_day=manifest.first_day,
        day=_mapped(folder, "day"),
        side=_mapped(folder, "side"),
        amount=_mapped(folder, "amount"),
        quantity=_mapped_if(folder, "quantity", manifest),
        cost=_mapped_if(folder, "cost", manifest),
        quantity_missing=_mapped_if(folder, "quantity_missing", manifest),
        cost_missing=_mapped_if(folder, "cost_missing", manifest),
        line_id=_mapped(folder, "line_id"),
        dimensions={
            name: DimensionColumn(_mapped(folder, f"code-{name}"), members(name))
            for name in manifest.sizes
            if name not in manifest.of
        },
        levels={
            name: Level(
                of,
                _mapped(folder, f"level-{name}"),
                members(name),
                _mapped_if(folder, f"lines-{name}", manifest),
                _mapped_if(folder, f"changes-{name}", manifest),
            )
            for name, of in manifest.of.items()
        },
        roles=manifest.roles,
    )


def verified(folder: Path, control: Control) -> Manifest | None:
    """The manifest, if the files are whole and agree with MariaDB's row count and control total."""
    try:
        manifest = Manifest(**json.loads((folder / "manifest.json").read_text()))
        if (
            manifest.form != FORM
            or Control(manifest.version, manifest.rows, manifest.amount, (manifest.scales[0], manifest.scales[1])) != control
        ):
            return None
        if any(checksum_of(folder / f"{name}.npy") != value for name, value in manifest.checksums.items()):
            return None
    except (OSError, ValueError, TypeError, EOFError):
        return None
    return manifest


def _mapped(folder: Path, name: str) -> Any:
    return np.asarray(np.load(folder / f"{name}.npy", mmap_mode="r"))


def _mapped_if(folder: Path, name: str, manifest: Manifest) -> Any:
    return _mapped(folder, name) if name in manifest.checksums else None
