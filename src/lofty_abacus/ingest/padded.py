"""Columns that are padded with blanks: cut by position, or at runs of blanks, and written anew with a separator."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Sequence
from pathlib import Path

#: Stands between the columns of what is written anew; no text that people type has it.
SEPARATOR = "\x1f"
_RUN = re.compile(r" {2,}|\t+")
_LEAST_LINES = 2

#: Gives the fields of a line; None for a line that does not fit.
Cutter = Callable[[str], list[str] | None]


def cutter_of(sample: str) -> Cutter | None:
    """How the lines of a text are cut into at least two columns; None where they are not padded."""
    lines = [line.expandtabs(8) for line in sample.splitlines() if line.strip()][:500]
    if len(lines) < _LEAST_LINES:
        return None
    cuts = _cuts(lines)
    widths = Counter(len(_RUN.split(line.strip())) for line in lines)
    width, times = widths.most_common(1)[0]
    by_runs = width > 1 and times * 10 >= len(lines) * 9
    if cuts is not None and not (by_runs and width > len(cuts)):
        return lambda line: _by_position(line.rstrip("\r\n").expandtabs(8), cuts)
    if not by_runs:
        return None
    return lambda line: _RUN.split(line.strip()) if line.strip() else [""] * width


def write_separated(path: Path, place: Path, cut: Cutter) -> None:
    """Write a padded text of UTF-8 anew, line by line; a line that does not fit stays whole, and is then a problem of its own."""
    making = place.with_name(f"{place.name}.making")
    with path.open(encoding="utf-8-sig", newline="") as file, making.open("w", encoding="utf-8", newline="") as out:
        for line in file:
            fields = cut(line)
            out.write(SEPARATOR.join(fields) if fields else line.rstrip("\r\n").replace(SEPARATOR, " "))
            out.write("\n")
    making.rename(place)


def _cuts(lines: Sequence[str]) -> list[tuple[int, int]] | None:
    """Where columns begin and end: stretches in which some line has a sign, between places at which none has."""
    width = max(map(len, lines))
    filled = [any(at < len(line) and line[at] != " " for line in lines) for at in range(width)]
    starts = [at for at in range(width) if filled[at] and (at == 0 or not filled[at - 1])]
    if len(starts) < 2:
        return None
    # A column has a heading: a gap without one after it lies between the words of a column.
    begins = [start for start, end in zip(starts, [*starts[1:], width], strict=True) if lines[0][start:end].strip()]
    return list(zip(begins, [*begins[1:], width], strict=True)) if len(begins) > 1 and begins[0] == starts[0] else None


def _by_position(line: str, cuts: Sequence[tuple[int, int]]) -> list[str] | None:
    if any(0 < start <= len(line) and line[start - 1] != " " for start, _ in cuts[1:]):
        return None
    last = cuts[-1][0]
    return [*(line[start:end].strip() for start, end in cuts[:-1]), line[last:].strip()]
