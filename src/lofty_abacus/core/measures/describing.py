"""What a ledger says of the figures that a measure is made of."""

from __future__ import annotations

from collections.abc import Mapping

from lofty_abacus.core.measures.sums import LineSum
from lofty_abacus.core.measures.table import Measure


def described(measure: Measure, descriptions: Mapping[str, str]) -> list[str]:
    """The ledger's descriptions of the columns ('amount', 'quantity', 'cost') that a measure sums, each once."""
    columns = dict.fromkeys(each.column for each in measure.quantities if isinstance(each, LineSum))
    return [descriptions[column] for column in columns if descriptions.get(column)]
