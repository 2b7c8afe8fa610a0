"""A brief as plain text: the part of a mail for those who read no HTML."""

from __future__ import annotations

import html
import re

from lofty_abacus.core.saying import say
from lofty_abacus.export.briefs.composed import Composed, ComposedFigures
from lofty_abacus.export.briefs.views import plain_headline
from lofty_abacus.telling.briefs import windows_line
from lofty_abacus.telling.names import day_words

_BREAKS = re.compile(r"</(p|li|h3|h4|tr|blockquote)>|<br ?/?>")
_TAGS = re.compile(r"<[^>]+>")


def plain_text(composed: Composed) -> str:
    """Title, lead, headlines and what is said by rules, and where the whole of it is."""
    parts = [composed.title]
    issue = say("Issue {number}", number=composed.number) if composed.number else say("Draft")
    parts.append(f"{issue}, {say('as of {day}', day=day_words(composed.as_of))}")
    if composed.member_label:
        parts[-1] += f", {say('only {member}', member=composed.member_label)}"
    if composed.lead:
        parts.append(_plain(composed.lead))
    for block in composed.blocks:
        if block.kind == "text":
            parts.append(_plain(block.html))
        elif isinstance(block, ComposedFigures) and (words := _words(block)):
            parts.append(words)
    parts.append(say("All figures are in the PDF that comes with this mail."))
    return "\n\n".join(each for each in parts if each) + "\n"


def _words(block: ComposedFigures) -> str:
    if block.kind == "headline" and block.answer:
        return f"{plain_headline(block.answer, block.layout)}\n  ({windows_line(block.windows)})"
    told = block.movers.told.text if block.movers else block.card.told.text if block.card else ""
    return f"{block.title}\n{told}" if told else ""


def _plain(text: str) -> str:
    lines = html.unescape(_TAGS.sub("", _BREAKS.sub("\n", text))).splitlines()
    return "\n".join(line.strip() for line in lines if line.strip())
