"""Names as people read them: of dimensions, measures, members, days and periods."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import date

from lofty_abacus.core.lines import DAY
from lofty_abacus.core.saying import Phrases, counted, say
from lofty_abacus.core.statement.levels import RowLevel
from lofty_abacus.telling.vocabulary import COUNTS, GRAINS, MEASURES, MONTHS, NUMBERS, REASONS

#: Members that are named; of more, the first two are, and the others counted.
MOST_NAMED = 3


_PERIOD = re.compile(r"(?P<year>\d{4})(?:-(?P<month>0[1-9]|1[0-2])(?:-(?P<day>\d\d))?|-(?P<kind>[A-Z])(?P<number>\d{1,2}))?")
_NAMED = Phrases({"P": "Month", "W": "Week"})


def dimension_name(name: str) -> str:
    """A dimension's name; of the periods of a day: month of delivery."""
    day, _, grain = name.partition(".")
    if grain in GRAINS:
        return say("{grain} of {day}", grain=GRAINS[grain], day=day_name(day))
    return name.replace("_", " ")


def is_period_level(name: str) -> bool:
    """Whether a dimension is the periods of a day of the lines."""
    return name.partition(".")[2] in GRAINS


def day_name(name: str) -> str:
    """What a day of a line is called: its usual one, or by its name."""
    return say("usual day") if name == DAY else name.replace("_", " ")


def measure_name(name: str) -> str:
    """A measure's name."""
    return MEASURES.get(name, dimension_name(name))


def level_name(level: RowLevel) -> str:
    """A level of the rows or across."""
    return dimension_name(level) if isinstance(level, str) else GRAINS[level.time]


def capital(text: str) -> str:
    """With a capital letter first."""
    return text[:1].upper() + text[1:]


def count(number: int, thing: str) -> str:
    """A number of things that are counted, by their code: 1 day, 1,200 days."""
    return counted(*COUNTS[thing], number)


def many(name: str) -> str:
    """More than one of a dimension's members."""
    # Dimensions are named by whoever keeps the ledger: of their language only this is known.
    day, _, grain = name.partition(".")
    if grain in GRAINS:
        return say("{grains} of {day}", grains=f"{GRAINS[grain]}s", day=day_name(day))
    word = dimension_name(name)
    if re.search(r"[^aeiou]y$", word):
        return f"{word[:-1]}ies"
    return f"{word}es" if re.search(r"(s|x|ch|sh)$", word) else f"{word}s"


def member_words(members: Sequence[str | None], between: str) -> str:
    """Names of members: three at most, the rest by their number."""
    names = [say("not mapped") if key is None else key or say("blank") for key in members]
    if len(names) > MOST_NAMED:
        return say("{names} and {number} more", names=", ".join(names[:2]), number=len(names) - 2)
    return between.join(names)


def _month(number: int) -> str:
    return say(MONTHS[number - 1])


def day_words(day: date) -> str:
    """17 Oct 2026."""
    return f"{day.day} {_month(day.month)} {day.year}"


def range_words(first: date, last: date) -> str:
    """1 Jan – 17 Oct 2026, or 1 Nov 2025 – 17 Oct 2026, or one day."""
    if first == last:
        return day_words(first)
    start = f"{first.day} {_month(first.month)}" if first.year == last.year else day_words(first)
    return f"{start} – {day_words(last)}"


def period_words(key: str) -> str:
    """A period's sortable name: 2026-Q1 is Q1 2026, 2026-03 is Mar 2026, 2026-W07 is Week 7 2026; others as they are."""
    found = _PERIOD.fullmatch(key)
    if found is None:
        return key
    year, day, month, kind, number = (found[name] for name in ("year", "day", "month", "kind", "number"))
    if day:
        return f"{int(day)} {_month(int(month))} {year}"
    if month:
        return f"{_month(int(month))} {year}"
    if kind in _NAMED:
        return say("{kind} {number} {year}", kind=_NAMED[kind], number=int(number), year=year)
    return f"{kind}{number} {year}" if kind else year


def reason_words(code: str | None) -> str:
    """A reason with its code, in one field; '' for none."""
    return f"{REASONS[code].removesuffix('.')} ({code})" if code else ""


def number_words(number: int) -> str:
    """A number in a sentence: written out up to twelve, in figures from there on."""
    return NUMBERS.get(str(number), f"{number:,}")


def ordinal(day: int) -> str:
    """the 1st, the 22nd, the 13th."""
    ending = "th" if 10 <= day % 100 <= 20 else {1: "st", 2: "nd", 3: "rd"}.get(day % 10, "th")
    return {
        "th": say("the {day}th", day=day),
        "st": say("the {day}st", day=day),
        "nd": say("the {day}nd", day=day),
        "rd": say("the {day}rd", day=day),
    }[ending]
