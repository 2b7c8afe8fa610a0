"""Look through a whole file once, without keeping it: how long it is, and the texts by which a mapping is proposed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from lofty_abacus.ingest.problems import UnreadableFileError
from lofty_abacus.ingest.table import FileTable, TextColumn, TextTable

#: Different texts of a column that are kept beyond the first piece of a file.
MOST_TEXTS = 20_000


@dataclass(frozen=True)
class Survey:
    """rows.

    Records of the right width; wrong_rows: of another. sample: the first piece, whose columns also know texts of later ones.
    """

    rows: int
    blank_rows: int
    wrong_rows: int
    sample: TextTable


def survey(file: FileTable, progress: Callable[[int], None] = lambda _: None) -> Survey:
    """Read a file through. progress: told the rows read so far.

    Raises UnreadableFileError, also where there is no record at all.
    """
    first: TextTable | None = None
    rows = blank = wrong = 0
    later: list[dict[str, None]] = [{} for _ in file.headers]
    for piece in file.pieces():
        rows, blank, wrong = rows + len(piece), blank + piece.blank_rows, wrong + len(piece.problems)
        if first is None or not len(first):
            first = piece
        else:
            for column, texts in zip(piece.columns, later, strict=True):
                if len(texts) < MOST_TEXTS:
                    texts.update(dict.fromkeys(column.first_texts(MOST_TEXTS - len(texts))))
        progress(rows)
    if first is None or not rows + wrong:
        raise UnreadableFileError(file.file, "there is a heading row and nothing below it.", "Choose a file with lines.")
    columns = []
    for column, texts in zip(first.columns, later, strict=True):
        known = set(column.texts) if texts else set()
        new = [text for text in texts if text not in known]
        columns.append(TextColumn(column.header, [*column.texts, *new], column.codes))
    return Survey(rows, blank, wrong, TextTable(first.file, columns, first.rows, first.problems, first.blank_rows))
