"""Open a ledger version's columns: verified against MariaDB, rebuilt when missing or wrong, shared by all who ask."""

from __future__ import annotations

import json
import logging
import shutil
from collections import OrderedDict
from collections.abc import Callable
from pathlib import Path
from threading import Lock
from typing import Any

import numpy as np
from sqlalchemy import Engine

from lofty_abacus.actions.errors import RecordsError
from lofty_abacus.core.grouping.source import ColumnsSource
from lofty_abacus.core.lines import DimensionColumn, Level, LineColumns, Members
from lofty_abacus.store.columns_build import FORM, Control, Manifest, build, checksum_of, posted_control
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.members import members_of

_log = logging.getLogger(__name__)
#: Versions held open in memory, over all ledgers, and kept as files per ledger.
MOST_OPEN = 8
MOST_KEPT = 3


class ColumnsCache:
    """Sources by ledger, each of the ledger's current version. Safe for several threads."""

    def __init__(self, engine: Engine, url: str, folder: Path) -> None:
        self._engine = engine
        self._url = url
        self._folder = folder
        self._open: OrderedDict[tuple[int, Control], ColumnsSource] = OrderedDict()
        self._lock = Lock()

    def source(self, ledger_id: int, version: int | None = None) -> tuple[int, ColumnsSource]:
        """(version, source) of a version, the current one if None. Raises RecordsError where columns cannot be made to agree."""
        with self._lock:
            with transaction(self._engine) as connection:
                control = posted_control(connection, ledger_id, version)
            key = (ledger_id, control)
            source = self._open.pop(key, None) or self._opened(ledger_id, control)
            self._open[key] = source
            while len(self._open) > MOST_OPEN:
                self._open.popitem(last=False)
            return control.version, source

    def _opened(self, ledger_id: int, control: Control) -> ColumnsSource:
        home = self._folder / f"ledger-{ledger_id}"
        folder = home / f"version-{control.version}"
        manifest = verified(folder, control)
        if manifest is None:
            _log.info("building the columns of ledger %s, version %s", ledger_id, control.version)
            built = build(self._engine, self._url, ledger_id, control.version, folder)
            manifest = verified(folder, control)
            if manifest is None:
                raise RecordsError(
                    f"The lines of ledger {ledger_id} do not agree with its batches: {built.rows} lines of"
                    f" {built.amount} minor units, and the batches say {control.lines} lines of {control.amount}."
                )
            for old in sorted(home.iterdir(), key=lambda each: each.stat().st_mtime)[:-MOST_KEPT]:
                shutil.rmtree(old, ignore_errors=True)
        return ColumnsSource(mapped_columns(folder, manifest, lambda name: self._members(name, manifest)))

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
