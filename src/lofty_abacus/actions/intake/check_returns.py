"""Check returns against what their orders sold: posted, or in the same staging (semantics, section 1)."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from lofty_abacus.actions.intake.check_lines import nano_of
from lofty_abacus.actions.intake.checks import Finding, FindingCode
from lofty_abacus.actions.ports import Office
from lofty_abacus.core.days import day_number, day_of
from lofty_abacus.ingest.lines_of_file import LinesOfFile
from lofty_abacus.ingest.problems import Problem
from lofty_abacus.ingest.tally import SHOWN, ReturnLine


@dataclass
class _Sold:
    """First day and net amount (in units of 1e-9) of the sale lines of an order, of one product or of all.

    What came back before.
    """

    day: int
    sold: int = 0
    returned: int = 0


_Place = tuple[str, str]
#: Returns of a file that a finding is about, each with what is odd about it.
OddReturns = dict[FindingCode, list[tuple[ReturnLine, str]]]


def check_returns(office: Office, ledger_id: int, files: Sequence[LinesOfFile]) -> list[list[Finding]]:
    """Per file, findings about its odd returns."""
    return [_findings(lines, odd) for lines, odd in zip(files, odd_returns(office, ledger_id, files), strict=True)]


def odd_returns(office: Office, ledger_id: int, files: Sequence[LinesOfFile]) -> list[OddReturns]:
    """Per file, its returns whose order is not known, that are dated before their sale, or larger than what is left of it.

    A return that names its product is held against that product of its order; where the order has no such line, against all
    of it.
    """
    wanted = {each.order for lines in files for each in lines.tally.returns if each.order}
    if not any(lines.tally.returns for lines in files):
        return [{} for _ in files]
    sold = _posted(office, ledger_id, sorted(wanted))
    for lines in files:
        _add_staged(sold, lines, wanted)
    return [_of_file(lines, sold) for lines in files]


def _posted(office: Office, ledger_id: int, orders: Sequence[str]) -> dict[_Place, _Sold]:
    return {
        (each.order, each.product): _Sold(day_number(each.first_day), nano_of(each.sold), nano_of(each.returned))
        for each in office.books.orders_sold(ledger_id, orders)
    }


def _add_staged(sold: dict[_Place, _Sold], lines: LinesOfFile, wanted: set[str]) -> None:
    """The sale lines of the same staging."""
    if not lines.tally.sale_lines:
        return
    for piece in lines.pieces():
        order = next((column for role, column in piece.dimensions.values() if role == "order"), None)
        if order is None:
            return
        product = next((column for role, column in piece.dimensions.values() if role == "product"), None)
        known = np.array([text in wanted for text in order.texts], bool)[order.codes] & ~piece.is_return
        nano = int(10 ** (9 - piece.amount.scale))
        for at in np.flatnonzero(known).tolist():
            day, amount = int(piece.day[at]), int(piece.amount.minor[at]) * nano
            for name in {product.text(at) if product else "", ""}:
                each = sold.setdefault((order.text(at), name), _Sold(day))
                each.day = min(each.day, day)
                each.sold += amount


def _of_file(lines: LinesOfFile, sold: dict[_Place, _Sold]) -> OddReturns:
    found: OddReturns = defaultdict(list)
    back: dict[_Place, int] = defaultdict(int)
    for each in lines.tally.returns:
        place = (each.order, each.product) if (each.order, each.product) in sold else (each.order, "")
        of = sold.get(place)
        if of is None:
            why = "its order is not known" if each.order else "it names no order"
            found["returns_unmatched"].append((each, why))
            continue
        back[place] -= each.nano
        if each.day < of.day:
            found["returns_early"].append((each, f"its order was first sold on {day_of(of.day).isoformat()}"))
        if of.returned + back[place] > of.sold:
            whole = lines.tally.text(of.sold)
            found["returns_large"].append((each, f"its order sold {whole}, and more than that came back"))
    return found


def _findings(lines: LinesOfFile, odd: OddReturns) -> list[Finding]:
    return [
        Finding(
            code,
            "look",
            len(entries),
            lines.tally.text(sum(each.nano for each, _ in entries)),
            problems=tuple(
                Problem(lines.table.file, each.row, "", each.order, f"{lines.tally.text(-each.nano)}: {why}")
                for each, why in entries[:SHOWN]
            ),
        )
        for code, entries in odd.items()
    ]
