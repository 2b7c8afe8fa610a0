"""Sentences with figures in them that can be proved: made as one message each, so that a language can order its words."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from fractions import Fraction

from lofty_abacus.core.answer.answer import Cell
from lofty_abacus.core.money import round_half_away
from lofty_abacus.telling.notices import grouped

_MARK = re.compile("\ue000(\\d+)\ue001")


@dataclass(frozen=True)
class LinkedWords:
    """A piece of a sentence. A figure, or a member, has what proves it: the row's path and the column's id in the statement told.

    favour: 1 favourable, -1 adverse, 0 neither. number: whether it is a number, written 1,234.50.
    """

    text: str
    path: tuple[str | None, ...] | None = None
    column: str = ""
    favour: int = 0
    number: bool = False


class Sentences:
    """Sentences as they are made. What is linked stands in a message as a value like any other."""

    def __init__(self) -> None:
        self._links: list[LinkedWords] = []
        self.made: list[tuple[LinkedWords, ...]] = []

    def link(self, text: str, path: tuple[str | None, ...], column: str, *, favour: int = 0, number: bool = True) -> str:
        """What stands in a message for a figure or a member that can be proved."""
        self._links.append(LinkedWords(text, path, column, favour, number))
        return f"\ue000{len(self._links) - 1}\ue001"

    def add(self, said: str) -> None:
        """A sentence with what is linked in it; its first letter is a capital one."""
        pieces: list[LinkedWords] = []
        for at, part in enumerate(_MARK.split(said)):
            if at % 2:
                pieces.append(self._links[int(part)])
            elif part:
                pieces.append(LinkedWords(part))
        if pieces and not pieces[0].number:
            first = pieces[0]
            pieces[0] = replace(first, text=first.text[:1].upper() + first.text[1:])
        self.made.append(tuple(pieces))


def figure_text(cell: Cell, unit: str, decimals: int, *, signed: bool = False) -> str:
    """A figure in a sentence: rounded once from the exact value, thousands grouped, a true minus: −23,365.00, +13.0%, 0.4 points.

    Empty where there is none.
    """
    if cell.value is None:
        return ""
    ratio = cell.numerator is not None and cell.denominator is not None
    value = Fraction(int(cell.numerator or 0), int(cell.denominator or 1)) if ratio else Fraction(cell.value)
    percent = unit in ("percent", "points")
    text = grouped(round_half_away(value * 100 if percent else value, decimals) if ratio or percent else cell.value)
    ending = "%" if unit == "percent" else ""
    return ("+" if signed and value > 0 else "") + text + ending


def size_text(cell: Cell, unit: str, decimals: int) -> str:
    """The same without its sign, where the words say which way it went."""
    return figure_text(cell, unit, decimals).lstrip("−")


def plain(sentences: tuple[tuple[LinkedWords, ...], ...]) -> str:
    """Sentences as one text, to be copied or printed."""
    return " ".join("".join(piece.text for piece in sentence) for sentence in sentences)
