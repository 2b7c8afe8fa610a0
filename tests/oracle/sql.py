"""Hand-written SQL for the oracle: conditional sums and counts on a ledger's lines, by row and window, in MariaDB.

Members are compared with a binary, no-pad collation (the tables'). Ratios are made of numerators and denominators in Python, since SQL
division truncates.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from fractions import Fraction
from typing import Any

from sqlalchemy import Engine, text

Path = tuple[str | None, ...]


@dataclass(frozen=True)
class SqlCells:
    """Per row path and window number the sums that MariaDB gives, by name."""

    cells: dict[tuple[Path, int], dict[str, Any]]

    def measure(self, name: str, path: Path, window: int) -> Fraction | str:
        """A measure at a row and window, or the reason why there is none."""
        row = self.cells.get((path, window), {})

        def number(column: str) -> Fraction:
            return Fraction(Decimal(row.get(column) or 0))

        def ratio(top: Fraction, bottom: Fraction, *, percent: bool = False) -> Fraction | str:
            if bottom == 0:
                return "base_is_zero"
            return "base_is_negative" if percent and bottom < 0 else top / bottom

        has_cost = not number("line_count") or number("with_cost")
        has_quantity = not number("line_count") or number("with_quantity")
        simple = {
            "gross_sales": "gross",
            "returns": "returns",
            "net_sales": "net",
            "lines": "line_count",
            "orders": "orders",
            "active_customers": "customers",
            "active_products": "products",
        }
        if name in simple:
            return number(simple[name])
        match name:
            case "units":
                return number("units") if has_quantity else "not_given"
            case "returned_units":
                lacking = number("return_lines") and not number("returns_with_quantity")
                return "not_given" if lacking else number("returned_units")
            case "cost":
                return number("cost") if has_cost else "not_given"
            case "average_order_value":
                return ratio(number("gross"), number("orders"))
            case "price_per_unit":
                return ratio(number("net_with_quantity"), number("units")) if has_quantity else "not_given"
            case "margin_percent":
                top = number("net_with_cost") - number("cost")
                return ratio(top, number("net_with_cost"), percent=True) if has_cost else "not_given"
            case "return_rate":
                return ratio(number("returns"), number("gross"), percent=True)
        raise AssertionError(f"no SQL for {name}")


_SUMS = """
    COUNT(*) AS line_count,
    SUM(l.is_return) AS return_lines,
    SUM(IF(l.is_return, 0, l.amount)) AS gross,
    -SUM(IF(l.is_return, l.amount, 0)) AS returns,
    SUM(l.amount) AS net,
    SUM(l.quantity) AS units,
    -SUM(IF(l.is_return, l.quantity, 0)) AS returned_units,
    SUM(l.is_return AND l.quantity IS NOT NULL) AS returns_with_quantity,
    SUM(l.cost) AS cost,
    SUM(IF(l.cost IS NULL, 0, l.amount)) AS net_with_cost,
    SUM(IF(l.quantity IS NULL, 0, l.amount)) AS net_with_quantity,
    COUNT(l.cost) AS with_cost,
    COUNT(l.quantity) AS with_quantity,
    {distinct}
"""
_DISTINCT = "COUNT(DISTINCT IF(l.is_return OR {column} = 0, NULL, {column})) AS {name}"


def sql_cells(
    engine: Engine,
    ledger_id: int,
    rows: tuple[str, ...],
    windows: list[tuple[date, date] | None],
    where: str = "TRUE",
) -> SqlCells:
    """All depths of rows at all windows, by hand-written GROUP BY. where: a condition on `l`, the table of lines."""
    found: dict[tuple[Path, int], dict[str, Any]] = {}
    with engine.connect() as connection:
        names = {
            row.name: row
            for row in connection.execute(
                text("SELECT d.id, d.name, d.role, o.name AS of_name FROM dimension d LEFT JOIN dimension o"
                     " ON o.id = d.of_dimension_id WHERE d.ledger_id = :l"), {"l": ledger_id}
            )
        }  # fmt: skip
        roles = {row.role: f"l.{name}_code" for name, row in names.items() if row.role and row.of_name is None}
        distinct = ", ".join(
            _DISTINCT.format(column=roles[role], name=f"{role}s") if role in roles else f"0 AS {role}s"
            for role in ("order", "customer", "product")
        )
        for depth in range(len(rows) + 1):
            joins, keys = [], []
            for name in rows[:depth]:
                row = names[name]
                code = f"l.{name}_code"
                if row.of_name is not None:
                    joins.append(
                        f"LEFT JOIN level_member v{row.id} ON v{row.id}.dimension_id = {row.id}"
                        f" AND v{row.id}.of_code = l.{row.of_name}_code"
                    )
                    code = f"CASE WHEN l.{row.of_name}_code = 0 THEN 0 ELSE COALESCE(v{row.id}.code, 1) END"
                joins.append(f"JOIN member m{row.id} ON m{row.id}.dimension_id = {row.id} AND m{row.id}.code = {code}")
                keys.append(f"m{row.id}.member_key")
            group = f"GROUP BY {', '.join(keys)}" if keys else ""
            selected = "".join(f"{key} AS key{at}, " for at, key in enumerate(keys))
            for number, window in enumerate(windows):
                if window is None:
                    continue
                query = (
                    f"SELECT {selected}{_SUMS.format(distinct=distinct)} FROM line_{ledger_id} l"
                    f" STRAIGHT_JOIN batch b ON b.id = l.batch_id AND b.active {' '.join(joins)}"
                    f" WHERE l.day BETWEEN :first AND :last AND ({where}) {group}"
                )
                for row in connection.execute(text(query), {"first": window[0], "last": window[1]}).mappings():
                    found[(tuple(row[f"key{at}"] for at in range(depth)), number)] = dict(row)
    return SqlCells(found)
