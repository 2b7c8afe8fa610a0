"""The words, defaults and rules that the page shares with the server: printed as JSON, from which the page is built."""

from __future__ import annotations

from dataclasses import fields
from typing import Any, get_args, get_type_hints

from lofty_abacus.api.shapes import adapter
from lofty_abacus.core.statement.checking import AGAINST_A_BASE, OF_ROWS
from lofty_abacus.core.statement.statement import ShownMeasure, Statement
from lofty_abacus.core.windows.bases import FixedBase, GivenBase, LedgerBase, PeriodBase, ShiftedBase
from lofty_abacus.export.layout import Chart, Layout
from lofty_abacus.ingest.roles import RULES
from lofty_abacus.telling import vocabulary as words
from lofty_abacus.telling.measures import along_words


def vocabulary() -> dict[str, Any]:
    """By name: dictionaries of words by code, what parts take where nothing is said, and what goes with what."""
    bases = (PeriodBase, ShiftedBase, FixedBase, LedgerBase, GivenBase)
    statement = adapter(Statement).dump_python(Statement(()), mode="json")
    measure = adapter(ShownMeasure).dump_python(ShownMeasure(""), mode="json")
    return {
        "measures": dict(words.MEASURES),
        "definitions": dict(words.DEFINITIONS),
        "shows": dict(words.SHOWS),
        "show_notes": dict(words.SHOW_NOTES),
        "headings": dict(words.HEADINGS),
        "steps": dict(words.STEPS),
        "alignments": dict(words.ALIGNMENTS),
        "grains": dict(words.GRAINS),
        "reasons": dict(words.REASONS),
        "short_reasons": dict(words.SHORT_REASONS),
        "bases": dict(words.BASES),
        "fairness": dict(words.FAIRNESS),
        "status": dict(words.STATUS),
        "terms": dict(words.TERMS),
        "spreads": dict(words.SPREADS),
        "units": dict(words.UNITS),
        "polarities": dict(words.POLARITIES),
        "parts": dict(words.PARTS),
        "cuts": dict(words.CUTS),
        "months": list(words.MONTHS),
        "alongs": [
            {"along": adapter(type(each)).dump_python(each, mode="json"), "words": along_words(each)} for each in words.ALONGS
        ],
        "alignments_of": {base.kind: list(_alignments(base)) for base in bases},
        "against_a_base": list(AGAINST_A_BASE),
        "of_rows": list(OF_ROWS),
        "roles": {role: adapter(type(rule)).dump_python(rule, mode="json") for role, rule in RULES.items()},
        "defaults": {
            "statement": {name: value for name, value in statement.items() if name != "measures"},
            "measure": {name: value for name, value in measure.items() if name != "measure"},
            "layout": adapter(Layout).dump_python(Layout(), mode="json"),
            "chart": adapter(Chart).dump_python(Chart(), mode="json"),
        },
    }


def _alignments(base: type) -> tuple[str, ...]:
    """In which ways a base of a kind can be matched with the current window; none of one that is given outright."""
    hints = get_type_hints(base)
    return get_args(hints["align"]) if "align" in {each.name for each in fields(base)} else ()
