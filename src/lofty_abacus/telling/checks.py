"""Whether a table agrees with the posted lines, in words: the head of the notice line."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from lofty_abacus.core.saying import counted, say
from lofty_abacus.telling.names import capital, count, day_words, measure_name
from lofty_abacus.telling.notices import grouped


def agreeing_words(lines: int, checked: Sequence[str], not_checked: Sequence[str], net: str | None, as_of: date) -> str:
    """What is said where all that was checked agrees.

    lines: posted lines of the current window; checked, not_checked: measures; net: the net sales of all lines up to the as-of
    date, where returns are read on the day of their sale.
    """
    if not not_checked:
        return say("Agrees to the cent with {lines}, added up by the database itself", lines=count(lines, "posted_line"))
    # A measure that is compared is checked once a window.
    checked, not_checked = tuple(dict.fromkeys(checked)), tuple(dict.fromkeys(not_checked))
    left = counted(
        "{measures} reads returns on the day of their sale, which the database does not add up",
        "{measures} read returns on the day of their sale, which the database does not add up",
        len(not_checked),
        measures=_listed(not_checked),
    )
    parts = []
    if checked:
        parts.append(
            counted(
                "{measures} agrees to the cent with {lines}",
                "{measures} agree to the cent with {lines}",
                len(checked),
                measures=capital(_listed(checked)),
                lines=count(lines, "posted_line"),
            )
        )
    parts.append(left if checked else capital(left))
    if net is not None:
        parts.append(
            say("over all days up to {day} net sales are {net}, as posted to the cent", day=day_words(as_of), net=grouped(net))
        )
    return "; ".join(parts)


def disagreeing_words(wrong: Sequence[tuple[str, str, str]]) -> str:
    """What is said where something does not agree. wrong: measure, the table's figure, the database's."""
    each = (
        say("{measure} is {table} here and {database} in the database.", measure=measure_name(name), table=here, database=there)
        for name, here, there in wrong
    )
    return say("Does not agree with the posted lines: {each}", each=" ".join(each))


def _listed(measures: Sequence[str]) -> str:
    return ", ".join(measure_name(each) for each in measures)
