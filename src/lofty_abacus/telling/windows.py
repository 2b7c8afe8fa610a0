"""Windows and bases in words: in the sentence, over columns, and what is to be said of them."""

from __future__ import annotations

from datetime import date

from lofty_abacus.core.answer.answer import Answer, AnsweredWindow, Row
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.levels import TimeLevel, grains_of
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.core.windows.bases import Base, FixedBase, GivenBase, LedgerBase, PeriodBase, ShiftedBase
from lofty_abacus.core.windows.current import CurrentWindow, Dates, LastPeriods, NamedPeriod, RunningPeriod, ToDate
from lofty_abacus.core.windows.fairness import Fairness
from lofty_abacus.core.windows.ranges import DayRange
from lofty_abacus.core.windows.reasons import Reason
from lofty_abacus.telling.framed import Windowed
from lofty_abacus.telling.names import capital, count, day_words, ordinal, period_words, range_words
from lofty_abacus.telling.vocabulary import ALIGNMENTS, FAIRNESS, GRAINS, MANY, REASONS, SHORT_REASONS

WEEK = 7


def window_name(window: CurrentWindow, as_of: date | None, *, is_over: bool = False) -> str:
    """What a window is called in the statement: year to date at 17 Oct 2026. is_over: a later day adds nothing."""
    day = day_words(as_of) if as_of else say("the last posted day")
    match window:
        case RunningPeriod() if window.back:
            return say("{before} the one of {day}", before=_before(window), day=day)
        case LastPeriods():
            name = plain_window_name(window)
            by_then = window.ending == "as_of"
            return (
                say("{window} to {day}", window=name, day=day)
                if by_then
                else say("{window} completed by {day}", window=name, day=day)
            )
        case Dates() if window.last is None:
            return say("{first} to {day}", first=day_words(window.first), day=day)
        case ToDate() if window.completed:
            return say(
                "{grain} to date at {day}, completed {grains}",
                grain=GRAINS[window.grain],
                day=day,
                grains=MANY[window.completed],
            )
        case _ if is_over:
            return plain_window_name(window)
        case _:
            return say("{window} at {day}", window=plain_window_name(window), day=day)


def plain_window_name(window: CurrentWindow) -> str:
    """The same without its day: year to date, last 12 months."""
    match window:
        case ToDate():
            completed = say(", completed {grains}", grains=MANY[window.completed]) if window.completed else ""
            return say("{grain} to date{completed}", grain=GRAINS[window.grain], completed=completed)
        case RunningPeriod():
            return (
                say("{before} the running one", before=_before(window))
                if window.back
                else say("running {grain}", grain=GRAINS[window.grain])
            )
        case NamedPeriod():
            return period_words(window.period)
        case LastPeriods():
            return say("last {counted}", counted=count(window.count, window.grain))
        case Dates():
            first = day_words(window.first)
            return (
                say("{first} to the as-of date", first=first) if window.last is None else range_words(window.first, window.last)
            )


def whole_window_name(window: CurrentWindow) -> str:
    """The same with its article, for whatever as-of date: the year to date, the last 12 months completed by it, Q3 2026."""
    name = plain_window_name(window)
    match window:
        case LastPeriods() if window.ending == "as_of":
            return say("the {window} to the as-of date", window=name)
        case LastPeriods():
            return say("the {window} completed by the as-of date", window=name)
        case NamedPeriod() | Dates():
            return name
        case _:
            return say("the {window}", window=name)


def rod_name(window: CurrentWindow) -> str:
    """The same beside its rod, where it is told apart from its bases: this year to date."""
    return say("this {window}", window=plain_window_name(window)) if isinstance(window, ToDate) else plain_window_name(window)


def _before(window: RunningPeriod) -> str:
    grain = GRAINS[window.grain]
    return say("{grain} {back} before", grain=grain, back=window.back) if window.back > 1 else say("{grain} before", grain=grain)


