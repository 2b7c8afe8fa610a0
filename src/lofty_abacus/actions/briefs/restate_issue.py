"""What later postings changed of an issue: each figure then and now, and the batches that caused the difference, exactly."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from fractions import Fraction
from functools import partial
from operator import itemgetter

from pydantic import TypeAdapter

from lofty_abacus.actions.briefs.block_answers import BlockAnswers, Values
from lofty_abacus.actions.briefs.block_causes import BlockCauses, Cause, Looking
from lofty_abacus.actions.briefs.figures_of import ShownFigure, shown_figures
from lofty_abacus.actions.briefs.issues import OpenedIssue, open_issue, read_composed
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import VersionRecord
from lofty_abacus.core.answer.answer import AnsweredColumn, Cell, cell_of
from lofty_abacus.core.answer.kinds import KINDS
from lofty_abacus.core.errors import CoreError
from lofty_abacus.core.measures.exacts import Value
from lofty_abacus.core.saying import say
from lofty_abacus.export.briefs.composed import Composed, ComposedFigures, ComposedRestated, RestatedLine
from lofty_abacus.export.briefs.written import cell_text
from lofty_abacus.export.showing import exact
from lofty_abacus.telling.names import day_words

#: Figures that are listed with their causes; of more the number is told.
MOST_LISTED = 300
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


@dataclass(frozen=True)
class _Kept:
    """What is kept of it: as it is told, and the causes of each block, where there are not too many."""

    told: Restatement
    blocks: tuple[BlockCauses | None, ...]


_KEPT = TypeAdapter(_Kept)


def restatement_of(office: Office, issue_id: int) -> Restatement:
    """What was restated of an issue up to the ledger's newest version; what is not known yet of it is worked out.

    Raises NotFoundError, RecordsError.
    """
    opened = open_issue(office, issue_id)
    known = _known(office, issue_id)
    if known is not None and known.told.version == opened.ledger.version:
        return known.told
    found = _Restating(office, opened, known).restatement()
    office.books.briefs.keep_restatement(issue_id, found.told.version, found.told.count, _KEPT.dump_json(found).decode())
    return found.told


def _known(office: Office, issue_id: int) -> _Kept | None:
    kept = office.books.briefs.restatement(issue_id)
    try:
        return None if kept is None else _KEPT.validate_json(kept[1])
    except ValueError:
        # Another build wrote it.
        return None


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


class _Restating:
    def __init__(self, office: Office, opened: OpenedIssue, known: _Kept | None) -> None:
        self.office, self.issue = office, opened.record
        self.ledger, self.ledger_id = opened.ledger.name, opened.ledger.id
        self.composed: Composed = read_composed(opened.content.answers)
        versions = office.books.versions(opened.ledger.id)
        self.now = office.books.opened(self.ledger).facts.version
        self.known = known if known is not None and known.told.version <= self.now else None
        self.made: dict[int, VersionRecord] = {each.version: each for each in versions}
        self.trouble: list[str] = []
        self.new_rows = 0

    def restatement(self) -> _Kept:
        figures: list[RestatedFigure] = []
        kept: list[BlockCauses | None] = []
        count = 0
        blocks = [each for each in self.composed.blocks if isinstance(each, ComposedFigures)]
        for number, block in enumerate(blocks):
            try:
                changed, found, causes = self._block(number, block, MOST_LISTED - len(figures))
            except CoreError as error:
                self.trouble.append(f"{block.title or block.caption}: {error}")
                kept.append(None)
                continue
            count += changed
            figures += found
            kept.append(causes if causes.kept else None)
        words = _summary(self.issue.number, count, figures)
        told = Restatement(
            self.issue.id, self.issue.number, self.now, count, tuple(figures), self.new_rows, words, tuple(self.trouble)
        )
        return _Kept(told, tuple(kept))

    def _block(self, number: int, block: ComposedFigures, most: int) -> tuple[int, list[RestatedFigure], BlockCauses]:
        shown = list(shown_figures(block))
        answers = BlockAnswers(self.office, self.ledger, block)
        now = answers.at(self.now)
        # What an issue showed is its texts: a change that nobody could have read is none.
        changed = [(place, each) for place, each in enumerate(shown) if each.text != _text(now.shown(each.key), each, block)]
        self.new_rows += answers.rows_beyond({each.key.path for each in shown}, self.now) if block.kind == "table" else 0
        parts = partial(self.office.books.parts_of_version, self.ledger_id)
        looking = Looking(answers, [each.key for each in shown], parts, self._what)
        known = self.known.blocks[number] if self.known else None
        causes = looking.causes(self.composed.version, self.now, known)
        listed = [self._figure(number, block, each, now, causes, place) for place, each in changed[:most]]
        return len(changed), listed, causes

    def _what(self, version: int) -> str:
        return self.made[version].what if version in self.made else ""

    def _figure(
        self, number: int, block: ComposedFigures, shown: ShownFigure, now: Values, causes: BlockCauses, place: int
    ) -> RestatedFigure:
        then_value = exact(shown.cell)
        effects = []
        answered = causes.amount(place)
        if answered != then_value:
            # Answered again on the version that it was published on, it is another: no posting did that.
            alone = Cause(0, None, say("the ledger's settings or lookups, or a newer build"), {})
            effects.append(_effect(alone, then_value, answered, None, shown, block))
        for cause, before, after in causes.of(place):
            effects.append(_effect(cause, before, after, self.made.get(cause.version), shown, block))
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


def _effect(
    cause: Cause,
    before: Fraction | None,
    after: Fraction | None,
    made: VersionRecord | None,
    shown: ShownFigure,
    block: ComposedFigures,
) -> Effect:
    exactly = None
    if before is not None and after is not None:
        change = after - before
        exactly = (str(change.numerator), str(change.denominator))
    return Effect(
        cause.version,
        made.made_at if made else None,
        made.made_by if made else "",
        cause.what,
        _difference(shown.column, block, before, after),
        exactly,
        cause.batch,
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
