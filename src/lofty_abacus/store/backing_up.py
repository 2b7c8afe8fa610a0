"""The whole record as one file, and back: written while people work, read back into an empty place, looked through for faults."""

from __future__ import annotations

import gzip
import json
import os
import shutil
import subprocess
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import IO

import pymysql
from sqlalchemy import Engine, select, text
from sqlalchemy.engine import make_url

from lofty_abacus.actions.errors import FullDiskError, NotFoundError, RecordsError, RefusedError
from lofty_abacus.store.engine import connect, transaction
from lofty_abacus.store.exclusions import condition_at
from lofty_abacus.store.ledgers import active_batches
from lofty_abacus.store.line_tables import line_table
from lofty_abacus.store.migrating import newest_revision
from lofty_abacus.store.tables import ledger
from lofty_abacus.store.version_lines import posted_control

#: What the first line of a backup says.
FORM = "lofty-abacus backup 1"
BEFORE_UPGRADE = "before an upgrade"
LOCK_SECONDS = 600
_BLOCK = 1 << 20


@dataclass(frozen=True)
class Backup:
    """What a backup holds: the version of its tables, when and why it was taken, its ledgers with their lines."""

    form: str
    revision: str
    taken_at: str
    why: str
    ledgers: dict[str, int]


def back_up(url: str, folder: Path, place: Path, why: str, now: datetime) -> Backup:
    """Write the whole record into one file (gzip of SQL), as of one moment; postings that are running are waited for.

    folder: MariaDB's own, for its password. Raises RecordsError, RefusedError where the file is there already.
    """
    if place.exists():
        raise RefusedError(f"{place.name} is there already: name another file.")
    engine = connect(url)
    try:
        with transaction(engine) as connection:
            revision = str(connection.execute(text("SELECT version_num FROM alembic_version")).scalar_one())
            found = connection.execute(text("SELECT name, version FROM ledger ORDER BY id")).all()
            about = Backup(FORM, revision, now.isoformat(), why, {row[0]: row[1] for row in found})
        making = place.with_name(f"{place.name}.making")
        making.parent.mkdir(parents=True, exist_ok=True)
        try:
            with (
                os.fdopen(os.open(making, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as raw,
                gzip.GzipFile(fileobj=raw, mode="wb", compresslevel=3) as out,
            ):
                out.write(f"-- {json.dumps(about.__dict__)}\n".encode())
                _dump(url, folder, out)
            making.rename(place)
        except OSError as error:
            if error.errno == 28:
                raise FullDiskError("the folder of the backup") from error
            raise
        finally:
            making.unlink(missing_ok=True)
    finally:
        engine.dispose()
    return about


def about_backup(place: Path) -> Backup:
    """What a backup says of itself. Raises NotFoundError, RefusedError for a file that is none."""
    if not place.is_file():
        raise NotFoundError(f"There is no file {place.name}.")
    try:
        with gzip.open(place, "rb") as file:
            first = file.readline(100_000).decode()
        found = Backup(**json.loads(first.removeprefix("-- ")))
    except (OSError, ValueError, TypeError, EOFError) as error:
        raise RefusedError(f"{place.name} is no backup of Lofty Abacus.") from error
    if found.form != FORM:
        raise RefusedError(f"{place.name} is a backup of another form ({found.form}): a newer Lofty Abacus reads it.")
    if int(found.revision) > int(newest_revision()):
        raise RefusedError(f"{place.name} was taken by a newer Lofty Abacus: restore it with that one.")
    return found


def restore(url: str, folder: Path, place: Path) -> Backup:
    """Read a backup back in place of what there is; all of it or, where it breaks off, nothing of it.

    It is read into a database beside, which then takes the other's place. Raises as `about_backup`, RecordsError.
    """
    about = about_backup(place)
    address = make_url(url)
    own, beside = str(address.database), f"{address.database}_restored"
    engine = connect(url)
    try:
        with engine.connect().execution_options(isolation_level="AUTOCOMMIT") as connection:
            connection.exec_driver_sql("SET FOREIGN_KEY_CHECKS = 0")
            connection.exec_driver_sql(f"DROP DATABASE IF EXISTS {beside}")
            connection.exec_driver_sql(f"CREATE DATABASE {beside} CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin")
            _load(url, folder, place, beside)
            tables = connection.execute(
                text("SELECT TABLE_NAME FROM information_schema.TABLES WHERE TABLE_SCHEMA = :name AND TABLE_TYPE = 'BASE TABLE'"),
                {"name": beside},
            )
            names = list(tables.scalars())
            if "alembic_version" not in names:
                raise RecordsError(f"{place.name} broke off before its end. Nothing was changed.")
            connection.exec_driver_sql(f"DROP DATABASE {own}")
            connection.exec_driver_sql(f"CREATE DATABASE {own} CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin")
            for name in names:
                connection.exec_driver_sql(f"RENAME TABLE {beside}.`{name}` TO {own}.`{name}`")
            connection.exec_driver_sql(f"DROP DATABASE {beside}")
    finally:
        engine.dispose()
    return about


def ledgers_there(url: str) -> list[str]:
    """Names of the ledgers that a restore would take the place of."""
    engine = connect(url)
    try:
        with transaction(engine) as connection:
            if connection.execute(text("SHOW TABLES LIKE 'ledger'")).first() is None:
                return []
            return list(connection.execute(text("SELECT name FROM ledger ORDER BY id")).scalars())
    finally:
        engine.dispose()


def verify(engine: Engine) -> list[str]:
    """Hold the journal, the batches and the lines of every ledger against each other; what does not agree, in sentences."""
    said: list[str] = []
    with transaction(engine) as connection:
        rows = connection.execute(select(ledger.c.id, ledger.c.name, ledger.c.version).order_by(ledger.c.id)).all()
        for number, name, version in rows:
            control = posted_control(connection, number, version)
            batches = ", ".join(str(each["id"]) for each in active_batches(connection, number, version)) or "0"
            counted = connection.execute(
                text(
                    f"SELECT COUNT(*), COALESCE(SUM(l.amount), 0), SUM(l.excluded) FROM {line_table(number)} l"
                    f" WHERE l.batch_id IN ({batches}){condition_at(connection, number, version)}"
                )
            ).one()
            amount = str(int(counted[1] * 10 ** control.scales[0]))
            if (int(counted[0]), amount) != (control.lines, control.amount):
                said.append(
                    f"{name}: the lines that count are {counted[0]:,} of {amount} minor units, and the journal says"
                    f" {control.lines:,} of {control.amount}."
                )
            if counted[2]:
                said.append(f"{name}: {counted[2]:,} lines are marked as replaced that count.")
    return said


def _program(name: str) -> str:
    found = shutil.which(name, path=os.environ.get("PATH", "") + os.pathsep + "/usr/bin:/usr/sbin")
    if found is None:
        raise RecordsError(f"{name} is not installed: install Debian's package mariadb-client.")
    return found


def _settings(url: str, folder: Path) -> Path:
    """A file with the password, which no list of processes shows."""
    address = make_url(url)
    path = folder / "client.cnf"
    with os.fdopen(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w") as file:
        file.write(
            f"[client]\nuser={address.username}\npassword={address.password}\nhost={address.host}\nport={address.port}\n"
            "protocol=tcp\n"
        )
    return path


def _dump(url: str, folder: Path, out: IO[bytes] | gzip.GzipFile) -> None:
    """All tables as of one moment. Changes of tables wait meanwhile, and a running one is waited for."""
    address = make_url(url)
    settings = _settings(url, folder)
    try:
        with _no_posting(url):
            command = [
                _program("mariadb-dump"),
                f"--defaults-extra-file={settings}",
                "--single-transaction",
                "--quick",
                "--skip-lock-tables",
                "--default-character-set=utf8mb4",
                "--hex-blob",
                "--ignore-views" if _knows_ignoring_views() else "--skip-comments",
                str(address.database),
            ]
            with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE) as process:
                assert process.stdout is not None and process.stderr is not None
                while block := process.stdout.read(_BLOCK):
                    out.write(block)
                words = process.stderr.read().decode(errors="replace").strip()
            if process.returncode != 0:
                raise RecordsError(f"The backup broke off: {words.splitlines()[-1] if words else 'no reason given'}.")
    finally:
        settings.unlink(missing_ok=True)


def _knows_ignoring_views() -> bool:
    return b"--ignore-views" in subprocess.run([_program("mariadb-dump"), "--help"], capture_output=True, check=False).stdout


class _no_posting:
    """Hold the posting locks of all ledgers for the moment in which a backup begins and ends: no table changes its columns."""

    def __init__(self, url: str) -> None:
        address = make_url(url)
        self._connection = pymysql.connect(
            host=str(address.host),
            port=int(address.port or 3306),
            user=str(address.username),
            password=str(address.password or ""),
            database=str(address.database),
        )

    def __enter__(self) -> None:
        with self._connection.cursor() as cursor:
            cursor.execute("SELECT id FROM ledger ORDER BY id")
            for (number,) in cursor.fetchall():
                cursor.execute("SELECT GET_LOCK(%s, %s)", (f"lofty_post_{number}", LOCK_SECONDS))

    def __exit__(self, *_: object) -> None:
        # The locks end with the connection.
        self._connection.close()


def _load(url: str, folder: Path, place: Path, database: str) -> None:
    settings = _settings(url, folder)
    try:
        command = [_program("mariadb"), f"--defaults-extra-file={settings}", "--default-character-set=utf8mb4", database]
        with (
            gzip.open(place, "rb") as file,
            subprocess.Popen(command, stdin=subprocess.PIPE, stderr=subprocess.PIPE, stdout=subprocess.DEVNULL) as process,
        ):
            assert process.stdin is not None and process.stderr is not None
            broken = ""
            try:
                while block := file.read(_BLOCK):
                    process.stdin.write(block)
            except (OSError, EOFError) as error:
                broken = str(error)
            try:
                process.stdin.close()
            except OSError as error:
                broken = broken or str(error)
            words = process.stderr.read().decode(errors="replace").strip()
        if process.returncode != 0 or broken:
            reason = words.splitlines()[-1] if words else broken
            raise RecordsError(f"The backup could not be read back: {reason}. Nothing was changed.")
    finally:
        settings.unlink(missing_ok=True)
