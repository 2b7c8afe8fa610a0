"""Files read as tests need them: whole, with everything that was said of them."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.ingest.applying import Applying, stage_lines
from lofty_abacus.ingest.fitting import check_mapping
from lofty_abacus.ingest.lookups import stage_lookup
from lofty_abacus.ingest.mapping import Correction, FileMapping, Reading
from lofty_abacus.ingest.problems import Problem
from lofty_abacus.ingest.proposing import Around, propose
from lofty_abacus.ingest.reading import read_file
from lofty_abacus.ingest.staged import StagedLines, StagedLookup
from lofty_abacus.ingest.surveying import survey
from lofty_abacus.ingest.table import FileTable, TextColumn, TextTable


@dataclass(frozen=True)
class ReadFile:
    """A file and its whole table."""

    file: FileTable
    table: TextTable

    def __len__(self) -> int:
        return len(self.table)

    @property
    def columns(self) -> list[TextColumn]:
        return self.table.columns

    @property
    def rows(self) -> NDArray[np.int64]:
        return self.table.rows

    @property
    def problems(self) -> list[Problem]:
        return self.table.problems

    @property
    def fields(self) -> list[list[str]]:
        return [self.table.fields(at) for at in range(len(self.table))]

    def texts(self, header: str) -> list[str]:
        column = self.table.column(header)
        assert column is not None
        return [column.text(at) for at in range(len(self.table))]

    def proposed(self, known: dict[str, str | None] | None = None) -> FileMapping:
        return propose(survey(self.file).sample, Around(known or {}))

    def staged(
        self, mapping: FileMapping | None = None, zone: str = "UTC", corrections: tuple[Correction, ...] = ()
    ) -> StagedLines:
        """The lines under a mapping, the proposed one if none is given; a second pass sees repeats."""
        mapping = mapping or self.proposed()
        check_mapping(self.file, mapping)
        applying = Applying(zone, corrections)
        first = stage_lines(self.table, mapping, applying)
        again = applying.again()
        return first if again is None else stage_lines(self.table, mapping, again)

    def lookup(self, mapping: FileMapping | None = None) -> StagedLookup:
        return stage_lookup(self.file, mapping or self.proposed())


def read_whole(path: Path, name: str, reading: Reading | None = None) -> ReadFile:
    """Read a file whole."""
    file = read_file(path, name, reading)
    return ReadFile(file, file.whole())
