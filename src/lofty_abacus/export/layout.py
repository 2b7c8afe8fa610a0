"""How an answer is laid out for its reader: what is seen is what is exported, in the same order. It changes no figure."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Literal

from lofty_abacus.core.answer.answer import Answer, Row
from lofty_abacus.core.statement.movers import MoversAsked
from lofty_abacus.core.statement.scorecard import CardAsked

#: Characters of a currency sign.
MOST_SIGN = 5
#: Characters of a heading.
MOST_HEADING = 60
#: What no sign of a currency has, and what a spreadsheet would run or take for a format.
_NO_SIGN = '"\\=+-@<>|;'
#: Decimals of a figure that is shown, columns that are named, their width, characters that are searched for.
MOST_DECIMALS = 12
MOST_NAMED = 2_000
MOST_WIDTH = 2_000
MOST_SEARCH = 200


Across = tuple[str | None, ...]
Negatives = Literal["minus", "brackets"]
Zeros = Literal["figure", "dash", "blank"]


@dataclass(frozen=True)
class Written:
    """How the figures of one measure are written, where that differs from the others (null: it does not)."""

    negatives: Negatives | None = None
    zeros: Zeros | None = None


@dataclass(frozen=True)
class Chart:
    """How a chart over the table is drawn.

    lines: bars and lines as the figures ask for, or all as one of them. axes: the axis of single figures, by column, where it is
    not that of their unit. percent: the % changes as lines, too. key: where it stands. low, high: bounds of the left and of the
    right axis as decimal text, '' for those of the figures. ahead: the bases of periods that have not begun, too. rows: one row's
    series, or those of ten rows as lines or as small charts, the others as one. picked: the keys of these rows, none for the
    first ones. height: of the picture in pixels, 0 for the usual.
    """

    lines: Literal["own", "line", "bar"] = "own"
    axes: Mapping[str, Literal["left", "right"]] = field(default_factory=dict)
    percent: bool = False
    key: Literal["top", "right", "none"] = "top"
    low: tuple[str, str] = ("", "")
    high: tuple[str, str] = ("", "")
    ahead: bool = False
    rows: Literal["one", "lines", "multiples"] = "one"
    picked: tuple[str, ...] = ()
    height: int = 0


@dataclass(frozen=True)
class Layout:
    """How a table is shown.

    hidden, order: columns by id; those that are not named in the order follow in the answer's own. widths: in pixels, on screen.
    totals: where the total row stands; totals_across: where totals stand beside what stands across. measures: beside each other,
    or below each other with a line for each in every row. empty_periods: whether rows of periods stay that hold nothing but 0 and
    undefined cells. decimals: by measure; of a measure in percent also its points. percent_decimals: of all other percentages.
    negatives, zeros: how they are written, otherwise for the measures in `written`. marks: between thousands, and before
    decimals: as the reader's language has them (a page says which to the files that it asks for; 1,234.50 where none does), or
    as named. sign: the currency's, in every cell of an amount, at the cell's edge; '' for none. periods: as words (Mar 2026),
    in words of the reader's language, or by their sortable names (2026-03), as in all exports. search: only rows whose name
    holds this text are seen, and those they stand under. chart: how it is drawn, None for no chart. headline:
    the totals of the first measures large above it. beside: the dimension whose
    filter stands beside the table, '' for none; on screen. headings: what columns are called for the reader, by id; what they
    are stays beside it. size: of text and rows on screen. trends: small lines in the rows, where time stands across or in every
    table; on screen. page: as what the statement opens. movers: what is asked of who moved; bridge: by kind or member by member.
    card: what is asked of the scorecard.
    """

    hidden: tuple[str, ...] = ()
    order: tuple[str, ...] = ()
    widths: Mapping[str, int] = field(default_factory=dict)
    totals: Literal["below", "above", "off"] = "below"
    totals_across: Literal["before", "after", "off"] = "before"
    measures: Literal["beside", "below"] = "beside"
    empty_periods: Literal["shown", "hidden"] = "shown"
    decimals: Mapping[str, int] = field(default_factory=dict)
    percent_decimals: int | None = None
    negatives: Negatives = "minus"
    marks: Literal["locale", "comma_point", "point_comma", "space_comma"] = "locale"
    zeros: Zeros = "figure"
    written: Mapping[str, Written] = field(default_factory=dict)
    sign: str = ""
    periods: Literal["words", "locale", "keys"] = "words"
    headings: Mapping[str, str] = field(default_factory=dict)
    search: str = ""
    chart: Chart | None = None
    headline: bool = False
    beside: str = ""
    size: Literal["normal", "large"] = "normal"
    trends: Literal["across", "always", "off"] = "across"
    page: Literal["figures", "movers", "scorecard"] = "figures"
    movers: MoversAsked = field(default_factory=MoversAsked)
    bridge: Literal["kinds", "each"] = "kinds"
    card: CardAsked = field(default_factory=CardAsked)

    def __post_init__(self) -> None:
        if (
            len(self.sign) > MOST_SIGN
            or not self.sign.isprintable()
            or any(mark in _NO_SIGN or mark.isdigit() for mark in self.sign)
        ):
            raise ValueError(f"sign is at most {MOST_SIGN} plain characters, not {self.sign!r}")
        lists = (("hidden", self.hidden), ("order", self.order), ("widths", self.widths), ("headings", self.headings))
        for name, each in (*lists, ("decimals", self.decimals), ("written", self.written)):
            if len(each) > MOST_NAMED:
                raise ValueError(f"{name} names {len(each):,} columns, and at most {MOST_NAMED:,} are shown")
        for measure, decimals in self.decimals.items():
            if not 0 <= decimals <= MOST_DECIMALS:
                raise ValueError(f"{measure} can have 0 to {MOST_DECIMALS} decimals, not {decimals}")
        if self.percent_decimals is not None and not 0 <= self.percent_decimals <= MOST_DECIMALS:
            raise ValueError(f"percentages can have 0 to {MOST_DECIMALS} decimals, not {self.percent_decimals}")
        if any(not 0 <= width <= MOST_WIDTH for width in self.widths.values()):
            raise ValueError(f"a column is at most {MOST_WIDTH} wide")
        if len(self.search) > MOST_SEARCH:
            raise ValueError(f"a search has at most {MOST_SEARCH} characters")
        for heading in self.headings.values():
            if len(heading) > MOST_HEADING or not heading.isprintable():
                raise ValueError(f"a heading is one line of at most {MOST_HEADING} characters, not {heading!r}")

    def negatives_of(self, measure: str) -> Negatives:
        """How negative figures of a measure are written."""
        own = self.written.get(measure)
        return (own and own.negatives) or self.negatives

    def zeros_of(self, measure: str) -> Zeros:
        """How zeros of a measure are written."""
        own = self.written.get(measure)
        return (own and own.zeros) or self.zeros


def laid_out(answer: Answer, layout: Layout) -> Answer:
    """The answer with its columns in the layout's order, without what it hides."""
    ids = [column.id for column in answer.columns]
    places = {name: at for at, name in enumerate(layout.order)}
    own = [column.across for column in answer.columns]
    across = {each: at for at, each in enumerate(_totals_after(own) if layout.totals_across == "after" else ())}
    kept = sorted(
        (at for at, column in enumerate(answer.columns) if column.id not in layout.hidden and _stays(answer, at, layout)),
        key=lambda at: (places.get(ids[at], len(places)), across.get(own[at], 0), at),
    )
    rows = [
        row for row in _called(answer.rows, layout.search) if layout.empty_periods == "shown" or not is_empty_period(answer, row)
    ]

    def taken(row: Row) -> Row:
        return replace(row, cells=tuple(row.cells[at] for at in kept))

    return replace(
        answer,
        columns=tuple(replace(answer.columns[at], decimals=_decimals(answer, at, layout)) for at in kept),
        rows=tuple(taken(row) for row in rows),
        total=taken(answer.total),
        total_of_all=None if answer.total_of_all is None else taken(answer.total_of_all),
    )


