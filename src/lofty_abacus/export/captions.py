"""What a table shows, in words: the caption that goes wherever its figures go."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from types import MappingProxyType

from lofty_abacus.core.answer.answer import Answer, AnsweredWindow
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.statement import Statement
from lofty_abacus.export.layout import Layout
from lofty_abacus.telling.names import capital, count, day_words, dimension_name, range_words
from lofty_abacus.telling.notices import grouped, notice_words
from lofty_abacus.telling.sentence import sentence
from lofty_abacus.telling.vocabulary import FAIRNESS, REASONS
from lofty_abacus.telling.windows import posted_words

_NOTHING: Mapping[str, str] = MappingProxyType({})
_PLAIN = Layout()


def caption_lines(
    answer: Answer, statement: Statement, said: Mapping[str, str] = _NOTHING, layout: Layout = _PLAIN
) -> Iterator[tuple[str, str]]:
    """(what, words): ledger and version, as-of date, the sentence, windows, what was left out.

    said: what the ledger says of its dimensions and measures, by name. layout: what it hides of the rows is said, too.
    """
    yield (
        say("Ledger"),
        say("{ledger}, version {version}, {currency}", ledger=answer.ledger, version=answer.version, currency=answer.currency),
    )
    yield say("As of"), f"{day_words(answer.as_of)} ({answer.as_of.isoformat()})"
    yield say("Statement"), sentence(statement, answer)
    for name in _named(statement):
        if said.get(name):
            yield say("Means"), f"{capital(dimension_name(name))}: {said[name]}"
    for at, window in enumerate(answer.windows):
        yield (say("Base {at}", at=at) if at else say("Current")), window_words(window)
    for period in answer.periods[1:]:
        windows = "; ".join(
            f"{say('base {at}: ', at=at) if at else ''}{window_words(window)}" for at, window in enumerate(period.windows)
        )
        yield say("Period"), f"{' / '.join((*period.down, *period.across))}: {windows}"
    for words in hidden_words(layout):
        yield say("Shown"), words
    for notice in answer.notices:
        yield say("Note"), capital(notice_words(notice, statement))
    yield (
        say("Posted"),
        say("{counted}, {amount} net", counted=count(answer.posted_lines, "line"), amount=grouped(answer.posted_amount)),
    )


def hidden_words(layout: Layout) -> Iterator[str]:
    """What a layout leaves out of the rows."""
    if layout.search.strip():
        yield say("only rows whose name holds “{text}”", text=layout.search.strip())
    if layout.empty_periods == "hidden":
        yield say("no periods without figures")


def _named(statement: Statement) -> list[str]:
    """The measures and dimensions that a statement names, each once."""
    levels = [each for each in (*statement.rows, *statement.across) if isinstance(each, str)]
    measures, filtered = [each.measure for each in statement.measures], [each.dimension for each in statement.filters]
    return list(dict.fromkeys([*measures, *levels, *filtered]))


def window_words(window: AnsweredWindow) -> str:
    """A window's days, how many of them count, how fair it is, and how much of it is posted."""
    if window.asked is None:
        return REASONS[window.reason] if window.reason else say("each period its own")
    fair = f", {FAIRNESS[window.fairness]}" if window.fairness else ""
    posted = f", {posted_words(window) or say('partly covered')}" if window.partly_covered else ""
    days = say("{first} to {last}", first=window.asked.first.isoformat(), last=window.asked.last.isoformat())
    named, counted = range_words(window.asked.first, window.asked.last), count(window.counted_days, "day")
    return say(
        "{named} ({days}), {counted} counted{fair}{posted}", named=named, days=days, counted=counted, fair=fair, posted=posted
    )
