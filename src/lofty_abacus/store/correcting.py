"""Correct or void a single posted line: a batch of its own, which can be withdrawn like any other."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Mapping
from datetime import date
from decimal import Decimal
from typing import Any

import numpy as np
from sqlalchemy import Connection, Engine, select, text

from lofty_abacus.actions.errors import NotFoundError, RefusedError
from lofty_abacus.actions.records import LineChange, Posting
from lofty_abacus.core.money import decimal_parts, decimal_text
from lofty_abacus.ingest.table import TextColumn
from lofty_abacus.store import line_tables, members
from lofty_abacus.store.dimensions import dimensions
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.exclusions import Exclusion, exclude
from lofty_abacus.store.line_columns import BroughtColumn, enter_brought, line_columns
from lofty_abacus.store.line_ids import ids_on_lines, write_piece
from lofty_abacus.store.line_tables import date_column, figure_column
from lofty_abacus.store.member_codes import member_codes
from lofty_abacus.store.posting import one_at_a_time
from lofty_abacus.store.preparing import leaving_nothing
from lofty_abacus.store.scales import enter_scales, widen
from lofty_abacus.store.signed import Signed
from lofty_abacus.store.tables import batch, batch_span, ledger
from lofty_abacus.store.versions import NOTHING, Held, enter_version, next_version


def correct_line(
    engine: Engine, ledger_id: int, line_id: int, change: LineChange | None, reason: str, today: date, signed: Signed
) -> Posting:
    """Put a changed line in the place of a posted one, or (change None) nothing. Raises NotFoundError, RefusedError.

    The new line keeps what the change does not name; the old one stays readable in earlier versions.
    """
    with one_at_a_time(engine, ledger_id), leaving_nothing(engine, ledger_id):
        scales = _room_for(engine, ledger_id, change) if change is not None else None
        with transaction(engine) as connection:
            version = next_version(connection, ledger_id)
            if scales is not None:
                enter_scales(connection, ledger_id, *scales)
            old = _counting_line(connection, ledger_id, line_id)
            verb = "Void" if change is None else "Correction"
            name = f"{verb} of {old['file_name']}, row {old['file_row']}"
            number = _insert_batch(connection, ledger_id, version, old, name, reason, signed)
            # What a line more and a line less come to: the batch that it is of may be of millions.
            new = NOTHING if change is None else Held(1, _insert_line(connection, ledger_id, number, old, change, today))
            difference = new - Held(1, old["amount"])
            stretch = Exclusion(old["batch_id"], old["day"], old["day"], line_id)
            exclude(connection, ledger_id, number, version, [stretch])
            enter_version(connection, ledger_id, version, difference, signed, f"{name}: {reason}")
            return Posting(version, (number,), new.lines, str(difference.amount))


def _counting_line(connection: Connection, ledger_id: int, line_id: int) -> Mapping[str, Any]:
    row = (
        connection.execute(
            text(
                f"SELECT l.*, b.file_name, b.mapping_id FROM {line_tables.line_table(ledger_id)} l"
                " JOIN batch b ON b.id = l.batch_id AND b.active WHERE l.id = :id AND l.excluded = 0"
            ),
            {"id": line_id},
        )
        .mappings()
        .first()
    )
    if row is None:
        raise NotFoundError(f"There is no line {line_id} that counts in this ledger: it may have been replaced since.")
    return dict(row)


def _room_for(engine: Engine, ledger_id: int, change: LineChange) -> tuple[int, int]:
    """The decimals of amounts and quantities that a change needs; the columns have room for them."""
    with transaction(engine) as connection:
        return _widened(connection, ledger_id, change)


def _widened(connection: Connection, ledger_id: int, change: LineChange) -> tuple[int, int]:
    row = connection.execute(select(ledger.c.amount_scale, ledger.c.quantity_scale).where(ledger.c.id == ledger_id)).one()
    money = [decimal_parts(each)[1] for each in (change.amount, change.cost) if each]
    counted = [decimal_parts(change.quantity)[1]] if change.quantity else []
    amount, quantity = max([row[0], *money]), max([row[1], *counted])
    if (amount, quantity) != tuple(row):
        widen(connection, ledger_id, amount, quantity)
    return amount, quantity


def _insert_batch(
    connection: Connection, ledger_id: int, version: int, old: Mapping[str, Any], name: str, reason: str, signed: Signed
) -> int:
    made = connection.execute(
        batch.insert().values(
            ledger_id=ledger_id,
            mapping_id=old["mapping_id"],
            posted_version=version,
            posted_at=signed.at,
            posted_by=signed.by,
            reason=reason,
            file_name=name[:255],
            # Each correction is content of its own, were it the same twice.
            file_hash=hashlib.sha256(secrets.token_bytes(32)).hexdigest(),
            active=True,
            line_count=0,
            left_out_count=0,
            amount_total=0,
            sale_lines=0,
            return_lines=0,
            has_quantity=False,
            has_cost=False,
        )
    )
    number = int(made.inserted_primary_key[0])  # type: ignore[index]
    connection.execute(batch_span.insert().values(batch_id=number, from_version=version))
    return number


def _insert_line(
    connection: Connection, ledger_id: int, number: int, old: Mapping[str, Any], change: LineChange, today: date
) -> Decimal:
    scale = connection.execute(select(ledger.c.amount_scale).where(ledger.c.id == ledger_id)).scalar_one()
    line_id = line_tables.last_line(connection, ledger_id) + 1
    line: dict[str, Any] = {"id": line_id, "batch_id": number, "file_row": old["file_row"], "line_ref": old["line_ref"]}
    line["day"] = change.day or old["day"]
    for name in ("amount", "quantity", "cost"):
        given = getattr(change, name)
        line[name] = old[name] if given is None else Decimal(given) if given else None
    if line["amount"] is None:
        raise RefusedError("A line needs an amount: void it, if it should not count.")
    if change.amount is None:
        # What it was given as in another currency stays with it.
        line |= {name: old[name] for name in line_tables.GIVEN_COLUMNS if name in old}
    own = line_columns(connection, ledger_id)
    own_names = {each.name: date_column(each.name) if each.is_day else figure_column(each.name) for each in own}
    line |= {column: old[column] for column in own_names.values()}
    side = change.side or ("return" if old["is_return"] else "sale")
    line["is_return"] = int(side == "return")
    known = {each.name: (number, each.role) for number, each in dimensions(connection, ledger_id) if each.of is None}
    for name, (dimension_id, role) in known.items():
        column = line_tables.code_column(name)
        line[column] = old[column]
        if name in change.members:
            line[column] = _code(connection, dimension_id, role, name, change.members[name])
    unknown = set(change.members) - set(known)
    if unknown:
        raise RefusedError(f"This ledger's lines have no {', '.join(sorted(unknown))}.")
    columns = ", ".join(line)
    connection.execute(
        text(f"INSERT INTO {line_tables.line_table(ledger_id)} ({columns}) VALUES ({', '.join(':' + name for name in line)})"),
        line,
    )
    if line["line_ref"]:
        ids = ids_on_lines(number, np.array([line_id]), TextColumn("", [line["line_ref"]], np.zeros(1, np.uint32)))
        assert ids is not None, "it is not blank"
        write_piece(connection, ids)
    unscaled, decimals = decimal_parts(str(line["amount"]))
    amount = Decimal(decimal_text(unscaled * 10 ** (int(scale) - decimals), int(scale)))
    connection.execute(
        batch.update()
        .where(batch.c.id == number)
        .values(
            line_count=1,
            amount_total=amount,
            sale_lines=1 - line["is_return"],
            return_lines=line["is_return"],
            first_day=line["day"],
            last_day=line["day"],
            last_day_by_posting=line["day"] if line["day"] <= today else None,
            has_quantity=line["quantity"] is not None,
            has_cost=line["cost"] is not None,
            first_line=line_id,
            last_line=line_id,
        )
    )
    given = {each.id: (each, line[own_names[each.name]]) for each in own}
    enter_brought(
        connection,
        number,
        {
            at: BroughtColumn(1, "0", value, value) if each.is_day else BroughtColumn(1, str(value))
            for at, (each, value) in given.items()
            if value is not None
        },
    )
    return amount


def _code(connection: Connection, dimension_id: int, role: str | None, name: str, key: str) -> int:
    """The code of a member; only an order may be new: any other key that is not known is more likely a slip of the pen."""
    first = members.member_count(connection, dimension_id)
    known = member_codes(connection, dimension_id, first)
    codes, fresh = known.codes([key.strip()])
    if fresh and role != "order":
        raise RefusedError(f"This ledger knows no {name} {key.strip()!r}: use the key of one that it knows. Nothing was changed.")
    if fresh:
        members.add_members(connection, dimension_id, first, fresh)
        members.settle_members(connection, dimension_id, len(known))
    return int(codes[0])
