"""Blocks of a brief in words: what each shows, of which days, and how fair its bases are."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from lofty_abacus.core.answer.answer import AnsweredWindow
from lofty_abacus.core.saying import Phrases, say
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.telling.conditions import conditions_in_words
from lofty_abacus.telling.names import day_name, period_words, range_words
from lofty_abacus.telling.sentence import filter_words, title_of
from lofty_abacus.telling.vocabulary import FAIRNESS
from lofty_abacus.telling.windows import base_name, plain_window_name, posted_words

#: Months with their whole names, as titles have them.
LONG_MONTHS = Phrases(
    {
        "01": "January",
        "02": "February",
        "03": "March",
        "04": "April",
        "05": "May",
        "06": "June",
        "07": "July",
        "08": "August",
        "09": "September",
        "10": "October",
        "11": "November",
        "12": "December",
    }
)


def month_words(day: date) -> str:
    """The month of a day: September 2026."""
    return say("{month} {year}", month=LONG_MONTHS[f"{day:%m}"], year=day.year)


def days_words(window: AnsweredWindow) -> str:
    """A window's days: the name of its period where it is a whole one, else the first and the last."""
    if window.asked is None:
        return say("no such period")
    whole = window.key is not None and window.asked == window.period
    return period_words(window.key or "") if whole else range_words(window.asked.first, window.asked.last)


def window_name(statement: Statement, windows: Sequence[AnsweredWindow]) -> str:
    """What the current window is called in a caption: year to date, Sep 2026."""
    first = windows[0] if windows else None
    if first is not None and first.key and first.asked == first.period:
        return period_words(first.key)
    return plain_window_name(statement.window)


def block_caption(statement: Statement, windows: Sequence[AnsweredWindow], as_of: date) -> str:
    """Net sales by region, year to date, against the same dates last year, where channel is Trade."""
    words = [title_of(statement), window_name(statement, windows)]
    if statement.bases:
        names = (base_name(each, statement, as_of) for each in statement.bases)
        words.append(say("against {bases}", bases=say(" and ").join(names)))
    if statement.day:
        words.append(say("counted by {day}", day=day_name(statement.day)))
    if statement.conditions:
        words.append(say("lines with {conditions}", conditions=conditions_in_words(statement)))
    if statement.filters:
        words.append(say("where {filters}", filters=say(" and ").join(map(filter_words, statement.filters))))
    return ", ".join(words)


def windows_line(windows: Sequence[AnsweredWindow]) -> str:
    """The days of windows in one line, each base with how fair it is, and how much of each is posted."""
    parts = []
    for window in windows:
        if window.asked is None:
            continue
        fair = FAIRNESS[window.fairness] if window.fairness else ""
        posted = posted_words(window) or say("partly covered") if window.partly_covered else ""
        parts.append(", ".join(each for each in (range_words(window.asked.first, window.asked.last), fair, posted) if each))
    if len(parts) < 2:
        return "".join(parts)
    return say("{current} against {bases}", current=parts[0], bases=say(" and ").join(parts[1:]))


def base_line(window: AnsweredWindow) -> str:
    """What a headline's change is on: on 1 Jan – 30 Sep 2025 · equal days."""
    posted = posted_words(window) or say("partly covered") if window.partly_covered else ""
    fair = FAIRNESS[window.fairness] if window.fairness else ""
    return " · ".join(each for each in (say("on {base}", base=days_words(window)), fair, posted) if each)
