"""Post files: all or nothing, in one transaction that makes a new ledger version."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from datetime import UTC, date, datetime
from pathlib import Path

import numpy as np
from sqlalchemy import Connection, Engine, select, text
from sqlalchemy.exc import DataError

from lofty_abacus.actions.errors import RecordsError, RefusedError
from lofty_abacus.actions.records import PostedFile, Posting, Progress
from lofty_abacus.core.days import day_number, day_of
from lofty_abacus.core.errors import NotExactError
from lofty_abacus.core.money import MAX_SCALE, at_scale, decimal_text
from lofty_abacus.ingest.staged import Numbers, StagedLines, StagedLookup
from lofty_abacus.ingest.table import TextColumn
from lofty_abacus.store import bulk, line_tables, members
from lofty_abacus.store.engine import transaction
from lofty_abacus.store.ledgers import dimensions
from lofty_abacus.store.mappings import keep_mapping
from lofty_abacus.store.spans import take_out
from lofty_abacus.store.tables import batch, batch_span, ledger

CHUNK = 50_000
LOCK_SECONDS = 600


def post(
    engine: Engine,
    ledger_id: int,
    files: Sequence[PostedFile],
    today: date,
    progress: Progress,
    replaces: Sequence[int] = (),
) -> Posting:
    """Post files as one new version, in place of the batches named. Raises RefusedError (nothing changed) and RecordsError.

    progress: called with what is being done, and how many lines of how many are loaded.
    """
    with one_at_a_time(engine, ledger_id):
        _refuse_known_content(engine, ledger_id, files)
        progress("Preparing the ledger", 0, 0)
        _prepare_tables(engine, ledger_id, files)
        with transaction(engine) as connection:
            return _write(connection, ledger_id, files, today, progress, replaces)


@contextmanager
def one_at_a_time(engine: Engine, ledger_id: int) -> Iterator[None]:
    """Hold the ledger's posting lock: two postings wait for each other."""
    name = f"lofty_post_{ledger_id}"
    with engine.connect() as connection:
        if not connection.execute(text("SELECT GET_LOCK(:n, :s)"), {"n": name, "s": LOCK_SECONDS}).scalar():
            raise RecordsError("Another posting to this ledger is still running: try again when it has ended.")
        try:
            yield
        finally:
            connection.execute(text("SELECT RELEASE_LOCK(:n)"), {"n": name})


def _refuse_known_content(engine: Engine, ledger_id: int, files: Sequence[PostedFile]) -> None:
    with transaction(engine) as connection:
        for each in files:
            found = connection.execute(
                select(batch.c.file_name, batch.c.id).where(
                    batch.c.ledger_id == ledger_id,
                    batch.c.active,
                    batch.c.file_hash == each.file_hash,
                )
            ).first()
            if found is not None:
                raise RefusedError(
                    f"{each.staged.file} was posted before, as {found[0]} (batch {found[1]}): leave it out of this posting."
                )


def _prepare_tables(engine: Engine, ledger_id: int, files: Sequence[PostedFile]) -> None:
    """Dimensions, levels and scales that the files need. Adding a column changes no line, so it may stand on its own."""
    with transaction(engine) as connection:
        known = {each.name: (number, each) for number, each in dimensions(connection, ledger_id)}

        def have(name: str, role: str | None, of: int | None) -> int:
            if name in known:
                number, each = known[name]
                if (each.of is None) != (of is None):
                    what = "a level from a lookup" if each.of else "a column of lines"
                    raise RefusedError(f"{name} is {what} in this ledger already: give the new one another name.")
                return number
            number = members.make_dimension(connection, ledger_id, name, role, of)
            known.update({each.name: (n, each) for n, each in dimensions(connection, ledger_id)})
            if of is None:
                line_tables.add_dimension_column(connection, ledger_id, name)
            return number

        for each in files:
            if isinstance(each.staged, StagedLookup):
                role = each.staged.of if each.staged.of in ("product", "customer", "rep", "region", "channel") else None
                of = have(each.staged.of, role, None)
                for level in each.staged.levels:
                    have(level, None, of)
            else:
                for name, (role, _) in each.staged.dimensions.items():
                    have(name, role, None)
        _raise_scales(connection, ledger_id, files)
        numbers = {each.name: number for number, each in known.values()}
        line_tables.make_view(
            connection,
            ledger_id,
            [(number, each.name, numbers.get(each.of or ""), each.of) for number, each in known.values()],
        )


