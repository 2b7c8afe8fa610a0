"""From the filters and conditions of a statement to codes, minor units and day numbers (sections 1 and 6)."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from datetime import date
from fractions import Fraction

from lofty_abacus.core.calendar.periods import period_named
from lofty_abacus.core.calendar.settings import Grain
from lofty_abacus.core.days import day_number
from lofty_abacus.core.errors import NotExactError, QuestionError, nearest
from lofty_abacus.core.grouping.request import (
    DayFilter,
    DayOrderFilter,
    Dictionary,
    FigureFilter,
    Filter,
    GivenFilter,
    MemberFilter,
)
from lofty_abacus.core.lines import BLANK, DAY, NOT_MAPPED, Members
from lofty_abacus.core.money import decimal_parts
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.conditions import AS_OF, Condition, DayCompared, DayWithin, FigureBetween, Given, TextLike
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.core.statement.levels import dimensions_of, period_level
from lofty_abacus.core.statement.statement import CountedFilter, Statement
from lofty_abacus.core.windows.coverage import Coverage
from lofty_abacus.core.windows.current import current_window

#: Stand for no bound among day numbers.
_FIRST, _LAST = -(2**31) + 1, 2**31 - 1


def periods_read(statement: Statement, ledger: LedgerFacts) -> tuple[tuple[str, Grain], ...]:
    """The days and grains whose periods a statement has as rows, columns, items or conditions."""
    names = [*dimensions_of((*statement.rows, *statement.across)), *statement.items, statement.unit_of_measure or ""]
    names += [name for shown in statement.measures for scope in shown.shares for name in scope.keep]
    names += [limit.dimension for limit in statement.limits if limit.kind == "members"]
    names += [each.of for each in statement.conditions if isinstance(each, Given)]
    found = (period_level(name, ledger.day_names) for name in names)
    return tuple(dict.fromkeys(each for each in found if each is not None))


@dataclass(frozen=True)
class Filtering:
    """What filters and conditions are read with."""

    ledger: LedgerFacts
    source: Dictionary
    as_of: date
    coverage: Coverage

    def filters(self, statement: Statement) -> tuple[Filter, ...]:
        """All of a statement's. Raises QuestionError with the part that cannot be."""
        return (
            *(self._counted(each, f"filters[{at}]") for at, each in enumerate(statement.filters)),
            *(self._condition(each, f"conditions[{at}]") for at, each in enumerate(statement.conditions)),
        )

    def _counted(self, each: CountedFilter, part: str) -> Filter:
        level = period_level(each.dimension, self.ledger.day_names)
        if level is not None:
            named = [period_named(key, self.ledger.calendar, part) for key in each.members if key]
            stretches = tuple((day_number(period.first), day_number(period.last)) for period in named)
            return DayFilter(level[0], stretches, "" in each.members, each.exclude)
        members = self.source.members(each.dimension)
        for key in each.members:
            if key not in members.codes:
                known = [str(name) for name in members.codes if name]
                raise QuestionError(
                    part, say("{dimension} has no member {key!r}.", dimension=each.dimension, key=key), nearest(str(key), known)
                )
        named_codes = frozenset(members.codes[key] for key in each.members)
        return MemberFilter(each.dimension, frozenset(range(members.size)) - named_codes if each.exclude else named_codes)

    def _condition(self, each: Condition, part: str) -> Filter:
        match each:
            case FigureBetween():
                return self._between(each, part)
            case DayWithin():
                self._check_day(each.day, part)
                window = current_window(each.window, self.as_of, self.coverage, self.ledger.calendar).window
                if window.asked is None:
                    raise QuestionError(part, say("these days cannot be told."), say("Name another window."))
                return DayFilter(each.day, ((day_number(window.asked.first), day_number(window.asked.last)),))
            case DayCompared():
                return self._compared(each, part)
            case TextLike():
                return self._text(each, part)
            case Given():
                return self._given(each, part)

    def _between(self, each: FigureBetween, part: str) -> FigureFilter:
        self._check_figure(each.figure, part)
        if each.at_least is None and each.at_most is None:
            raise QuestionError(part, say("no bound is given."), say("Say at least or at most how much."))
        scale = 10 ** self.ledger.scales.of_column(each.figure)
        least, most = (None if text is None else _exactly(text, part) * scale for text in (each.at_least, each.at_most))
        if least is not None and most is not None and least > most:
            raise QuestionError(part, say("no figure is that large and that small."), say("Exchange the two bounds."))
        # A bound with more decimals than the ledger keeps lies between two figures of it.
        return FigureFilter(each.figure, None if least is None else -(-least // 1), None if most is None else most // 1)

    def _compared(self, each: DayCompared, part: str) -> Filter:
        self._check_day(each.day, part)
        if each.other != AS_OF:
            self._check_day(each.other, part)
            if each.other == each.day:
                raise QuestionError(part, say("a day is held against itself."), say("Name another day of the line."))
            return DayOrderFilter(each.day, each.relation, each.other, each.or_blank)
        at = day_number(self.as_of)
        stretch = {"before": (_FIRST, at - 1), "on": (at, at), "after": (at + 1, _LAST)}[each.relation]
        return DayFilter(each.day, (stretch,), each.or_blank)

    def _text(self, each: TextLike, part: str) -> Filter:
        self._check_dimension(each.dimension, part)
        if not each.text.strip():
            raise QuestionError(part, say("no text is given."), say("Say what to look for, or ask for blank ones."))
        members = self.source.members(each.dimension)
        codes = codes_like(members, each)
        return MemberFilter(each.dimension, frozenset(range(members.size)) - codes if each.exclude else codes)

    def _given(self, each: Given, part: str) -> Filter:
        if each.of in (one.name for one in self.ledger.days):
            everywhen = ((_FIRST, _LAST),)
            return DayFilter(each.of, everywhen if each.given else (), not each.given)
        if each.of in self._figures():
            return GivenFilter(each.of, each.given)
        self._check_dimension(each.of, part)
        members = self.source.members(each.of)
        blank = frozenset(code for code in (BLANK, NOT_MAPPED) if code < members.size and not members.key(code))
        return MemberFilter(each.of, frozenset(range(members.size)) - blank if each.given else blank)

    def _figures(self) -> list[str]:
        return [name for name in ("amount", "quantity", "cost", *(one.name for one in self.ledger.figures))
                if name == "amount" or name in self.ledger.has]  # fmt: skip

    def _check_figure(self, name: str, part: str) -> None:
        if name not in self._figures():
            raise QuestionError(
                part, say("no line of this ledger has a figure {name!r}.", name=name), nearest(name, self._figures())
            )

    def _check_day(self, name: str, part: str) -> None:
        known = [DAY, *(each.name for each in self.ledger.days)]
        if name not in known:
            raise QuestionError(part, say("this ledger has no day {day!r}.", day=name), nearest(name, known))

    def _check_dimension(self, name: str, part: str) -> None:
        if self.ledger.dimension(name) is None:
            known = [each.name for each in self.ledger.dimensions]
            raise QuestionError(part, say("this ledger has no dimension {name!r}.", name=name), nearest(name, known))


#: Whether a name is like a text, both in small letters.
_LIKE: Mapping[str, Callable[[str, str], bool]] = {"begins": str.startswith, "contains": str.__contains__, "equals": str.__eq__}


def codes_like(members: Members, wanted: TextLike) -> frozenset[int]:
    """The codes of the members whose key or name is like a text."""
    like, text = _LIKE[wanted.relation], wanted.text.strip().casefold()

    def texts(code: int) -> Iterator[str]:
        yield (members.key(code) or "").casefold()
        yield members.label(code).casefold()

    return frozenset(code for code in range(members.size) if any(like(each, text) for each in texts(code) if each))


def _exactly(text: str, part: str) -> Fraction:
    try:
        unscaled, decimals = decimal_parts(text)
    except NotExactError as error:
        raise QuestionError(part, say("{text!r} is no number.", text=text), say("Write it as 1234.56.")) from error
    return Fraction(unscaled, 10**decimals)
