"""What later postings changed of an issue: each figure then and now, and the batches that caused the difference, exactly."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from fractions import Fraction
from operator import itemgetter

from pydantic import TypeAdapter

from lofty_abacus.actions.briefs.figures_of import FigureKey, ShownFigure, shown_figures
from lofty_abacus.actions.briefs.issues import OpenedIssue, open_issue, read_composed
from lofty_abacus.actions.figures.answer_statement import answer_statement
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import VersionRecord
from lofty_abacus.core.answer.answer import AnsweredColumn, Cell, cell_of
from lofty_abacus.core.answer.kinds import KINDS
from lofty_abacus.core.errors import CoreError
from lofty_abacus.core.measures.exacts import Value
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.statement import Opened, Statement
from lofty_abacus.export.briefs.composed import Composed, ComposedFigures, ComposedRestated, RestatedLine
from lofty_abacus.export.briefs.written import cell_text
from lofty_abacus.export.showing import exact
from lofty_abacus.telling.names import day_words

#: Figures that are listed with their causes; of more the number is told.
MOST_LISTED = 300
#: So many versions are looked at one by one.
EACH_OF = 16
#: Figures that a note in the next issue lists.
MOST_NOTED = 12


@dataclass(frozen=True)
class Effect:
    """What one batch did to a figure, in the order of posting: of several that came with one version each did its part.

    version: 0 for what was changed without one (settings, names, a newer build). batch: None where no file did it.
    amount: in words, '' where it cannot be told as a difference. exact: the difference as a ratio of whole numbers.
    """

    version: int
    made_at: datetime | None
    made_by: str
    what: str
    amount: str
    exact: tuple[str, str] | None
    batch: int | None = None


@dataclass(frozen=True)
class RestatedFigure:
    """A figure that would be different: block by its title, row and heading, then and now, and what caused it."""

    block: int
    title: str
    row: str
    heading: str
    path: tuple[str | None, ...]
    column: str
    then: str
    now: str
    difference: str
    effects: tuple[Effect, ...]


@dataclass(frozen=True)
class Restatement:
    """What of an issue would be different on a version. count: of all such figures; words: in one or two sentences.

    new_rows: rows of tables that were not there then. trouble: why blocks could not be answered again.
    """

    issue: int
    number: int
    version: int
    count: int
    figures: tuple[RestatedFigure, ...]
    new_rows: int
    words: str
    trouble: tuple[str, ...] = ()


_RESTATEMENT = TypeAdapter(Restatement)


def restatement_of(office: Office, issue_id: int) -> Restatement:
    """What was restated of an issue up to the ledger's newest version; worked out where that is not known yet.

    Raises NotFoundError, RecordsError.
    """
    opened = open_issue(office, issue_id)
    known = office.books.briefs.restatement(issue_id)
    if known is not None and known[0] == opened.ledger.version:
        return _RESTATEMENT.validate_json(known[1])
    found = _Restating(office, opened).restatement()
    body = _RESTATEMENT.dump_json(found).decode()
    office.books.briefs.keep_restatement(issue_id, found.version, found.count, body)
    return found


def restated_note(found: Restatement) -> ComposedRestated:
    """The note of it that a next issue can hold."""
    lines = tuple(
        RestatedLine(
            " · ".join(part for part in (each.title, each.row, each.heading) if part),
            each.then,
            each.now,
            each.difference,
            tuple(_cause(effect) for effect in each.effects),
        )
        for each in found.figures[:MOST_NOTED]
    )
    return ComposedRestated(found.number, lines, found.count - len(lines))


def _cause(effect: Effect) -> str:
    when = f", {day_words(effect.made_at.date())}" if effect.made_at else ""
    return f"{effect.what}{when}{f' ({effect.amount})' if effect.amount else ''}"


@dataclass(frozen=True)
class Values:
    """A block's figures on a version. nothing: ids of the columns that are zero where a row has no lines, and so is not there."""

    cells: Mapping[FigureKey, Fraction | None]
    nothing: frozenset[str] = frozenset()

    def shown(self, key: FigureKey) -> Fraction | None:
        """What stands there; None where the row does not."""
        return self.cells.get(key)

    def amount(self, key: FigureKey) -> Fraction | None:
        """What a difference is taken of: of sums and counts, a row without lines has zero."""
        without_lines = Fraction(0) if key.column in self.nothing and not key.rest else None
        return self.cells.get(key, without_lines)