def _raise_scales(connection: Connection, ledger_id: int, files: Sequence[PostedFile]) -> None:
    row = connection.execute(select(ledger.c.amount_scale, ledger.c.quantity_scale).where(ledger.c.id == ledger_id)).one()
    amount, quantity = row
    for each in files:
        if isinstance(each.staged, StagedLines):
            money = [each.staged.amount, *([each.staged.cost] if each.staged.cost else [])]
            amount = max(amount, *(one.scale for one in money))
            quantity = max(quantity, each.staged.quantity.scale if each.staged.quantity else 0)
    if (amount, quantity) != tuple(row):
        if max(amount, quantity) > MAX_SCALE:
            raise RefusedError(f"More than {MAX_SCALE} decimals cannot be kept exactly.")
        try:
            line_tables.raise_scales(connection, ledger_id, amount, quantity)
        except DataError as error:
            raise RefusedError(
                f"These files need {max(amount, quantity)} decimals; posted lines are too large for that. Nothing was posted."
            ) from error
        connection.execute(ledger.update().where(ledger.c.id == ledger_id).values(amount_scale=amount, quantity_scale=quantity))


def _write(
    connection: Connection,
    ledger_id: int,
    files: Sequence[PostedFile],
    today: date,
    progress: Progress,
    replaces: Sequence[int],
) -> Posting:
    row = connection.execute(select(ledger).where(ledger.c.id == ledger_id).with_for_update()).mappings().one()
    version = row["version"] + 1
    numbers = {each.name: number for number, each in dimensions(connection, ledger_id)}
    total = sum(len(each.staged) for each in files if isinstance(each.staged, StagedLines))
    done, minor, made = 0, 0, []
    for old in replaces:
        take_out(connection, ledger_id, old, version)
    for each in files:
        progress(f"Posting {each.staged.file}", done, total)
        mapping_id = keep_mapping(connection, ledger_id, each.shape, each.staged.mapping)
        number = _insert_batch(connection, ledger_id, mapping_id, version, each, today, row["amount_scale"])
        made.append(number)
        if isinstance(each.staged, StagedLookup):
            _write_lookup(connection, numbers, each.staged)
        else:
            _write_lines(connection, ledger_id, number, numbers, each.staged, row["amount_scale"], row["quantity_scale"])
            done += len(each.staged)
            minor += _total(each.staged.amount, row["amount_scale"])
    connection.execute(ledger.update().where(ledger.c.id == ledger_id).values(version=version))
    progress("Posted", total, total)
    return Posting(version, tuple(made), total, decimal_text(minor, row["amount_scale"]))


def _insert_batch(
    connection: Connection, ledger_id: int, mapping_id: int, version: int, file: PostedFile, today: date, scale: int
) -> int:
    staged = file.staged
    values: dict[str, object] = {"line_count": 0, "left_out_count": 0, "amount_total": "0", "sale_lines": 0, "return_lines": 0}
    if isinstance(staged, StagedLines):
        until_today = staged.day[staged.day <= day_number(today)]
        values = {
            "line_count": len(staged),
            "left_out_count": staged.left_out,
            "amount_total": decimal_text(_total(staged.amount, scale), scale),
            "sale_lines": int((~staged.is_return).sum()),
            "return_lines": int(staged.is_return.sum()),
            "first_day": day_of(int(staged.day.min())) if len(staged) else None,
            "last_day": day_of(int(staged.day.max())) if len(staged) else None,
            "last_day_by_posting": day_of(int(until_today.max())) if len(until_today) else None,
        }
    made = connection.execute(
        batch.insert().values(
            ledger_id=ledger_id,
            mapping_id=mapping_id,
            posted_version=version,
            posted_at=datetime.now(UTC).replace(tzinfo=None),
            file_name=staged.file,
            file_hash=file.file_hash,
            active=True,
            **values,
        )
    )
    number = int(made.inserted_primary_key[0])  # type: ignore[index]
    connection.execute(batch_span.insert().values(batch_id=number, from_version=version))
    return number


def _write_lookup(connection: Connection, numbers: dict[str, int], lookup: StagedLookup) -> None:
    of_codes = members.codes_for(connection, numbers[lookup.of], lookup.keys).tolist()
    if lookup.names:
        members.set_labels(connection, numbers[lookup.of], dict(zip(of_codes, lookup.names, strict=True)))
    for name, (keys, names) in lookup.levels.items():
        codes = members.codes_for(connection, numbers[name], keys).tolist()
        members.set_levels(connection, numbers[name], of_codes, codes)
        if names:
            members.set_labels(connection, numbers[name], dict(zip(codes, names, strict=True)))


