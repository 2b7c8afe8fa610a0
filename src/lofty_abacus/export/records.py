"""Records of text and numbers as CSV, piece by piece."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator, Sequence
from itertools import islice


def records_csv(records: Iterable[Sequence[object]], rows_a_piece: int = 1000) -> Iterator[str]:
    """The records as CSV, the first being the headings. Text must have been made harmless before."""
    left = iter(records)
    while rows := list(islice(left, rows_a_piece)):
        out = io.StringIO()
        csv.writer(out, lineterminator="\n").writerows(rows)
        yield out.getvalue()
