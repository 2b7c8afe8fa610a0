"""Check a file of lines: what it holds, against itself and against what is posted."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from functools import reduce
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from lofty_abacus.actions.intake.checks import DaysFound, FileCheck, Finding, FindingCode, MemberFound, MonthCheck, OwnCheck
from lofty_abacus.actions.intake.stagings import StagedFile
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import LedgerRecord
from lofty_abacus.core.days import day_number, day_of
from lofty_abacus.core.lines import NO_DAY
from lofty_abacus.core.money import MAX_SCALE, decimal_parts, decimal_text
from lofty_abacus.ingest.lines_of_file import LinesOfFile
from lofty_abacus.ingest.mapping import FURTHER, ColumnUse, FileMapping
from lofty_abacus.ingest.near_members import near_pairs
from lofty_abacus.ingest.problems import Problem
from lofty_abacus.ingest.tally import SHOWN, OfMember, OwnTally, Tally, Told

#: Members that a finding shows.
MOST_MEMBERS_SHOWN = 200
#: A line id that repeats in more of the lines than this is none.
USELESS_SHARE = 0.6
_GRAINS = ("day", "week", "month", "quarter", "year")


@dataclass(frozen=True)
class Surroundings:
    """What a file is checked against, beside the posted lines: the rest of its staging.

    staged_levels: per dimension and level, the keys that lookups of the same staging know. now: whose day is today.
    """

    record: LedgerRecord
    today: date
    staged_levels: Mapping[str, Mapping[str, frozenset[str]]]


def check_lines(office: Office, around: Surroundings, staged: StagedFile, lines: LinesOfFile, blocking: list[str]) -> FileCheck:
    """The check of one file; `blocking` are sentences that stand already."""
    tally, mapping = lines.tally, lines.mapping
    findings = [
        *_of_values(tally, mapping.unreadable, mapping.repeated),
        *_of_posted_ids(office, around, lines),
        *_of_days(tally, around, mapping.covers_from, mapping.covers_through),
        *_of_outliers(tally),
        *_of_own_days(tally, mapping),
        *_of_members(office, around, lines),
    ]
    if tally.foreign:
        members = tuple(MemberFound(code, each.lines, _plain(each.nano)) for code, each in sorted(tally.foreign.items()))
        lines_of = sum(each.lines for each in members)
        findings.append(Finding("other_currencies", "stop", lines_of, about=around.record.currency, members=members))
    if tally.return_lines:
        refunds = tally.text(-tally.return_nano)
        findings.append(Finding("returns_sign", "look", tally.return_lines, refunds, _written(mapping)))
    blocking = [*blocking, *_blocking(findings, tally, staged, lines, around)]
    days = sorted(tally.by_day)
    return FileCheck(
        file=staged.name,
        kind=mapping.kind,
        lines=tally.lines,
        amount=tally.amount,
        sale_lines=tally.sale_lines,
        return_lines=tally.return_lines,
        returned=tally.text(-tally.return_nano),
        first_day=day_of(days[0]) if days else None,
        last_day=day_of(days[-1]) if days else None,
        left_out=tally.left_out,
        blank_rows=tally.blank_rows,
        months=months_of(tally),
        findings=tuple(findings),
        blocking=tuple(blocking),
        own=tuple(_own(tally.own[use.name], use) for use in mapping.columns if use.role in FURTHER and use.name in tally.own),
    )


def _own(found: OwnTally, use: ColumnUse) -> OwnCheck:
    if use.role == "further_day":
        first, last = (None if at is None else day_of(at) for at in (found.first, found.last))
        return OwnCheck(use.name, use.role, found.lines, first_day=first, last_day=last)
    return OwnCheck(use.name, use.role, found.lines, decimal_text(found.nano // 10 ** (MAX_SCALE - found.scale), found.scale))


def _of_own_days(tally: Tally, mapping: FileMapping) -> list[Finding]:
    """Lines without a day that others have, and sale lines whose days come in another order than those of most."""
    found: list[Finding] = []
    for use in mapping.columns:
        own = tally.own.get(use.name) if use.role == "further_day" else None
        if own is None:
            continue
        if own.missing:
            found.append(Finding("days_missing", "look", own.missing, about=use.name))
        if own.odd_side:
            found.append(Finding("days_out_of_order", "look", own.before if own.odd_side < 0 else own.after, about=use.name))
    return found


def rows_found(office: Office, lines: LinesOfFile, code: FindingCode, around: Surroundings, about: str = "") -> NDArray[np.int64]:
    """Rows of the file that a finding about rows is about; those about members and orders are found by their columns.

    about: the day of the ledger's own that is meant, where it is one of those.
    """
    tally = lines.tally
    told = {
        "unreadable": tally.problems,
        "line_ids_repeated": tally.repeated,
        "line_ids_useless": tally.repeated,
        "rows_identical": tally.identical,
        "set_aside": tally.set_aside,
    }
    if code in told:
        return np.array(told[code].rows, np.int64)
    if code == "line_ids_posted":
        return np.array([row for row, _, _ in _posted_again(office, around, lines)], np.int64)
    first, last = _bounds(lines.mapping.covers_from, lines.mapping.covers_through)
    found = [np.empty(0, np.int64)]
    for piece in lines.pieces():
        match code:
            case "after_today":
                chosen = piece.day > day_number(around.today)
            case "outside_coverage":
                chosen = (piece.day < first) | (piece.day > last)
            case "outlying_amounts":
                chosen = tally.figures["amount"].is_beyond(piece.amount)
            case "outlying_quantities" if piece.quantity is not None:
                chosen = tally.figures["quantity"].is_beyond(piece.quantity)
            case "days_missing":
                chosen = _any(len(piece), (days == NO_DAY for name, days in piece.days.items() if about in ("", name)))
            case "days_out_of_order":
                sides = ((days, tally.own[name].odd_side) for name, days in piece.days.items() if about in ("", name))
                odd = ((days != NO_DAY) & (np.sign(days - piece.day) == side) for days, side in sides if side)
                chosen = _any(len(piece), odd) & ~piece.is_return
            case _:
                break
        found.append(piece.rows[chosen])
    return np.concatenate(found)


def _any(count: int, which: Iterator[NDArray[np.bool_]]) -> NDArray[np.bool_]:
    return reduce(np.logical_or, which, np.zeros(count, bool))


def _plain(nano: int) -> str:
    """Units of 1e-9 as decimal text, without decimals that say nothing beyond two."""
    text = decimal_text(nano, MAX_SCALE).rstrip("0")
    whole, _, rest = text.partition(".")
    return f"{whole}.{rest.ljust(2, '0')}"


def months_of(tally: Tally) -> tuple[MonthCheck, ...]:
    """Lines and net total per month, in time order."""
    found: dict[str, OfMember] = {}
    for day, each in sorted(tally.by_day.items()):
        month = found.setdefault(day_of(day).isoformat()[:7], OfMember())
        month.lines += each.lines
        month.nano += each.nano
    return tuple(MonthCheck(month, each.lines, tally.text(each.nano)) for month, each in found.items())


def nano_of(text: str) -> int:
    """Decimal text in units of 1e-9."""
    unscaled, decimals = decimal_parts(text)
    return unscaled * int(10 ** (MAX_SCALE - decimals))


def _written(mapping: FileMapping) -> str:
    """How returns are written in a file: as negative lines, or with figures of a sign."""
    if mapping.kind != "returns" and mapping.with_role("marker") is None:
        return "lines"
    return "negative" if mapping.returns_are == "negative" else "positive"


def _of_values(tally: Tally, unreadable: str, repeated: str) -> list[Finding]:
    def told(code: FindingCode, each: Told, *, stops: bool) -> list[Finding]:
        return [Finding(code, "stop" if stops else "look", each.count, problems=tuple(each.first))] if each.count else []

    useless = tally.repeated.count > USELESS_SHARE * (tally.lines + tally.left_out)
    return [
        *told("unreadable", tally.problems, stops=unreadable == "refuse"),
        *(
            told("line_ids_useless", tally.repeated, stops=True)
            if useless
            else told("line_ids_repeated", tally.repeated, stops=repeated == "refuse")
        ),
        *told("rows_identical", tally.identical, stops=False),
        *told("set_aside", tally.set_aside, stops=False),
    ]


def _of_posted_ids(office: Office, around: Surroundings, lines: LinesOfFile) -> list[Finding]:
    """Line ids that count already: shown, since replacing what they came with is the way to post them."""
    if not lines.mapping.with_role("line") or not around.record.version:
        return []
    again = list(_posted_again(office, around, lines))
    problems = tuple(
        Problem(lines.table.file, row, "", text, f"is posted already ({file}, row {at})")
        for row, text, (file, at) in again[:SHOWN]
    )
    return [Finding("line_ids_posted", "look", len(again), problems=problems)] if again else []


def _posted_again(office: Office, around: Surroundings, lines: LinesOfFile) -> Iterator[tuple[int, str, tuple[str, int]]]:
    """(row, line id, (file, row) where it stands) of lines whose id counts already."""
    posted = office.books.line_ids_posted(around.record.id, lines.line_ids)
    for piece in lines.pieces() if posted else ():
        assert piece.line_ids is not None, "the mapping names the line ids"
        again = np.array([text in posted for text in piece.line_ids.texts], bool)[piece.line_ids.codes]
        for at in np.flatnonzero(again).tolist():
            text = piece.line_ids.text(at)
            yield int(piece.rows[at]), text, posted[text]


def _of_days(tally: Tally, around: Surroundings, covers_from: str | None, covers_through: str | None) -> list[Finding]:
    days = sorted(tally.by_day)
    if not days:
        return []
    found = []
    gaps = [(a + 1, b - 1) for a, b in pairwise(days) if b - a > 1]
    single = [gap for gap in gaps if gap[1] - gap[0] < 6]
    weeks = [gap for gap in gaps if gap[1] - gap[0] >= 6]
    if around.record.line_grain == "day":
        for code, stretches in (("days_without_lines", single), ("weeks_without_lines", weeks)):
            count = sum(last - first + 1 for first, last in stretches) if code == "days_without_lines" else len(stretches)
            if stretches:
                shown = tuple(DaysFound(day_of(first), day_of(last)) for first, last in stretches[:SHOWN])
                found.append(Finding(code, "look", count, days=shown))  # type: ignore[arg-type]
    first, last = _bounds(covers_from, covers_through)
    for code, chosen in (
        ("after_today", [day for day in days if day > day_number(around.today)]),
        ("outside_coverage", [day for day in days if not first <= day <= last]),
    ):
        if chosen:
            lines = sum(tally.by_day[day].lines for day in chosen)
            amount = tally.text(sum(tally.by_day[day].nano for day in chosen))
            stretch = (DaysFound(day_of(chosen[0]), day_of(chosen[-1])),)
            found.append(Finding(code, "look", lines, amount, days=stretch))  # type: ignore[arg-type]
    return found


def _bounds(covers_from: str | None, covers_through: str | None) -> tuple[int, int]:
    first = day_number(date.fromisoformat(covers_from)) if covers_from else -(2**31) + 1
    last = day_number(date.fromisoformat(covers_through)) if covers_through else 2**31 - 2
    return first, last


def _of_outliers(tally: Tally) -> list[Finding]:
    found = []
    for code, figure in (("outlying_amounts", "amount"), ("outlying_quantities", "quantity")):
        magnitudes = tally.figures[figure]
        bound, count = magnitudes.bound(), magnitudes.beyond()
        if bound is not None and count:
            found.append(Finding(code, "look", count, about=decimal_text(bound, magnitudes.scale)))  # type: ignore[arg-type]
    return found


def _of_members(office: Office, around: Surroundings, lines: LinesOfFile) -> list[Finding]:
    found: list[Finding] = []
    by_name = {
        name: {key: each for key, each in members.items() if key}
        for name, members in lines.tally.members.items()
        if members is not None
    }
    there = office.books.members_among(around.record.id, {name: list(filled) for name, filled in by_name.items()})
    mapped = office.books.mapped_keys(around.record.id, by_name.keys())
    for name, filled in by_name.items():
        new = [key for key in filled if key not in there[name]]
        # All members are gone through only where there is something new to be compared with them.
        known = dict(office.books.known_members(around.record.id, name)) if new else {}
        if known:
            found.append(_finding("new_members", name, new, filled, lines.tally))
        merged = {each.member for each in lines.mapping.merges if each.dimension == name}
        # Of two that are both new, the one with fewer lines is more likely the slip of the pen.
        pairs = [
            (other, key) if other not in known and filled[other].lines < filled[key].lines else (key, other)
            for key, other in near_pairs(new, known)
            if key not in merged and other not in merged
        ]
        if pairs:
            near = dict(pairs)
            found.append(_finding("near_members", name, list(near), filled, lines.tally, near))
        unmapped = _not_mapped(mapped[name], around.staged_levels.get(name, {}), filled)
        if unmapped:
            found.append(_finding("not_mapped", name, unmapped, filled, lines.tally))
    return found


def _not_mapped(
    posted: Mapping[str, Collection[str]], staged: Mapping[str, Collection[str]], members: Mapping[str, OfMember]
) -> list[str]:
    """Members of a dimension with levels that some level's lookups do not know. posted, staged: the keys that they know."""
    levels = {level: {*posted.get(level, ()), *staged.get(level, ())} for level in (*posted, *staged)}
    return [key for key in members if any(key not in keys for keys in levels.values())]


