"""Compose a brief: every block answered on one and the same version of the ledger."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date

from lofty_abacus.actions.errors import NotFoundError
from lofty_abacus.actions.figures.answer_movers import answer_movers
from lofty_abacus.actions.figures.answer_scorecard import answer_scorecard
from lofty_abacus.actions.figures.answer_statement import told_answer
from lofty_abacus.actions.ports import Office
from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.checking import show_refusal
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.limits import MemberKey
from lofty_abacus.core.statement.statement import CountedFilter, Opened, Show, Statement
from lofty_abacus.core.windows.as_of import AsOfPolicy, PinnedDay, as_of_day
from lofty_abacus.core.windows.coverage import coverage_of
from lofty_abacus.export.briefs.brief import Block, Brief, FigureBlock, TextBlock, checked_brief
from lofty_abacus.export.briefs.composed import (
    Composed,
    ComposedBlock,
    ComposedBreak,
    ComposedFigures,
    ComposedRestated,
    ComposedText,
)
from lofty_abacus.export.briefs.placeholders import filled_in, of_day
from lofty_abacus.export.briefs.prose import prose
from lofty_abacus.export.briefs.views import plain_headline
from lofty_abacus.export.captions import caption_lines
from lofty_abacus.telling.briefs import block_caption
from lofty_abacus.telling.movers import ToldMovers
from lofty_abacus.telling.names import capital
from lofty_abacus.telling.sentence import title_of
from lofty_abacus.telling.told import ToldAnswer, descriptions

#: Rows of a table in a brief: more of them are a file.
MOST_ROWS = 1_500
_CHANGES: tuple[Show, ...] = ("difference", "percent_change")
NOTHING_RESTATED = ComposedRestated(0, ())
#: Sentences that a lead made by rules takes of the first block that has some, and of others.
_FIRST, _OTHERS = 2, 1


@dataclass(frozen=True)
class Whose:
    """Whose copy is composed: a member of the brief's dimension."""

    member: MemberKey
    label: str


@dataclass(frozen=True)
class Composing:
    """What composing goes by beside the brief itself.

    version: None for the newest. day: the as-of date instead of the policy's. number: of the issue, None for a draft.
    """

    version: int | None = None
    day: date | None = None
    number: int | None = None
    whose: Whose | None = None
    restated: ComposedRestated = NOTHING_RESTATED


def compose(office: Office, ledger: str, brief: Brief, asked: Composing | None = None) -> Composed:
    """A brief with its answers. Raises QuestionError, which names the block; NotFoundError, RecordsError."""
    return _Composer(office, ledger, checked_brief(brief), asked or Composing()).composed()


def as_of_of(office: Office, ledger: str, policy: AsOfPolicy) -> date:
    """The as-of date that a brief's policy means now. Raises QuestionError, NotFoundError."""
    book = office.books.opened(ledger)
    return _day_of(policy, book.facts, book.record.today(office.now()))


def _day_of(policy: AsOfPolicy, facts: LedgerFacts, today: date) -> date:
    return as_of_day(policy, coverage_of(facts.feeds, frozenset({"sale", "return"})), today, facts.line_grain, facts.calendar)


