"""What is new in a draft against the last issue, block by block."""

from __future__ import annotations

from dataclasses import dataclass

from lofty_abacus.actions.briefs.figures_of import ShownFigure, shown_figures
from lofty_abacus.core.saying import counted, say
from lofty_abacus.export.briefs.composed import Composed, ComposedFigures


@dataclass(frozen=True)
class BlockNews:
    """What is new of a block.

    at: its place among the blocks of figures. state: new (it was not there), gone, as_it_was, moved_on. words: in one line each.
    """

    at: int
    title: str
    state: str
    words: tuple[str, ...]


def news_of(draft: Composed, last: Composed | None) -> tuple[BlockNews, ...]:
    """Every block of a draft against the last issue's, then those that are gone. None: nothing is published yet."""
    if last is None:
        return ()
    before = [each for each in last.blocks if isinstance(each, ComposedFigures)]
    found: list[BlockNews] = []
    for at, block in enumerate(each for each in draft.blocks if isinstance(each, ComposedFigures)):
        known = next((each for each in before if _same(each, block)), None)
        title = block.title or block.caption
        if known is None:
            found.append(BlockNews(at, title, "new", (say("not in the last issue"),)))
            continue
        before.remove(known)
        words = _changes(known, block)
        found.append(BlockNews(at, title, "moved_on" if words else "as_it_was", words or (say("as it was"),)))
    return (*found, *(BlockNews(-1, each.title or each.caption, "gone", (say("no more in the draft"),)) for each in before))


def _same(one: ComposedFigures, other: ComposedFigures) -> bool:
    """Whether two blocks ask the same, whatever the day."""
    if one.kind != other.kind:
        return False
    measures = [each.id for each in one.statement.measures] == [each.id for each in other.statement.measures]
    return measures and one.statement.rows == other.statement.rows and one.statement.window == other.statement.window


def _changes(then: ComposedFigures, now: ComposedFigures) -> tuple[str, ...]:
    before, after = list(shown_figures(then)), list(shown_figures(now))
    words = []
    first, latest = _first(before), _first(after)
    if first and latest and first.text != latest.text:
        words.append(say("{figure}: {then} then, {now} now", figure=latest.heading, then=first.text, now=latest.text))
    rows_before, rows_now = ({each.key.path: each.row for each in found if each.key.path} for found in (before, after))
    new, gone = (
        [rows_now[path] for path in rows_now if path not in rows_before],
        [rows_before[path] for path in rows_before if path not in rows_now],
    )
    if new:
        words.append(say("{rows} new: {names}", rows=counted("{number} row", "{number} rows", len(new)), names=_few(new)))
    if gone:
        words.append(say("{rows} gone: {names}", rows=counted("{number} row", "{number} rows", len(gone)), names=_few(gone)))
    return tuple(words)


def _first(figures: list[ShownFigure]) -> ShownFigure | None:
    return next((each for each in figures if not each.key.path), None)


def _few(names: list[str]) -> str:
    return ", ".join(names[:3]) + ("…" if len(names) > 3 else "")
