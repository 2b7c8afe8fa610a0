"""A brief with its answers: all that its rendering is made of, and what an issue keeps for good."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Literal

from lofty_abacus.core.answer.answer import AnsweredWindow
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.limits import MemberKey
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.export.briefs.brief import BlockKind, Paper, Width
from lofty_abacus.export.layout import Layout
from lofty_abacus.telling.movers import ToldMovers
from lofty_abacus.telling.names import day_words
from lofty_abacus.telling.scorecard import ToldCard
from lofty_abacus.telling.told import ToldAnswer


@dataclass(frozen=True)
class ComposedFigures:
    """A block with what was answered.

    statement: the one whose figures these are, pinned to its as-of date: each is proved as one of it. caption: what it shows, in
    words. answer: of headlines, tables and charts; movers: of movers, bridges and words; card: of scorecards and words. table:
    movers as a table, with its statement.
    """

    kind: BlockKind
    title: str
    width: Width
    statement: Statement
    layout: Layout
    as_of: date
    caption: str
    answer: ToldAnswer | None = None
    movers: ToldMovers | None = None
    card: ToldCard | None = None
    table: ToldAnswer | None = None
    table_statement: Statement | None = None

    @property
    def as_table(self) -> tuple[ToldAnswer, Statement] | None:
        """Its figures as a table, with the statement that they answer: for files."""
        if self.table is not None and self.table_statement is not None:
            return self.table, self.table_statement
        if self.card is not None:
            return self.card.answer, self.card.statement
        return None if self.answer is None else (self.answer, self.statement)

    @property
    def windows(self) -> tuple[AnsweredWindow, ...]:
        """Its windows, current and bases."""
        found = self.answer or (self.card.answer if self.card else None) or self.movers
        return found.windows if found else ()


@dataclass(frozen=True)
class ComposedText:
    """Text of a block as harmless HTML."""

    html: str
    width: Width = "full"
    kind: Literal["text"] = "text"


@dataclass(frozen=True)
class ComposedBreak:
    """A new page."""

    kind: Literal["break"] = "break"


@dataclass(frozen=True)
class RestatedLine:
    """A figure of an earlier issue then and now, in words, and what caused the difference."""

    what: str
    then: str
    now: str
    difference: str
    causes: tuple[str, ...]


@dataclass(frozen=True)
class ComposedRestated:
    """What was restated of an earlier issue: nothing where there is none of it."""

    issue: int
    lines: tuple[RestatedLine, ...]
    more: int = 0
    kind: Literal["restated"] = "restated"


ComposedBlock = ComposedFigures | ComposedText | ComposedBreak | ComposedRestated


@dataclass(frozen=True)
class Composed:
    """A brief composed on one ledger version. lead: harmless HTML. number: of the issue, None of a draft; date: of the issue.

    member, member_label: whose copy it is; None of the whole. captions: of each block of figures, (what, words).
    """

    ledger: str
    version: int
    posted_at: datetime
    currency: str
    as_of: date
    title: str
    lead: str
    masthead: str
    logo: str
    paper: Paper
    author: str
    number: int | None
    date: date
    blocks: tuple[ComposedBlock, ...]
    captions: tuple[tuple[str, tuple[tuple[str, str], ...]], ...]
    member: MemberKey = None
    member_label: str = ""


def own_as_of(block: ComposedFigures, composed: Composed) -> str:
    """The as-of date of a block that has one of its own, in words; '' where it is the brief's."""
    return "" if block.as_of == composed.as_of else say("as of {day}", day=day_words(block.as_of))