def base_name(base: Base, statement: Statement, as_of: date | None) -> str:
    """What a base is called in the statement: the same dates last year, the quarter before, two years back."""
    match base:
        case GivenBase():
            if isinstance(base.window, NamedPeriod):
                return period_words(base.window.period)
            last = base.window.last
            return (
                say("{day} to the last posted day", day=day_words(base.window.first))
                if last is None
                else range_words(base.window.first, last)
            )
        case FixedBase():
            return say("the same period of {period}{aligning}", period=period_words(base.period), aligning=_aligning(base.align))
        case LedgerBase():
            spread = say(", spread over working days") if base.spread == "working_days" else ""
            return say("the ledger {ledger}{aligning}{spread}", ledger=base.ledger, aligning=_aligning(base.align), spread=spread)
        case ShiftedBase():
            counted = count(abs(base.back), base.unit)
            days = (
                say("the days {counted} later", counted=counted)
                if base.back < 0
                else say("the days {counted} earlier", counted=counted)
            )
            return days + _aligning(base.align)
        case PeriodBase():
            return _at_days(base, statement) or _period_base(base, statement, as_of)


def _unit(unit: str, statement: Statement) -> str:
    """What a base steps by; a series with one level of time steps by that."""
    grain = _grain(unit, statement)
    return say("period") if grain == "period" else GRAINS[grain]


def _grain(unit: str, statement: Statement) -> str:
    grains = set(grains_of((*statement.rows, *statement.across)))
    return grains.pop() if unit == "period" and len(grains) == 1 else unit


def _at_days(base: PeriodBase, statement: Statement) -> str:
    """At days a previous period that came down from months or years is the same weekday a week earlier."""
    levels = (*statement.rows, *statement.across)
    if (
        base.unit != "period"
        or not base.day_back
        or not any(isinstance(each, TimeLevel) and each.time == "day" for each in levels)
    ):
        return ""
    weeks, rest = divmod(base.day_back, WEEK)
    if not rest:
        return (
            say("the same weekday a week earlier") if weeks == 1 else say("the same weekday {weeks} weeks earlier", weeks=weeks)
        )
    return say("the day before") if base.day_back == 1 else ""


def _period_base(base: PeriodBase, statement: Statement, as_of: date | None) -> str:
    window = statement.window
    back, size, years = base.back, abs(base.back), base.unit == "year"
    unit = _unit(base.unit, statement)
    if base.align == "same_dates" and base.unit != "period":
        if back == 1:
            return say("the same dates last year") if years else say("the same days of the {unit} before", unit=unit)
        if back == -1:
            return say("the same dates next year") if years else say("the same days of the {unit} after", unit=unit)
        if years and isinstance(window, ToDate) and window.grain == "year":
            return say("the same dates of {number}", number=(as_of.year if as_of else 1970) - back)
        far = count(size, base.unit)
        return (
            say("the same dates {counted} ahead", counted=far) if back < 0 else say("the same dates {counted} back", counted=far)
        )
    how = _aligning(base.align)
    if back == 1:
        return (say("last year") if years else say("the {unit} before", unit=unit)) + how
    if back == -1:
        return (say("next year") if years else say("the {unit} after", unit=unit)) + how
    far = count(size, _grain(base.unit, statement))
    return (say("{counted} ahead", counted=far) if back < 0 else say("{counted} back", counted=far)) + how


def _aligning(align: str) -> str:
    """How a base is matched, where that is not by the same dates."""
    return "" if align == "same_dates" else f", {ALIGNMENTS[align]}"


def window_heading(answer: Windowed, at: int, statement: Statement) -> str:
    """Short heading of a window's columns."""
    if answer.periods:
        if at:
            return _short_base(statement.bases[at - 1], statement)
        return say("In the {unit}", unit=_unit("period", statement))
    window = answer.windows[at]
    if at == 0:
        if isinstance(statement.window, ToDate):
            return say("This {grain}", grain=GRAINS[statement.window.grain])
        if isinstance(statement.window, LastPeriods):
            return capital(plain_window_name(statement.window))
    if window.key:
        return period_words(window.key)
    return range_words(window.asked.first, window.asked.last) if window.asked else say("No such period")


