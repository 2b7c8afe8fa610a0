"""How a statement is read beside what it shows: the conventions that a reader can choose, and how the sentence says them."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace

from lofty_abacus.core.comparing.comparisons import SHARES
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.telling.names import dimension_name

#: Values that parts of a statement take.
Parts = Mapping[str, str | bool | tuple[str, ...] | None]


@dataclass(frozen=True)
class Choice:
    """One way to read it. said: by the sentence, '' for what is usual. change: the parts of a statement that say so."""

    key: str
    label: str
    note: str
    said: str
    change: Parts


@dataclass(frozen=True)
class Convention:
    """What there is to choose. chosen: the key of the choice that a statement has made, '' where it has made none of these."""

    name: str
    title: str
    choices: tuple[Choice, ...]
    chosen: str


def _choice(key: str, label: str, note: str, said: str = "", **change: str | bool | tuple[str, ...] | None) -> Choice:
    return Choice(key, label, note, said, change)


def _always(_: Statement) -> bool:
    return True


@dataclass(frozen=True)
class _Kept:
    """A convention of the table. fits: the statements that have it; of: the ledgers. along: parts that decide nothing."""

    name: str
    title: str
    choices: tuple[Choice, ...]
    fits: Callable[[Statement], bool] = _always
    of: Callable[[LedgerFacts], bool] = lambda _: True
    along: tuple[str, ...] = ()


_TABLE: tuple[_Kept, ...] = (
    _Kept(
        "returns",
        "Returns count on",
        (
            _choice(
                "own_day", "their own day", "The day on which the goods came back.",
                returns="own_day", refunds="divided", returns_within="as_of",
            ),
            _choice(
                "divided", "the day of their sale", "A refund known by order only is divided over the order's lines.",
                "returns on the day of their sale", returns="sale_day", refunds="divided",
            ),
            _choice(
                "not_allocated", "the day of their sale, order refunds not allocated",
                "A refund known by order only stands under “not allocated”.",
                "returns on the day of their sale, order refunds not allocated", returns="sale_day", refunds="not_allocated",
            ),
        ),
        of=lambda ledger: ledger.with_role("order") is not None,
        # In which time they came back is a convention of its own: it only goes where they do.
        along=("returns_within",),
    ),
    _Kept(
        "within",
        "They count if they came back",
        (
            _choice("as_of", "by the as-of date", "A base had longer for its returns, and is marked so.", returns_within="as_of"),
            _choice(
                "same_time", "in the same time",
                "In a base, only returns that came back in the time that the current window had.",
                "returns that came back in the same time", returns_within="same_time",
            ),
        ),
        fits=lambda statement: statement.returns == "sale_day",
    ),
    _Kept(
        "levels",
        "Where a lookup changed, levels stand",
        (
            _choice("as_it_was", "as they were", "A line takes the level valid on its day.", levels="as_it_was"),
            _choice(
                "as_it_is_now", "as they are now", "All lines take the level valid on the as-of date.", "levels as they are now",
                levels="as_it_is_now",
            ),
        ),
        of=lambda ledger: any(each.of for each in ledger.dimensions),
    ),
    _Kept(
        "feeds",
        "Feeds that end on different days are counted",
        (
            _choice("each", "each to its own end", "Cells that read them are marked.", feeds_end="each"),
            _choice(
                "earliest", "all to the earliest end", "Every window is cut where the first of them ends.",
                "all feeds cut at the earliest end", feeds_end="earliest",
            ),
        ),
        of=lambda ledger: len(ledger.feeds) > 1,
    ),
    _Kept(
        "negative",
        "Against a base below 0, % change and % of base are",
        (
            _choice("undefined", "left out", "They would mislead; the change stands.", negative_bases="undefined"),
            _choice(
                "divided", "divided as they are", "From −100 to 50 is then −150%.", "negative bases divided as they are",
                negative_bases="divided",
            ),
        ),
        fits=lambda statement: bool(statement.bases),
    ),
    _Kept(
        "members",
        "Rows are those of",
        (
            _choice("counted", "members with a line", "In any of the windows.", all_members=False),
            _choice("all", "every known member", "With 0 where it has no line.", "every known member", all_members=True),
        ),
        fits=lambda statement: any(isinstance(each, str) for each in (*statement.rows, *statement.across)),
    ),
    _Kept(
        "shares",
        "Shown shares of a complete list are",
        (
            _choice("each", "rounded each by itself", "They may add up to 99.9% or 100.1%.", shares_add_up=False),
            _choice(
                "add_up", "rounded so that they add up", "The largest remainders are rounded up.", "shown shares add up",
                shares_add_up=True,
            ),
        ),
        fits=lambda statement: any(each.shares or set(SHARES) & set(each.show) for each in statement.measures),
    ),
)  # fmt: skip


def conventions_of(statement: Statement, ledger: LedgerFacts) -> tuple[Convention, ...]:
    """The conventions that a statement of a ledger can have, with what it has chosen."""
    table = [each for each in _TABLE if each.of(ledger) and each.fits(statement)]
    if any("price_volume_mix" in each.show for each in statement.measures):
        table += _splits([each.name for each in ledger.dimensions if each.role != "order"])
    return tuple(
        Convention(
            each.name,
            say(each.title),
            tuple(map(_in_words, each.choices)),
            chosen.key if (chosen := _chosen(each, statement)) else "",
        )
        for each in table
    )


def convention_words(statement: Statement) -> list[tuple[str, str]]:
    """(convention, words) of each that is not as usual, in their order."""
    table = [each for each in _TABLE if each.fits(statement) or each.name in ("members", "shares", "negative")]
    said = [(each.name, say(choice.said)) for each in table if (choice := _chosen(each, statement)) and choice.said]
    if statement.items:
        said.append(("items", _over(statement.items)))
    if statement.unit_of_measure:
        said.append(("unit", _within(statement.unit_of_measure)))
    return said


def _in_words(choice: Choice) -> Choice:
    return replace(choice, label=say(choice.label), note=say(choice.note), said=say(choice.said))


def written() -> Iterator[str]:
    """The words of the table as they are written: messages of a catalogue."""
    for each in (*_TABLE, *_splits([])):
        yield each.title
        for choice in each.choices:
            yield from filter(None, (choice.label, choice.note, choice.said))


def _chosen(kept: _Kept, statement: Statement) -> Choice | None:
    """The last choice whose parts are the statement's."""
    own = {name: getattr(statement, name) for choice in kept.choices for name in choice.change if name not in kept.along}
    return next(
        (
            choice
            for choice in reversed(kept.choices)
            if all(own[name] == value for name, value in choice.change.items() if name in own)
        ),
        None,
    )


def _over(items: tuple[str, ...]) -> str:
    return say("price, volume and mix over each {names}", names=say(" and ").join(map(dimension_name, items)))


def _within(unit: str) -> str:
    return say("volume and mix within each {dimension}", dimension=dimension_name(unit))


def _splits(names: list[str]) -> list[_Kept]:
    """What price, volume and mix are formed over, and within what their quantities are counted, by a ledger's dimensions."""
    over = [
        _choice(
            name, say("each {dimension}", dimension=dimension_name(name)), "The same in every row.", _over((name,)), items=(name,)
        )
        for name in names
        if name != "product"
    ]
    within = [
        _choice(
            name, say("what {dimension} says", dimension=dimension_name(name)),
            "Volume and mix are formed within each, then added.", _within(name), unit_of_measure=name,
        )
        for name in names
    ]  # fmt: skip
    return [
        _Kept(
            "items",
            "Price, volume and mix are formed over",
            (_choice("", "products", "Unless a level below them is named.", items=()), *over),
        ),
        _Kept(
            "unit",
            "Quantities are counted in",
            (_choice("", "one unit", "All quantities can be added.", unit_of_measure=None), *within),
        ),
    ]
