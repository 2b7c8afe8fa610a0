"""Figures of a brief as they are written, each with what proves it."""

from __future__ import annotations

import json
from dataclasses import dataclass, replace
from fractions import Fraction

from markupsafe import Markup

from lofty_abacus.core.answer.answer import AnsweredColumn, Cell
from lofty_abacus.core.answer.movers import Movers
from lofty_abacus.core.measures.table import Polarity
from lofty_abacus.export.layout import Layout
from lofty_abacus.export.showing import exact, shown_text
from lofty_abacus.telling.pieces import LinkedWords

#: An amount whose total has six digits is written in whole units.
WHOLE_FROM = 100_000
_JUDGED = ("difference", "percent_change")


@dataclass(frozen=True)
class Place:
    """Where a figure is proved: the block of the brief, by its place among those of figures."""

    block: int

    def figure(self, text: str, path: tuple[str | None, ...] | None, column: str, way: str = "") -> Markup:
        """A figure with what proves it; without a column plain text. way: favourable, adverse or ''."""
        if not text:
            return Markup('<span class="none">–</span>')
        if not column or path is None:
            return Markup('<span class="{}">{}</span>').format(way, text)
        proof = json.dumps({"block": self.block, "path": path, "column": column}, ensure_ascii=False)
        return Markup('<span class="fig {}" data-proof="{}">{}</span>').format(way, proof, text)

    def words(self, pieces: tuple[LinkedWords, ...]) -> Markup:
        """A sentence with its figures linked."""
        return Markup("").join(
            Markup("{}").format(each.text)
            if each.path is None
            else self.figure(each.text, each.path, each.column, {1: "favourable", -1: "adverse"}.get(each.favour, ""))
            for each in pieces
        )


def way_of(cell: Cell, column: AnsweredColumn) -> str:
    """Whether a change is favourable or adverse; '' for neither, and for what is no change."""
    return direction(exact(cell), column.polarity) if column.kind in _JUDGED else ""


def direction(value: Fraction | None, polarity: Polarity) -> str:
    """Whether a change of a measure is favourable or adverse; '' for neither."""
    if not value or polarity == "neutral":
        return ""
    return "favourable" if (value > 0) == (polarity == "more_is_favourable") else "adverse"


def minus(text: str) -> str:
    """With a true minus sign."""
    return text.replace("-", "\N{MINUS SIGN}") if text[:1] in "-(" or text.startswith("(-") else text


def decimals_of(column: AnsweredColumn, total: Cell, layout: Layout) -> AnsweredColumn:
    """A column with the decimals that it is shown with: as the layout says, else whole units of large amounts."""
    own = layout.decimals.get(column.measure)
    if own is not None or column.unit != "currency" or column.measure_kind == "derived":
        return column
    value = exact(total)
    return replace(column, decimals=0) if value is not None and abs(value) >= WHOLE_FROM else column


def cell_text(cell: Cell, column: AnsweredColumn, layout: Layout) -> str:
    """A cell as it is written."""
    return minus(shown_text(cell, column, layout))


def mover_column(movers: Movers, shown: str) -> AnsweredColumn:
    """A column of the statement that movers are the figures of, as a table has it."""
    measure = movers.statement.measures[0].measure
    kind = "value" if shown == "base" else shown
    unit = {"percent_change": "percent", "contribution": "percent", "share_change": "points"}.get(shown, movers.unit)
    if shown == "difference" and movers.unit == "percent":
        unit = "points"
    window = 0 if shown == "value" else movers.base
    large = movers.unit == "currency" and movers.adds_up is not None
    shown_ = movers.total.shown
    sizes = [abs(exact(shown_[each]) or Fraction(0)) for each in ("value", "base") if each in shown_]
    whole = large and max(sizes, default=Fraction(0)) >= WHOLE_FROM
    decimals = (0 if whole else movers.decimals) if unit == movers.unit else 1
    return AnsweredColumn(
        f"{measure}.{window}.{kind}",
        measure,
        kind,  # type: ignore[arg-type]
        window,
        unit,  # type: ignore[arg-type]
        decimals,
        movers.polarity,
        "additive",
    )