def _finding(
    code: FindingCode,
    about: str,
    keys: Sequence[str],
    of: Mapping[str, OfMember],
    tally: Tally,
    near: Mapping[str, str] | None = None,
) -> Finding:
    ordered = sorted(keys, key=lambda key: (-abs(of[key].nano), key))
    members = tuple(
        MemberFound(key, of[key].lines, tally.text(of[key].nano), (near or {}).get(key)) for key in ordered[:MOST_MEMBERS_SHOWN]
    )
    return Finding(code, "look", len(keys), tally.text(sum(of[key].nano for key in keys)), about, members=members)


def _blocking(
    findings: Sequence[Finding], tally: Tally, staged: StagedFile, lines: LinesOfFile, around: Surroundings
) -> list[str]:
    said = []
    for each in findings:
        many = each.count != 1
        if each.weight == "stop" and each.code == "unreadable":
            what = f"{each.count:,} values cannot be read: correct them" if many else "1 value cannot be read: correct it"
            said.append(f"{what}, the mapping or the file, or leave {'their lines' if many else 'its line'} out.")
        elif each.code == "line_ids_useless":
            said.append(f"{each.count:,} lines repeat a line id, so it is none: use that column otherwise, or not at all.")
        elif each.code == "other_currencies":
            of = ", ".join(f"{one.lines:,} line{'' if one.lines == 1 else 's'} of {one.amount} {one.key}" for one in each.members)
            said.append(
                f"This ledger is kept in {each.about}, and the file has {of}: say at which rate they are taken,"
                " or leave the file out."
            )
        elif each.weight == "stop":
            what = f"{each.count:,} lines repeat" if many else "1 line repeats"
            said.append(f"{what} a line id: leave the {'repeats' if many else 'repeat'} out, or correct the file.")
    if not tally.lines:
        said.append("No line of this file can be posted.")
    expected = staged.expected
    if expected.lines is not None and expected.lines != tally.lines:
        said.append(f"You expect {expected.lines:,} lines, and the file gives {tally.lines:,}.")
    if expected.amount is not None and nano_of(expected.amount) != tally.nano:
        said.append(f"You expect a net total of {expected.amount}, and the file gives {tally.amount}.")
    grain, held = lines.mapping.grain, around.record.line_grain
    if _GRAINS.index(grain) > _GRAINS.index(held):
        said.append(
            f"These lines are known by {grain} only, and this ledger counts {held}s: say in its settings that its lines stand for"
            f" whole {grain}s, or post them to a ledger of their own."
        )
    return said
