"""Lookup files: a key's level members and names, from a day on where the file says so (semantics, section 12)."""

from __future__ import annotations

from datetime import date

from lofty_abacus.ingest.applying import Applying, corrected
from lofty_abacus.ingest.dates import read_date
from lofty_abacus.ingest.figures import column_of
from lofty_abacus.ingest.fitting import check_mapping
from lofty_abacus.ingest.mapping import ColumnUse, FileMapping
from lofty_abacus.ingest.problems import Problem
from lofty_abacus.ingest.staged import LookupEntry, StagedLookup
from lofty_abacus.ingest.table import FileTable, TextTable


def stage_lookup(file: FileTable, mapping: FileMapping, applying: Applying | None = None) -> StagedLookup:
    """A lookup file.

    A key that comes twice (for the same day) with other values is a conflict; which row counts is the mapping's to say.

    Raises MappingError, UnreadableFileError.
    """
    check_mapping(file, mapping)
    applying = applying or Applying()
    table = corrected(file.whole(), (*mapping.corrections, *applying.corrections))
    key_use = mapping.with_role("key")
    assert key_use is not None, "the mapping was checked"
    problems = list(table.problems)
    keys = _texts(table, key_use)
    days = _valid_from(table, mapping, problems)
    used = [use for use in mapping.columns if use.role in ("key_name", "level", "level_name")]
    texts = {use.column: _texts(table, use) for use in used}
    chosen: dict[tuple[str, date | None], int] = {}
    conflicts: list[Problem] = []
    for at, key in enumerate(keys):
        if not key:
            problems.append(Problem(file.file, int(table.rows[at]), key_use.column, "", "has no key"))
            continue
        if at not in days:
            continue
        place = (key, days[at])
        before = chosen.setdefault(place, at)
        if before != at and any(texts[use.column][before] != texts[use.column][at] for use in used):
            first = int(table.rows[before])
            conflicts.append(
                Problem(file.file, int(table.rows[at]), key_use.column, key, f"came before with other values, in row {first}")
            )
            if mapping.conflicts == "last":
                chosen[place] = at
    levels = [use for use in used if use.role == "level"]
    return StagedLookup(
        file=file.file,
        mapping=mapping,
        of=key_use.name,
        keys=len({key for key, _ in chosen}),
        entries={
            use.name: tuple(LookupEntry(key, texts[use.column][at], day) for (key, day), at in chosen.items()) for use in levels
        },
        names=_names(mapping.with_role("key_name"), texts, {key: at for (key, _), at in chosen.items()}),
        level_names={use.name: _level_names(mapping, use, texts, list(chosen.values())) for use in levels},
        problems=problems,
        conflicts=conflicts if mapping.conflicts == "refuse" else [],
        blank_rows=table.blank_rows,
    )


def _texts(table: TextTable, use: ColumnUse) -> list[str]:
    column = column_of(table, use)
    return [column.texts[code].strip() for code in column.codes.tolist()]


def _valid_from(table: TextTable, mapping: FileMapping, problems: list[Problem]) -> dict[int, date | None]:
    """The day from which each row holds, by its position; rows whose day cannot be read are problems.

    A blank day: for all days.
    """
    use = mapping.with_role("valid_from")
    everywhere = date.fromisoformat(mapping.valid_from) if mapping.valid_from else None
    if use is None:
        return dict.fromkeys(range(len(table)), everywhere)
    assert use.date_format is not None, "the mapping was checked"
    found: dict[int, date | None] = {}
    for at, text in enumerate(_texts(table, use)):
        day = read_date(text, use.date_format) if text else None
        if text and day is None:
            problems.append(Problem(table.file, int(table.rows[at]), use.column, text, "is no day from which a row could hold"))
        else:
            found[at] = day
    return found


def _names(use: ColumnUse | None, texts: dict[str, list[str]], rows: dict[str, int]) -> dict[str, str]:
    return {key: texts[use.column][at] for key, at in rows.items() if texts[use.column][at]} if use else {}


def _level_names(mapping: FileMapping, level: ColumnUse, texts: dict[str, list[str]], rows: list[int]) -> dict[str, str]:
    use = next((each for each in mapping.columns if each.role == "level_name" and each.name == level.name), None)
    if use is None:
        return {}
    return {texts[level.column][at]: texts[use.column][at] for at in rows if texts[level.column][at] and texts[use.column][at]}