def _called(rows: tuple[Row, ...], text: str) -> list[Row]:
    """Rows whose name holds a text, whatever its case, with the rows that they stand under."""
    wanted = text.strip().casefold()
    if not wanted:
        return list(rows)
    kept: set[int] = set()
    above: list[Row] = []
    for row in rows:
        while above and len(above[-1].path) >= len(row.path):
            above.pop()
        if wanted in row.label.casefold():
            kept |= {id(row), *map(id, above)}
        above.append(row)
    return [row for row in rows if id(row) in kept]


def _totals_after(own: Iterable[Across]) -> list[Across]:
    """What stands across, each total after all that it is the total of. own: totals first."""
    found: list[Across] = []
    open_: list[Across] = []
    for path in dict.fromkeys(own):
        while open_ and path[: len(open_[-1])] != open_[-1]:
            found.append(open_.pop())
        open_.append(path)
    return found + open_[::-1]


def _stays(answer: Answer, at: int, layout: Layout) -> bool:
    """Totals across stand under no member or period: columns that name fewer levels across than others do."""
    if layout.totals_across != "off":
        return True
    deepest = max(len(column.across) for column in answer.columns)
    return len(answer.columns[at].across) == deepest


def _decimals(answer: Answer, at: int, layout: Layout) -> int:
    """By measure where the figure is one of it; of percentages (changes, shares) as the layout says of all of them."""
    column = answer.columns[at]
    if column.unit not in ("percent", "points") or column.kind in ("value", "difference", "scope"):
        own = layout.decimals.get(column.measure)
        if own is not None or column.unit not in ("percent", "points"):
            return column.decimals if own is None else own
    return column.decimals if layout.percent_decimals is None else layout.percent_decimals


def is_empty_period(answer: Answer, row: Row) -> bool:
    """Whether a row stands for a period (or within one) and its current figures are all 0 or undefined."""
    if not answer.periods or not row.slot or row.rest is not None:
        return False
    figures = [
        cell for cell, column in zip(row.cells, answer.columns, strict=True) if column.kind == "value" and not column.window
    ]
    return all(cell.value is None or not cell.value.strip("0.-") for cell in figures)