def _write_lines(
    connection: Connection,
    ledger_id: int,
    batch_id: int,
    numbers: dict[str, int],
    lines: StagedLines,
    amount_scale: int,
    quantity_scale: int,
) -> None:
    """Write the lines to a file and have MariaDB load it; refuse line ids that the ledger has already."""
    names = list(lines.dimensions)
    codes = [
        members.codes_for(connection, numbers[name], column.texts)[column.codes] for name, (_, column) in lines.dimensions.items()
    ]
    days = {number: day_of(number).isoformat() for number in np.unique(lines.day).tolist()}
    fields = [
        [str(batch_id)] * len(lines),
        lines.rows.tolist(),
        [days[number] for number in lines.day.tolist()],
        lines.is_return.astype(int).tolist(),
        _references(lines.line_ids, len(lines)),
        _decimals(lines.amount, amount_scale, len(lines), lines),
        _decimals(lines.quantity, quantity_scale, len(lines), lines),
        _decimals(lines.cost, amount_scale, len(lines), lines),
        *(column.tolist() for column in codes),
    ]
    columns = ["batch_id", "file_row", "day", "is_return", "line_ref", "amount", "quantity", "cost"]
    columns += [line_tables.code_column(name) for name in names]
    with tempfile.NamedTemporaryFile("w", prefix="lofty-load-", encoding="utf-8", newline="") as file:
        for at in range(0, len(lines), CHUNK):
            part = zip(*(each[at : at + CHUNK] for each in fields), strict=True)
            file.writelines("\t".join(map(str, row)) + "\n" for row in part)
        file.flush()
        if len(lines):
            bulk.load_file(connection, line_tables.line_table(ledger_id), columns, Path(file.name))
    if lines.line_ids is not None:
        _refuse_repeated(connection, ledger_id, batch_id, lines.file)


def repeated_query(table: str) -> str:
    """A line of batch :b whose line id counts already elsewhere.

    The plan is laid down: on a table that has just grown, the optimizer may pair all lines of two batches, which never ends.
    """
    return (
        f"SELECT n.line_ref, n.file_row, b.file_name, o.file_row FROM {table} n"
        f" STRAIGHT_JOIN {table} o FORCE INDEX (by_ref) ON o.line_ref = n.line_ref AND o.id <> n.id"
        " JOIN batch b ON b.id = o.batch_id AND b.active WHERE n.batch_id = :b LIMIT 1"
    )


def _refuse_repeated(connection: Connection, ledger_id: int, batch_id: int, file: str) -> None:
    found = connection.execute(text(repeated_query(line_tables.line_table(ledger_id))), {"b": batch_id}).first()
    if found is not None:
        raise RefusedError(
            f"{file}, row {found[1]}: line id {found[0]} is posted already ({found[2]}, row {found[3]}). Nothing was posted."
        )


def _references(column: TextColumn | None, count: int) -> list[str]:
    if column is None:
        return ["\\N"] * count
    texts = [bulk.field(text) if text else "\\N" for text in column.texts]
    return [texts[code] for code in column.codes.tolist()]


def _decimals(numbers: Numbers | None, scale: int, count: int, lines: StagedLines) -> list[str]:
    if numbers is None:
        return ["\\N"] * count
    known: dict[int, str] = {}
    for row, minor in enumerate(numbers.minor.tolist()):
        if minor not in known:
            try:
                known[minor] = decimal_text(at_scale(minor, numbers.scale, scale), scale)
            except NotExactError as error:
                raise RefusedError(f"{lines.file}, row {lines.rows[row]}: {error}. Nothing was posted.") from error
    texts = [known[minor] for minor in numbers.minor.tolist()]
    if numbers.missing.any():
        for at in np.flatnonzero(numbers.missing):
            texts[at] = "\\N"
    return texts


def _total(numbers: Numbers, scale: int) -> int:
    """Exact total in minor units at a scale, whatever its size."""
    high, low = (numbers.minor >> 32).sum(dtype=np.int64), (numbers.minor & 0xFFFFFFFF).sum(dtype=np.int64)
    return ((int(high) << 32) + int(low)) * int(10 ** (scale - numbers.scale))