class _Composer:
    def __init__(self, office: Office, ledger: str, brief: Brief, asked: Composing) -> None:
        self.office, self.ledger, self.brief, self.asked = office, ledger, brief, asked
        book = office.books.opened(ledger, asked.version)
        self.record, self.facts = book.record, book.facts
        self.version = book.facts.version
        self.today = book.record.today(office.now())
        self.day = asked.day or _day_of(brief.as_of, book.facts, self.today)
        self.said = descriptions(book.facts)
        self.kept = {each.id: each for each in office.books.saved_statements(book.record.id).rows}

    def composed(self) -> Composed:
        blocks = tuple(self._block(at, each) for at, each in enumerate(self.brief.blocks))
        figures = [each for each in blocks if isinstance(each, ComposedFigures)]
        values = self._values(figures)
        made = next(each for each in self.office.books.versions(self.record.id) if each.version == self.version)
        return Composed(
            ledger=self.facts.name,
            version=self.version,
            posted_at=made.made_at,
            currency=self.facts.currency,
            as_of=self.day,
            title=filled_in(self.brief.title, values) or self.brief.name,
            lead=prose(filled_in(self.brief.lead, values)) if self.brief.lead.strip() else prose(_lead(figures)),
            masthead=self.brief.masthead,
            logo=self.brief.logo,
            paper=self.brief.paper,
            author=self.office.person,
            number=self.asked.number,
            date=self.today,
            blocks=blocks,
            captions=tuple((each.title or each.caption, self._caption(each)) for each in figures),
            member=self.asked.whose.member if self.asked.whose else None,
            member_label=self.asked.whose.label if self.asked.whose else "",
        )

    def _values(self, figures: list[ComposedFigures]) -> Mapping[str, str]:
        whose = self.asked.whose.label if self.asked.whose else ""
        headline = next((plain_headline(each.answer, each.layout) for each in figures if each.answer), "")
        return {
            **of_day(self.day),
            "number": str(self.asked.number or ""),
            "member": whose,
            "ledger": self.facts.name,
            "headline": headline,
        }

    def _block(self, at: int, block: Block) -> ComposedBlock:
        if isinstance(block, TextBlock):
            return ComposedText(prose(filled_in(block.text, of_day(self.day))), block.width)
        if block.kind == "break":
            return ComposedBreak()
        if block.kind == "restated":
            return self.asked.restated
        try:
            return self._figures(self._followed(block))
        except QuestionError as error:
            said = say("block {number}: {problem}", number=at + 1, problem=error.why)
            raise QuestionError(error.part, said, error.way_out) from error

    def _followed(self, block: FigureBlock) -> FigureBlock:
        """A block as the kept statement that it follows is now; as it was last, where that is kept no more."""
        kept = self.kept.get(block.kept)
        if kept is None:
            return block
        title = block.title or kept.name
        return replace(block, statement=kept.statement, opened=kept.opened, layout=kept.layout, title=title)

    def _figures(self, block: FigureBlock) -> ComposedFigures:
        # A day that was asked for is that of the whole brief: a block of its own day keeps its own.
        day = self.day if block.as_of is None else _day_of(block.as_of, self.facts, self.today)
        statement = replace(block.statement, as_of=PinnedDay(day), filters=(*block.statement.filters, *self._filters()))
        title = block.title or (capital(title_of(statement)) if block.kind != "headline" else "")
        if block.kind in ("movers", "bridge"):
            return self._of_movers(block, statement, title)
        if block.kind == "scorecard" or (block.kind == "words" and statement.goals):
            card = answer_scorecard(self.office, self.ledger, statement, block.layout.card, self.version)
            words = block_caption(statement, card.answer.windows, day)
            return ComposedFigures(block.kind, title, block.width, card.statement, block.layout, day, words, card=card)
        if block.kind == "words":
            return self._of_movers(block, statement, title)
        if block.kind == "headline":
            statement, opened = headline_statement(statement, self.facts), Opened(1)
        else:
            opened = block.opened
        if block.kind == "chart":
            statement, opened = chart_statement(statement), Opened(1)
        answer = told_answer(self.office, self.ledger, statement, opened, self.version)
        if len(answer.rows) > MOST_ROWS:
            raise QuestionError(
                "blocks",
                say("its table has {count} rows.", count=f"{len(answer.rows):,}"),
                say("Keep to {most}: show the top of it, or fewer levels.", most=f"{MOST_ROWS:,}"),
            )
        words = block_caption(statement, answer.windows, day)
        return ComposedFigures(block.kind, title, block.width, statement, block.layout, day, words, answer)

    def _of_movers(self, block: FigureBlock, statement: Statement, title: str) -> ComposedFigures:
        asked = replace(block.layout.movers, most=min(block.layout.movers.most, MOST_ROWS))
        movers = answer_movers(self.office, self.ledger, statement, asked, self.version)
        # The sentence and the caption are those of the same figures as a table.
        table = told_answer(self.office, self.ledger, movers.statement, Opened(1), self.version, fill=1)
        words = block_caption(statement, movers.windows, movers.as_of)
        found = ComposedFigures(block.kind, title, block.width, movers.statement, block.layout, movers.as_of, words)
        return replace(
            found, answer=replace(table, rows=()), movers=movers, table=self._listed(movers), table_statement=movers.table
        )

    def _listed(self, movers: ToldMovers) -> ToldAnswer:
        """The movers that are listed as a table: what files of the brief hold of them."""
        listed = {each.path for each in (*movers.ups.movers, *movers.downs.movers)}
        above = {path[:depth] for path in listed if path for depth in range(1, len(path))}
        found = told_answer(self.office, self.ledger, movers.table, Opened(len(movers.table.rows)), self.version)
        return replace(found, rows=tuple(row for row in found.rows if row.rest is None and row.path in listed | above))

    def _filters(self) -> tuple[CountedFilter, ...]:
        whose = self.asked.whose
        own = (CountedFilter(self.brief.copies, (whose.member,)),) if whose else ()
        return (*self.brief.filters, *own)

    def _caption(self, block: ComposedFigures) -> tuple[tuple[str, str], ...]:
        answer = block.answer or (block.card.answer if block.card else None)
        if answer is None:
            return ()
        # Ledger, version and as-of date stand at the head of the brief.
        own = [] if block.as_of == self.day else [1]
        lines = list(caption_lines(answer, block.statement, self.said, block.layout))
        kept = [line for at, line in enumerate(lines) if at > 1 or at in own]
        notes = [words for what, words in kept if what == say("Note")]
        plain = tuple(line for line in kept if line[0] != say("Note"))
        return (*plain, *([(say("Notes"), "; ".join(notes))] if notes else []))


