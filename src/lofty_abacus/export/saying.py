"""What files say of periods, reasons and marks: in the words of the screen, with the codes beside them."""

from __future__ import annotations

from datetime import date

from lofty_abacus.core.answer.answer import Answer, AnsweredWindow, Row

REASONS: dict[str, str] = {
    "before_coverage": "before the first posted day",
    "after_coverage": "after the last posted day",
    "not_posted": "these days are not posted",
    "after_as_of": "after the as-of date",
    "base_is_zero": "the base is 0",
    "base_is_negative": "the base is negative",
    "window_incomplete": "the window is not complete",
    "not_given": "no line has the column that this needs",
    "not_applicable": "does not apply here",
}
_MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


def reason_words(code: str | None) -> str:
    """A reason in words with its code; '' for none."""
    return f"{REASONS[code]} ({code})" if code else ""


def day_words(day: date) -> str:
    """17 Oct 2026."""
    return f"{day.day} {_MONTHS[day.month - 1]} {day.year}"


def period_words(key: str) -> str:
    """A period's sortable name as people read it: 2026-Q1 is Q1 2026, 2026-03 is Mar 2026, 2026-W07 is Week 7 2026."""
    year, _, part = key.partition("-")
    if not part:
        return key
    if "-" in part:
        return day_words(date.fromisoformat(key))
    if part.startswith("P"):
        return f"Month {int(part[1:])} {year}"
    if part.startswith("W"):
        return f"Week {int(part[1:])} {year}"
    return f"{_MONTHS[int(part) - 1]} {year}" if part.isdecimal() else f"{part} {year}"


def cut_words(window: AnsweredWindow) -> str:
    """The end of a period that is cut at the as-of date: 'to the 20th'; '' where it is whole."""
    if window.asked is None or window.period is None or window.asked.last >= window.period.last:
        return ""
    return (
        f"to {ordinal(window.asked.last.day)}"
        if window.asked.first.month == window.asked.last.month
        else f"to {day_words(window.asked.last)}"
    )


def ordinal(day: int) -> str:
    """the 1st, the 22nd, the 13th."""
    ending = "th" if 10 <= day % 100 <= 20 else {1: "st", 2: "nd", 3: "rd"}.get(day % 10, "th")
    return f"the {day}{ending}"


def posted_words(window: AnsweredWindow) -> str:
    """How much of a window is posted: '11 of 12 months posted in 2023'; '' where all of it is."""
    if window.posted is None or window.asked is None:
        return ""
    first, last = window.asked.first.year, window.asked.last.year
    years = f"{first}" if first == last else f"{first} to {last}"
    return f"{window.posted.posted} of {window.posted.asked} {window.posted.grain}s posted in {years}"


def mark_words(windows: tuple[AnsweredWindow, ...], at: int) -> str:
    """What is to be said of a pair of windows, the current one and base `at` (of 0, of the current one alone); '' for nothing."""
    base = windows[at]
    said = [posted_words(each) for each in ((windows[0], base) if at else (base,))]
    if at and base.fairness == "unequal" and not any(said):
        said.append(f"unequal: {base.counted_days} days against {windows[0].counted_days}")
    if at and base.overlaps:
        said.append("overlaps the current window")
    return "; ".join(each for each in said if each)


def row_marks(answer: Answer, row: Row) -> tuple[str, ...]:
    """The marks of a row: of its own pairs of windows in a series, of the table's in others."""
    windows = answer.windows
    if answer.periods and row.slot is not None:
        windows = answer.periods[row.slot].windows
    found = [mark_words(windows, at) for at in (range(1, len(windows)) if len(windows) > 1 else range(1))]
    return tuple(dict.fromkeys(each for each in found if each))
