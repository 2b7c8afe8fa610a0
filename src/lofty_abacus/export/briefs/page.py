"""The one rendering of a brief: HTML with style and pictures in it. Screen, paper, single file and mail are made of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from jinja2 import Environment, PackageLoader, StrictUndefined
from markupsafe import Markup

from lofty_abacus.core.saying import say
from lofty_abacus.export.briefs import views
from lofty_abacus.export.briefs.composed import (
    Composed,
    ComposedBlock,
    ComposedFigures,
    own_as_of,
)
from lofty_abacus.export.briefs.fonts import Fonts, Placing
from lofty_abacus.export.briefs.tables import table_of
from lofty_abacus.export.briefs.written import Place
from lofty_abacus.telling.briefs import windows_line
from lofty_abacus.telling.names import day_words

#: Lines of a table that still stands beside another block: a longer one is set over the whole width, and may go on overleaf.
MOST_BESIDE = 24
#: Headlines that stand beside each other.
MOST_HEADLINES = 4
#: Where the rules of the fonts go: the files that stand alone have them, what is shown by the application does not.
FONTS_MARK = "/* fonts */"


@dataclass(frozen=True)
class BlockView:
    """A block as the template takes it.

    number: among the blocks of figures, by which its figures are proved. at: its place in the brief.
    """

    kind: str
    at: int
    title: str = ""
    caption: str = ""
    windows: str = ""
    number: int = 0
    html: Markup | None = None
    shown: object = None
    wide: bool = True


def page(composed: Composed, checksum: str = "") -> str:
    """The whole document. Nothing in it is fetched from anywhere. checksum: of an issue's figures."""
    views_ = _block_views(composed)
    return (
        _environment()
        .get_template("page.html.j2")
        .render(
            composed=composed,
            rows=_rows(views_),
            style=Markup(_style()),
            fonts=Markup(FONTS_MARK),
            lead=Markup(composed.lead),
            issue=_issue_words(composed),
            state=_state_words(composed),
            say=say,
            captions=composed.captions,
            checksum=checksum,
        )
    )


def with_fonts(html: str, fonts: Fonts, how: Placing) -> str:
    """The document with the rules of its fonts."""
    return html.replace(FONTS_MARK, fonts.faces(how), 1)


def _issue_words(composed: Composed) -> str:
    if composed.number is None:
        return say("Draft, {day}", day=day_words(composed.date))
    parts = (say("Issue {number}", number=composed.number), day_words(composed.date), composed.author)
    return " · ".join(each for each in parts if each)


def _state_words(composed: Composed) -> str:
    said = say("as of {day} · version {version}", day=day_words(composed.as_of), version=composed.version)
    posted = f"{day_words(composed.posted_at.date())} {composed.posted_at:%H:%M}"
    ended = say("frozen") if composed.number is not None else say("living")
    return f"{said} · {say('posted {time} UTC', time=posted)} · {ended}"


def _block_views(composed: Composed) -> list[BlockView]:
    found, number = [], 0
    for at, block in enumerate(composed.blocks):
        found.append(_view(composed, block, number, at))
        number += isinstance(block, ComposedFigures)
    return found


def _view(composed: Composed, block: ComposedBlock, number: int, at: int) -> BlockView:
    if block.kind == "break":
        return BlockView("break", at)
    if block.kind == "text":
        return BlockView("text", at, html=Markup(block.html), wide=block.width == "full")
    if block.kind == "restated":
        return BlockView("restated", at, shown=block)
    place = Place(number)
    shown: object = None
    wide = block.width == "full"
    if block.kind == "headline" and block.answer:
        shown, wide = views.headline_view(block.answer, block.statement, block.layout, place), False
    elif block.kind == "table" and block.answer:
        shown = table_of(block.answer, block.statement, block.layout, place)
        wide = wide or len(shown.lines) > MOST_BESIDE
    elif block.kind == "chart" and block.answer:
        shown = views.chart_view(block.answer, block, wide=wide)
    elif block.kind == "movers" and block.movers:
        shown = (views.movers_view(block.movers, block.layout, place), block.movers.told)
    elif block.kind == "bridge" and block.movers:
        shown = views.bridge_view(block.movers, block.layout, place)
    elif block.kind == "scorecard" and block.card:
        shown = views.card_view(block.card, block.layout.card, block.layout, place)
    elif block.kind == "words":
        shown = views.words_view(block, place)
    caption = ", ".join(each for each in (block.caption, own_as_of(block, composed)) if each)
    return BlockView(block.kind, at, block.title, caption, windows_line(block.windows), number, shown=shown, wide=wide)


def _rows(found: Sequence[BlockView]) -> list[list[BlockView]]:
    """Blocks that stand beside each other: headlines that follow each other, and pairs of halves."""
    rows: list[list[BlockView]] = []
    for block in found:
        last = rows[-1] if rows else []
        if last and _fits(last, block):
            last.append(block)
        else:
            rows.append([block])
    return rows


def _fits(row: Sequence[BlockView], block: BlockView) -> bool:
    if block.wide or block.kind == "break" or row[0].wide or row[0].kind == "break":
        return False
    if block.kind == "headline":
        return row[0].kind == "headline" and len(row) < MOST_HEADLINES
    return row[0].kind != "headline" and len(row) == 1


@cache
def _environment() -> Environment:
    return Environment(
        loader=PackageLoader("lofty_abacus.export.briefs"),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )


@cache
def _style() -> str:
    return (files("lofty_abacus.export.briefs") / "templates" / "page.css").read_text(encoding="utf-8")