def headline_statement(statement: Statement, ledger: LedgerFacts) -> Statement:
    """The statement of a figure that stands large: its first measure in all, with its changes."""
    first = statement.measures[0]
    plain = replace(statement, rows=(), across=(), sort=None, limits=(), goals=(), measures=(first,), shares_add_up=False)
    measure = ledger.measures(statement.defined).get(first.measure)
    shown = replace(first, show=(), shares=(), along=None)
    if measure is None:
        return replace(plain, measures=(shown,))
    show = tuple(
        each
        for each in _CHANGES
        if show_refusal(each, shown, measure, plain) is None and not (each == "percent_change" and measure.unit == "percent")
    )
    return replace(plain, measures=(replace(shown, show=show),))


def chart_statement(statement: Statement) -> Statement:
    """The statement that a chart draws: its first measure in every window by the first level."""
    first = replace(statement.measures[0], show=(), shares=())
    return replace(
        statement, rows=statement.rows[:1], across=(), measures=(first,), sort=None, goals=(), shares_add_up=False, limits=()
    )


def members_of(office: Office, ledger: str, brief: Brief, day: date) -> tuple[Whose, ...]:
    """The members that get a copy of their own: those with lines up to the as-of date. Raises NotFoundError."""
    facts = office.books.facts(office.books.ledger(ledger).id)
    if facts.dimension(brief.copies) is None:
        raise NotFoundError(f"There is no dimension {brief.copies!r} to make copies by.")
    first = next((each for each in brief.blocks if isinstance(each, FigureBlock)), None)
    if first is None:
        return ()
    wanted = replace(
        chart_statement(replace(first.statement, rows=(brief.copies,))), as_of=PinnedDay(day), filters=brief.filters, bases=()
    )
    answer = told_answer(office, ledger, wanted, Opened(1))
    return tuple(Whose(row.path[0], row.label) for row in answer.rows if row.rest is None)


def _lead(figures: list[ComposedFigures]) -> str:
    """A lead made by rules: what is said of the first movers, and of the first goals."""
    found = []
    moved = next((each.movers for each in figures if each.movers), None)
    if moved:
        found += ["".join(piece.text for piece in sentence) for sentence in moved.told.sentences[: _FIRST + 1]]
    card = next((each.card for each in figures if each.card), None)
    if card:
        found += ["".join(piece.text for piece in sentence) for sentence in card.told.sentences[:_OTHERS]]
    return " ".join(each.replace("*", "\\*").replace("_", "\\_") for each in found)
