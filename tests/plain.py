"""The semantics once more, slow and obvious: plain loops over plain lines, Fractions, no shared code with the core's grouping."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date
from fractions import Fraction

from tests.ledgers import Line

CENT = Fraction(1, 100)


def counted(lines: Iterable[Line], first: date, last: date) -> list[Line]:
    return [line for line in lines if first <= line.day <= last]


def measure(name: str, lines: Sequence[Line]) -> Fraction | str:
    """A measure's value over lines, or the reason why there is none."""
    sales = [line for line in lines if not line.returned]
    returns = [line for line in lines if line.returned]
    gross = sum((line.amount * CENT for line in sales), Fraction(0))
    back = -sum((line.amount * CENT for line in returns), Fraction(0))
    with_quantity = [line for line in lines if line.quantity is not None]
    with_cost = [line for line in lines if line.cost is not None]
    orders = len({line.order for line in sales} - {""})
    match name:
        case "gross_sales":
            return gross
        case "returns":
            return back
        case "net_sales":
            return gross - back
        case "lines":
            return Fraction(len(lines))
        case "orders":
            return Fraction(orders)
        case "active_customers":
            return Fraction(len({line.customer for line in sales} - {""}))
        case "active_products":
            return Fraction(len({line.product for line in sales} - {""}))
        case "units":
            if lines and not with_quantity:
                return "not_given"
            return Fraction(sum(line.quantity or 0 for line in with_quantity))
        case "returned_units":
            here = [line for line in returns if line.quantity is not None]
            if returns and not here:
                return "not_given"
            return Fraction(-sum(line.quantity or 0 for line in here))
        case "cost":
            if lines and not with_cost:
                return "not_given"
            return sum(((line.cost or 0) * CENT for line in with_cost), Fraction(0))
        case "average_order_value":
            return gross / orders if orders else "base_is_zero"
        case "price_per_unit":
            if lines and not with_quantity:
                return "not_given"
            units = sum(line.quantity or 0 for line in with_quantity)
            return sum((line.amount * CENT for line in with_quantity), Fraction(0)) / units if units else "base_is_zero"
        case "margin_percent":
            if lines and not with_cost:
                return "not_given"
            net = sum((line.amount * CENT for line in with_cost), Fraction(0))
            cost = sum(((line.cost or 0) * CENT for line in with_cost), Fraction(0))
            return _percent(net - cost, net)
        case "return_rate":
            return _percent(back, gross)
    raise AssertionError(f"no plain version of {name}")


def _percent(top: Fraction, bottom: Fraction) -> Fraction | str:
    if bottom == 0:
        return "base_is_zero"
    return "base_is_negative" if bottom < 0 else top / bottom


def percent_change(current: Fraction | str, base: Fraction | str) -> Fraction | str:
    if isinstance(current, str) or isinstance(base, str):
        return current if isinstance(current, str) else base
    if base == 0:
        return "base_is_zero"
    return "base_is_negative" if base < 0 else (current - base) / base
