"""What was left out or is to be known, in words: the notice line."""

from __future__ import annotations

from datetime import date

from lofty_abacus.core.answer.answer import Notice
from lofty_abacus.core.saying import Phrases, say
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.telling.conditions import conditions_in_words
from lofty_abacus.telling.names import count, day_name, day_words, measure_name

NOTICES = Phrases(
    {
        "returns_netted": "{returns} netted on {netted_on} ({amount})",
        "after_as_of": "{lines} after the as-of date left out ({amount})",
        "after_today": "{number} of them dated after today",
        "filtered_out": "{lines} left out by the filters ({amount})",
        "undated": "{lines} without a {about} count nowhere here ({amount})",
        "blank_ids": "{lines} without {about} id",
        "lacking": "{lines} without the column that {measure} needs are not in it",
        "feeds_end_apart": "feeds end on different days: {about}",
        "partly_covered": "{window} is only partly covered by posted days",
        "parts_overlap": "shares of {measure} may add to more than all: parts overlap",
        "returns_unplaced": "{returns} without a sale that fits stay on their own day ({amount})",
        "returns_open": "returns still open: those of {window} had longer to come back",
        "returns_same_time": "{window} counts returns that came back by {day}, the time that the current window had",
        "levels_as_now": "levels as they are on {day}, for all days",
        "status_left_out": "{lines} ({amount}) of rows with another status left out: {about}",
        "without_holidays": "{window}: no holidays are kept, so working days are weekdays",
        "only_in_plan": "{window} has {lines} ({amount}) of members that this ledger does not know: {about}",
    }
)
#: What is said where conditions are among the filters.
_WITH_CONDITIONS = Phrases({"filtered_out": "{lines} left out: only lines with {conditions} are counted ({amount})"})
_OF_A_DAY = ("returns_same_time", "levels_as_now")


def notice_words(notice: Notice, statement: Statement) -> str:
    """One notice."""
    conditions = conditions_in_words(statement)
    phrases = _WITH_CONDITIONS if conditions and notice.code in _WITH_CONDITIONS else NOTICES
    return phrases[notice.code].format(
        lines=count(notice.lines, "line"),
        returns=count(notice.lines, "return"),
        number=f"{notice.lines:,}",
        amount=grouped(notice.amount or ""),
        about=day_name(notice.about) if notice.code == "undated" else notice.about,
        conditions=conditions,
        measure=measure_name(notice.about),
        window=say("base {window}", window=notice.window) if notice.window else say("the current window"),
        day=day_words(date.fromisoformat(notice.about)) if notice.code in _OF_A_DAY else "",
        netted_on=_netted_on(notice.lines == 1, statement.returns == "sale_day"),
    )


def _netted_on(one: bool, sale_day: bool) -> str:
    if sale_day:
        return say("the day of its sale") if one else say("the day of their sale")
    return say("its own date") if one else say("their own date")


def grouped(text: str) -> str:
    """Decimal text as people read it: commas between thousands, a minus and no hyphen: −1,234.50."""
    sign, digits = ("−", text[1:]) if text.startswith("-") else ("", text)
    whole, point, part = digits.partition(".")
    return f"{sign}{int(whole):,}{point}{part}" if whole.isdecimal() else text
