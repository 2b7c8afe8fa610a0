"""A brief as frozen data: a page of blocks, each from a statement, and how it rolls forward. Its JSON form is these names."""

from __future__ import annotations

import base64
import binascii
import re
from dataclasses import dataclass, field, replace
from typing import Literal

from lofty_abacus.core.errors import QuestionError
from lofty_abacus.core.saying import say
from lofty_abacus.core.statement.statement import CountedFilter, Opened, Statement
from lofty_abacus.core.windows.as_of import AsOfPolicy, LastCompleted
from lofty_abacus.export.layout import Layout

BlockKind = Literal["headline", "table", "chart", "movers", "bridge", "scorecard", "words"]
Width = Literal["full", "half"]
Paper = Literal["A4", "Letter"]

MOST_BLOCKS = 60
MOST_TEXT = 20_000
MOST_TITLE = 160
#: Bytes of a logo.
MOST_LOGO = 300_000
_LAST_MONTH = LastCompleted("month")
_LOGO = re.compile(r"data:image/(png|jpeg);base64,([A-Za-z0-9+/=]+)")
_SIGNATURES = {"png": b"\x89PNG\r\n\x1a\n", "jpeg": b"\xff\xd8\xff"}


@dataclass(frozen=True)
class FigureBlock:
    """A block of figures. kind: how the statement is read. title: '' for what the statement is called. as_of: its own, else the
    brief's. kept: the number of a kept statement that it follows (0: made in place); `statement` is then what that was last.
    """

    kind: BlockKind
    statement: Statement
    opened: Opened = Opened()
    layout: Layout = field(default_factory=Layout)
    title: str = ""
    width: Width = "full"
    as_of: AsOfPolicy | None = None
    kept: int = 0


@dataclass(frozen=True)
class TextBlock:
    """Free text in Markdown."""

    text: str
    width: Width = "full"
    kind: Literal["text"] = "text"


@dataclass(frozen=True)
class BreakBlock:
    """What follows begins on a new page of paper."""

    kind: Literal["break"] = "break"


@dataclass(frozen=True)
class RestatedBlock:
    """What later postings changed of the issue before, as it is known when the brief is composed."""

    kind: Literal["restated"] = "restated"


Block = FigureBlock | TextBlock | BreakBlock | RestatedBlock


@dataclass(frozen=True)
class Brief:
    """What a brief is. title, lead: may hold {month}, {as_of}, {year}, {member}, {number}. lead: Markdown, '' for words by rules.

    masthead: who it is from. logo: a PNG or JPEG as a data address, '' for none. as_of: one for the whole brief, where a block
    has none of its own. filters: of the whole brief, beside those of its statements. copies: the dimension that gives every
    member a copy of its own, '' for none.
    """

    name: str
    title: str = "{month} in figures"
    lead: str = ""
    masthead: str = ""
    logo: str = ""
    paper: Paper = "A4"
    as_of: AsOfPolicy = _LAST_MONTH
    filters: tuple[CountedFilter, ...] = ()
    copies: str = ""
    blocks: tuple[Block, ...] = ()


def checked_brief(brief: Brief) -> Brief:
    """A brief with its texts trimmed. Raises QuestionError, whose part names the field."""
    name = " ".join(brief.name.split())
    if not name:
        raise QuestionError("name", say("a brief is kept under a name."), say("Write one."))
    texts = (("name", name, 120), ("title", brief.title, MOST_TITLE), ("masthead", brief.masthead, MOST_TITLE))
    for part, text, most in (*texts, ("lead", brief.lead, MOST_TEXT)):
        if len(text) > most:
            raise QuestionError(part, say("it has {count} characters.", count=len(text)), say("Keep it to {most}.", most=most))
    for part, text, _ in texts:
        if not text.isprintable():
            raise QuestionError(part, say("it holds signs that cannot be printed."), say("Write one line of text."))
    if len(brief.blocks) > MOST_BLOCKS:
        raise QuestionError(
            "blocks", say("a brief has {count} blocks.", count=len(brief.blocks)), say("Keep it to {most}.", most=MOST_BLOCKS)
        )
    for block in brief.blocks:
        if isinstance(block, TextBlock) and len(block.text) > MOST_TEXT:
            raise QuestionError(
                "text", say("it has {count} characters.", count=len(block.text)), say("Keep it to {most}.", most=MOST_TEXT)
            )
    _check_logo(brief.logo)
    return replace(brief, name=name, title=brief.title.strip(), masthead=brief.masthead.strip())


def _check_logo(logo: str) -> None:
    if not logo:
        return
    found = _LOGO.fullmatch(logo)
    way_out = say("Take a PNG or a JPEG of at most {size} kB.", size=MOST_LOGO // 1000)
    if found is None:
        raise QuestionError("logo", say("it is no picture that a brief can hold."), way_out)
    try:
        content = base64.b64decode(found[2], validate=True)
    except (binascii.Error, ValueError) as error:
        raise QuestionError("logo", say("it cannot be read."), way_out) from error
    if len(content) > MOST_LOGO or not content.startswith(_SIGNATURES[found[1]]):
        raise QuestionError("logo", say("it is no picture that a brief can hold."), way_out)