@dataclass(frozen=True)
class _Step:
    """What a version did, or one of the batches that came with it: the figures before and after."""

    version: int
    batch: int | None
    what: str
    before: Values
    after: Values


class _Restating:
    def __init__(self, office: Office, opened: OpenedIssue) -> None:
        self.office, self.issue = office, opened.record
        self.ledger, self.ledger_id = opened.ledger.name, opened.ledger.id
        self.composed: Composed = read_composed(opened.content.answers)
        versions = office.books.versions(opened.ledger.id)
        self.now = office.books.opened(self.ledger).facts.version
        self.made: dict[int, VersionRecord] = {each.version: each for each in versions}
        self.trouble: list[str] = []
        self.new_rows = 0

    def restatement(self) -> Restatement:
        figures: list[RestatedFigure] = []
        count = 0
        blocks = [each for each in self.composed.blocks if isinstance(each, ComposedFigures)]
        for number, block in enumerate(blocks):
            try:
                changed, found = self._block(number, block, MOST_LISTED - len(figures))
            except CoreError as error:
                self.trouble.append(f"{block.title or block.caption}: {error}")
                continue
            count += changed
            figures += found
        words = _summary(self.issue.number, count, figures)
        return Restatement(
            self.issue.id, self.issue.number, self.now, count, tuple(figures), self.new_rows, words, tuple(self.trouble)
        )

    def _block(self, number: int, block: ComposedFigures, most: int) -> tuple[int, list[RestatedFigure]]:
        shown = list(shown_figures(block))
        answers = _Answers(self.office, self.ledger, block)
        now = answers.at(self.now)
        # What an issue showed is its texts: a change that nobody could have read is none.
        changed = [each for each in shown if each.text != _text(now.shown(each.key), each, block)]
        self.new_rows += answers.rows_beyond({each.key.path for each in shown}, self.now) if block.kind == "table" else 0
        listed = changed[:most]
        keys = [each.key for each in listed]
        steps = list(self._steps(answers, keys)) if listed else []
        return len(changed), [self._figure(number, block, each, now, steps) for each in listed]

    def _steps(self, answers: _Answers, keys: list[FigureKey]) -> Iterator[_Step]:
        """What changed any of the figures, in order, with what they were before and after each."""
        first = self.composed.version

        def taken(version: int) -> tuple[Fraction | None, ...]:
            found = answers.at(version)
            return tuple(found.amount(key) for key in keys)

        def between(low: int, high: int) -> Iterator[int]:
            if high - low <= EACH_OF:
                yield from (each for each in range(low + 1, high + 1) if taken(each - 1) != taken(each))
                return
            # Of very many versions those that change nothing together are passed over: what one did, another undid.
            if taken(low) == taken(high):
                return
            middle = (low + high) // 2
            yield from between(low, middle)
            yield from between(middle, high)

        for version in between(first, self.now):
            yield from self._parts(answers, version)

    def _parts(self, answers: _Answers, version: int) -> Iterator[_Step]:
        """A version's batches one by one: each on top of those before it."""
        before, after = answers.at(version - 1), answers.at(version)
        parts = self.office.books.parts_of_version(self.ledger_id, version)
        for place, part in enumerate(parts[:-1]):
            with_it = answers.at(version, tuple(each.batch for each in parts[place + 1 :]))
            yield _Step(version, part.batch, part.what, before, with_it)
            before = with_it
        made = self.made.get(version)
        what = parts[-1].what if len(parts) > 1 else made.what if made else ""
        yield _Step(version, parts[-1].batch if parts else None, what, before, after)

    def _figure(self, number: int, block: ComposedFigures, shown: ShownFigure, now: Values, steps: list[_Step]) -> RestatedFigure:
        then_value = exact(shown.cell)
        effects = []
        answered = (steps[0].before if steps else now).amount(shown.key)
        if answered != then_value:
            # Answered again on the version that it was published on, it is another: no posting did that.
            what = say("the ledger's settings or lookups, or a newer build")
            alone = _Step(0, None, what, Values({shown.key: then_value}), Values({shown.key: answered}))
            effects.append(_effect(alone, None, shown, block))
        for step in steps:
            if step.before.amount(shown.key) != step.after.amount(shown.key):
                effects.append(_effect(step, self.made.get(step.version), shown, block))
        text = _text(now.shown(shown.key), shown, block)
        return RestatedFigure(
            block=number,
            title=block.title or block.caption,
            row=shown.row,
            heading=shown.heading,
            path=shown.key.path,
            column=shown.column.id,
            then=shown.text or "–",
            now=text or "–",
            difference=_difference(shown.column, block, then_value, now.amount(shown.key)),
            effects=tuple(effects),
        )