def _short_base(base: Base, statement: Statement) -> str:
    match base:
        case PeriodBase() if abs(base.back) == 1:
            unit = _unit(base.unit, statement)
            words = say("{unit} before", unit=unit) if base.back > 0 else say("{unit} after", unit=unit)
            return capital(words)
        case PeriodBase() | ShiftedBase():
            counted = count(abs(base.back), _grain(base.unit, statement))
            return say("{counted} back", counted=counted) if base.back > 0 else say("{counted} ahead", counted=counted)
        case LedgerBase():
            return base.ledger
        case FixedBase():
            return period_words(base.period)
        case GivenBase():
            return say("Given")


def cut_words(window: AnsweredWindow) -> str:
    """The end of a period that is cut at the as-of date: 'to the 20th'; '' where it is whole."""
    if window.asked is None or window.period is None or window.asked.last >= window.period.last:
        return ""
    first, last = window.asked.first, window.asked.last
    same_month = (first.year, first.month) == (last.year, last.month)
    return say("to {day}", day=ordinal(last.day) if same_month else day_words(last))


def posted_words(window: AnsweredWindow) -> str:
    """How much of a window is posted: '11 of 12 months posted in 2023'; '' where all of it is."""
    if window.posted is None or window.asked is None:
        return ""
    first, last = window.asked.first.year, window.asked.last.year
    years = f"{first}" if first == last else say("{first} to {last}", first=first, last=last)
    return say(
        "{posted} of {counted} posted in {years}",
        posted=window.posted.posted,
        counted=count(window.posted.asked, window.posted.grain),
        years=years,
    )


def unequal_words(base: AnsweredWindow, current: AnsweredWindow, as_of: date) -> str:
    """Why a base is no equal of the current window, in one sentence."""
    days = say(
        "{counted} of it count against {current:,}",
        counted=count(base.counted_days, "day"),
        current=current.counted_days,
    )
    if base.partly_covered or current.partly_covered:
        return say("Not equal: {days}, since lines are posted for a part only.", days=days)
    if base.asked and base.asked.last > as_of:
        return say("Not equal: {days}, since it goes past the as-of date.", days=days)
    return say("Not equal: {days}, since a day is missing there or it is a period of another kind.", days=days)


def mark_words(windows: tuple[AnsweredWindow, ...], at: int) -> str:
    """What is to be said of a pair of windows, the current one and base `at` (of 0, of the current one alone); '' for nothing."""
    base = windows[at]
    said = [posted_words(each) for each in ((windows[0], base) if at else (base,))]
    if at and base.fairness == "unequal" and not any(said):
        said.append(
            say(
                "unequal: {counted} against {current}",
                counted=count(base.counted_days, "day"),
                current=windows[0].counted_days,
            )
        )
    if at and base.overlaps:
        said.append(say("overlaps the current window"))
    return "; ".join(each for each in said if each)


def row_marks(answer: Answer, row: Row) -> tuple[str, ...]:
    """The marks of a row: of its own pairs of windows in a series, of the table's in others."""
    windows = answer.windows
    if answer.periods and row.slot is not None:
        windows = answer.periods[row.slot].windows
    found = [mark_words(windows, at) for at in (range(1, len(windows)) if len(windows) > 1 else range(1))]
    return tuple(dict.fromkeys(each for each in found if each))


def days_told(asked: DayRange | None, counted_days: int, fairness: Fairness | None, reason: Reason | None) -> str:
    """What a window comes to before it is chosen: 1 Jan – 17 Oct 2025, 290 days, equal days; or why there are no days."""
    if asked is None:
        return SHORT_REASONS.get(reason or "", say("each period its own"))
    days = range_words(asked.first, asked.last)
    if reason:
        return f"{days}: {SHORT_REASONS.get(reason) or REASONS[reason]}"
    return f"{days}, {count(counted_days, 'day')}{f', {FAIRNESS[fairness]}' if fairness else ''}"