class _Answers:
    """A block's figures on any version, each version answered once."""

    def __init__(self, office: Office, ledger: str, block: ComposedFigures) -> None:
        self._office, self._ledger, self._block = office, ledger, block
        self._known: dict[tuple[int, tuple[int, ...]], Values] = {}
        self._paths: dict[int, set[tuple[str | None, ...]]] = {}

    def at(self, version: int, without: tuple[int, ...] = ()) -> Values:
        """Its figures on a version, some of the batches that came with it left out."""
        if (version, without) not in self._known:
            self._known[version, without] = self._answered(version, without)
        return self._known[version, without]

    def rows_beyond(self, paths: set[tuple[str | None, ...]], version: int) -> int:
        """How many rows there are on a version beside these, as far down as these go."""
        self.at(version)
        deepest = max(map(len, paths), default=0)
        return len([each for each in self._paths[version] - paths if len(each) <= deepest and each[:-1] in paths])

    def _answered(self, version: int, without: tuple[int, ...]) -> Values:
        opened = Opened(max(len(self._block.statement.rows), 1))
        answer = answer_statement(self._office, self._ledger, _plain(self._block.statement), opened, version, without=without)
        found: dict[FigureKey, Fraction | None] = {}
        ids = [each.id for each in answer.columns]
        for row in (answer.total, *answer.rows):
            for name, cell in zip(ids, row.cells, strict=True):
                found[FigureKey(row.path, name, row.rest is not None)] = exact(cell)
        if not without:
            self._paths[version] = {row.path for row in answer.rows if row.rest is None}
        # Beyond the rows that a limit leaves, nobody knows.
        sums = () if self._block.statement.limits else [each for each in answer.columns if _is_sum(each)]
        return Values(found, frozenset(each.id for each in sums))


def _is_sum(column: AnsweredColumn) -> bool:
    return column.kind in ("value", "difference") and column.measure_kind != "derived"


def _plain(statement: Statement) -> Statement:
    """The same figures in the order of names: only where a row stands may differ."""
    return statement if statement.limits else replace(statement, sort=None)


def _cell(value: Fraction | None) -> Cell:
    return Cell(None) if value is None else cell_of(Value(value))


def _text(value: Fraction | None, shown: ShownFigure, block: ComposedFigures) -> str:
    """A value as the figure that was shown would be written."""
    decimals = shown.cell.decimals if shown.cell.decimals is not None else shown.column.decimals
    return cell_text(_cell(value), replace(shown.column, decimals=decimals), block.layout)


def _difference(column: AnsweredColumn, block: ComposedFigures, then: Fraction | None, now: Fraction | None) -> str:
    """A difference in words, signed; of a percentage in points."""
    if then is None or now is None:
        return "–"
    unit = "points" if column.unit == "percent" else column.unit
    kind = column.kind if KINDS[column.kind].signed else "difference"
    return cell_text(_cell(now - then), replace(column, unit=unit, kind=kind), block.layout)


def _effect(step: _Step, made: VersionRecord | None, shown: ShownFigure, block: ComposedFigures) -> Effect:
    before, after = step.before.amount(shown.key), step.after.amount(shown.key)
    exactly = None
    if before is not None and after is not None:
        change = after - before
        exactly = (str(change.numerator), str(change.denominator))
    return Effect(
        step.version,
        made.made_at if made else None,
        made.made_by if made else "",
        step.what,
        _difference(shown.column, block, before, after),
        exactly,
        step.batch,
    )


def _summary(number: int, count: int, figures: list[RestatedFigure]) -> str:
    """Two figures of issue 9 would be different today: sales-2026-09.csv was replaced on 5 Oct (−1,204.10)."""
    if not count:
        return ""
    first = (
        say("1 figure of issue {number} would be different today", number=number)
        if count == 1
        else say("{count} figures of issue {number} would be different today", count=f"{count:,}", number=number)
    )
    causes = {(effect.version, effect.batch or 0): effect for each in reversed(figures) for effect in each.effects}
    said = "; ".join(_cause(effect) for _, effect in sorted(causes.items(), key=itemgetter(0))[:2])
    more = say(" and {count} more", count=len(causes) - 2) if len(causes) > 2 else ""
    return f"{first}: {said}{more}." if said else f"{first}."
