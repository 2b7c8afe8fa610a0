"""Backups, the way back, and what a newer or a broken home says: rehearsed with answers that are compared."""

from __future__ import annotations

import gzip
import os
import signal
import subprocess
import sys
import tempfile
import threading
import time
from dataclasses import replace
from datetime import date
from pathlib import Path

import pymysql
import pytest
from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine, event, text

from lofty_abacus.actions.briefs.issues import open_issue
from lofty_abacus.actions.briefs.keep_briefs import keep_brief
from lofty_abacus.actions.briefs.publish_brief import publish_brief
from lofty_abacus.actions.errors import FullDiskError, RecordsError, RefusedError
from lofty_abacus.actions.figures.answer_statement import answer_statement
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.ledgers.make_ledger import make_ledger
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger
from lofty_abacus.actions.records.briefs import Handing
from lofty_abacus.core.statement.statement import Opened, ShownMeasure, Statement
from lofty_abacus.core.windows.as_of import PinnedDay
from lofty_abacus.export.briefs.brief import Brief, FigureBlock
from lofty_abacus.server import mariadb
from lofty_abacus.settings import Settings
from lofty_abacus.store import backing_up, migrating
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.migrating import newest_revision
from lofty_abacus.wiring import now, open_books, open_office
from tests.conftest import SMALL_REDO, quiet

STATEMENT = Statement((ShownMeasure("net_sales"), ShownMeasure("lines")), ("rep", "team"), as_of=PinnedDay(date(2026, 12, 31)))
ROOT = Path(__file__).resolve().parents[2]


def filled(office: Office, folder: Path, name: str = "Äpfel & Birnen") -> None:
    make_ledger(office, NewLedger(name))
    lines, teams = folder / "a.csv", folder / "teams.csv"
    lines.write_text("date,rep,amount\n2026-03-01,Ada,10.50\n2026-03-02,Bo,5\n2026-03-03,Zoë,-1.25\n", encoding="utf-8")
    teams.write_text("rep,team\nAda,Red\nBo,Blue\n", encoding="utf-8")
    post_files(office, stage_files(office, name, [("a.csv", lines), ("teams.csv", teams)]).id, quiet)


def settings_at(home: Path) -> Settings:
    return Settings(home, 8420, home / "web", "Tess")


def test_a_backup_taken_while_people_work_gives_the_same_answers_elsewhere(tmp_path: Path) -> None:
    place = tmp_path / "record.sql.gz"
    with open_office(settings_at(tmp_path / "one")) as office:
        filled(office, tmp_path)
        before = answer_statement(office, "Äpfel & Birnen", STATEMENT, Opened(2))
        shown = Brief("Monthly", as_of=PinnedDay(date(2026, 12, 31)), blocks=(FigureBlock("table", STATEMENT),))
        issue = publish_brief(office, keep_brief(office, "Äpfel & Birnen", shown, Handing()).id)
        content = open_issue(office, issue.id).content
        url = mariadb.start(tmp_path / "one" / "mariadb", redo_megabytes=SMALL_REDO).url
        more = tmp_path / "more.csv"
        more.write_text("date,rep,amount\n" + "2026-04-01,Ada,1\n" * 20_000)
        posting = threading.Thread(
            target=lambda: post_files(office, stage_files(office, "Äpfel & Birnen", [("more.csv", more)]).id, quiet)
        )
        posting.start()
        about = backing_up.back_up(url, tmp_path / "one" / "mariadb", place, "rehearsal", now())
        posting.join()
        assert place.stat().st_mode & 0o777 == 0o600
        with pytest.raises(RefusedError, match="there already"):
            backing_up.back_up(url, tmp_path / "one" / "mariadb", place, "again", now())
        assert office.books.verify() == []
    version = about.ledgers["Äpfel & Birnen"]
    assert version in (1, 2)
    environment = os.environ | {"LOFTY_HOME": str(tmp_path / "two"), "PYTHONPATH": str(ROOT / "src"), "LOFTY_PORT": "8457"}

    def lofty(*words: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [sys.executable, "-m", "lofty_abacus", *words], env=environment, capture_output=True, text=True, check=False
        )

    done = lofty("restore", str(place), "--yes")
    assert done.returncode == 0 and "Restored Äpfel & Birnen" in done.stdout, done.stderr
    assert "Every ledger agrees" in lofty("verify").stdout
    again = lofty("backup", str(tmp_path / "again.sql.gz"))
    assert again.returncode == 0 and "Äpfel & Birnen" in again.stdout, again.stderr
    with open_office(settings_at(tmp_path / "two")) as office:
        after = answer_statement(office, "Äpfel & Birnen", STATEMENT, Opened(2), 1)
        assert open_issue(office, issue.id).content == content, "what was published is what was published"
    assert after == replace(before, today=after.today, posted_lines=after.posted_lines, posted_amount=after.posted_amount)


def test_what_is_no_backup_is_told_and_changes_nothing(tmp_path: Path) -> None:
    with open_office(settings_at(tmp_path / "home")) as office:
        filled(office, tmp_path)
        url, folder = mariadb.start(tmp_path / "home" / "mariadb", redo_megabytes=SMALL_REDO).url, tmp_path / "home" / "mariadb"
        other = tmp_path / "other.gz"
        other.write_bytes(gzip.compress(b"hello"))
        with pytest.raises(RefusedError, match="is no backup"):
            backing_up.restore(url, folder, other)
        whole = tmp_path / "whole.sql.gz"
        backing_up.back_up(url, folder, whole, "x", now())
        content = gzip.decompress(whole.read_bytes())
        (tmp_path / "half.sql.gz").write_bytes(gzip.compress(content[: len(content) // 2]))
        with pytest.raises(RecordsError, match="Nothing was changed"):
            backing_up.restore(url, folder, tmp_path / "half.sql.gz")
        newer = content.replace(f'"revision": "{newest_revision()}"'.encode(), b'"revision": "9999"', 1)
        (tmp_path / "newer.sql.gz").write_bytes(gzip.compress(newer))
        with pytest.raises(RefusedError, match="newer Lofty Abacus"):
            backing_up.restore(url, folder, tmp_path / "newer.sql.gz")
        assert answer_statement(office, "Äpfel & Birnen", STATEMENT, Opened(1)).total.cells[0].value == "14.25"


def test_verify_tells_lines_that_were_changed_behind_its_back(tmp_path: Path) -> None:
    with open_office(settings_at(tmp_path / "home")) as office:
        filled(office, tmp_path)
        assert office.books.verify() == []
        assert isinstance(office.books, MariaDbBooks)
        with office.books.engine.begin() as connection:
            connection.execute(text("UPDATE line_1 SET amount = amount + 1 WHERE file_row = 2"))
        (said,) = office.books.verify()
        assert said.startswith("Äpfel & Birnen: the lines that count are 3 of 1525 minor units, and the journal says 3 of 1425")


def database(server: mariadb.RunningServer, name: str) -> str:
    admin = create_engine(server.url, isolation_level="AUTOCOMMIT")
    with admin.connect() as connection:
        connection.exec_driver_sql("SET FOREIGN_KEY_CHECKS = 0")
        connection.exec_driver_sql(f"CREATE OR REPLACE DATABASE {name} CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin")
    admin.dispose()
    return server.url.replace("/lofty_abacus?", f"/{name}?")


def upgraded(url: str, revision: str) -> None:
    engine = create_engine(url)
    with engine.connect() as connection:
        config = Config()
        config.set_main_option("script_location", str(Path(migrating.__file__).parent / "migrations"))
        config.attributes["connection"] = connection
        command.upgrade(config, revision)
        connection.commit()
    engine.dispose()


class Cut(Exception):
    """The machine went down."""


def test_migrations_can_be_begun_again_wherever_they_were_cut_off(server: mariadb.RunningServer, tmp_path: Path) -> None:
    from tests.store.old_ledger import OLD_LEDGER

    cut_at, ended = 1, False
    while not ended:
        url = database(server, "cut_off")
        upgraded(url, "0001")
        engine = create_engine(url)
        with engine.begin() as connection:
            for statement in OLD_LEDGER:
                connection.exec_driver_sql(statement)
        count = 0

        def counting(*_: object, at: int = cut_at) -> None:
            nonlocal count
            count += 1
            if count == at:
                raise Cut

        event.listen(engine, "before_cursor_execute", counting)
        try:
            migrating.migrate(engine)
            ended = True
        except Cut:
            pass
        except RecordsError as error:
            assert isinstance(error.__cause__, Cut)
        event.remove(engine, "before_cursor_execute", counting)
        engine.dispose()
        books = open_books(url, tmp_path / f"columns-{cut_at}", now)
        assert [(each.version, each.lines, each.amount) for each in books.versions(1)] == [
            (4, 2, "3.50"), (3, 3, "12.50"), (2, 3, "12.50"), (1, 2, "3.50"),
        ], cut_at  # fmt: skip
        assert [each.shape for each in books.kept_mappings(1).rows] == ["R", "S"]
        assert int(books.opened("Old").source.segments.first.amount.sum()) == 350
        books.engine.dispose()
        cut_at += 1
    assert cut_at > 30, "every statement of every migration was cut off once"


def test_a_home_of_a_newer_version_ends_in_one_sentence(server: mariadb.RunningServer, tmp_path: Path) -> None:
    url = database(server, "from_tomorrow")
    open_books(url, tmp_path, now).engine.dispose()
    engine = create_engine(url)
    with engine.begin() as connection:
        connection.execute(text("UPDATE alembic_version SET version_num = '9999'"))
    engine.dispose()
    with pytest.raises(RecordsError, match="made by a newer Lofty Abacus"):
        open_books(url, tmp_path, now)


def test_an_upgrade_takes_a_backup_first(server: mariadb.RunningServer, tmp_path: Path) -> None:
    url = database(server, "to_upgrade")
    upgraded(url, "0003")
    taken: list[str] = []
    open_books(url, tmp_path, now, lambda: taken.append("backup")).engine.dispose()
    assert taken == ["backup"]
    open_books(url, tmp_path, now, lambda: taken.append("again")).engine.dispose()
    assert taken == ["backup"], "nothing is changed, so nothing is backed up"


def test_a_database_that_dies_is_started_again_where_it_was(tmp_path: Path) -> None:
    with open_office(settings_at(tmp_path / "home")) as office:
        filled(office, tmp_path)
        before = answer_statement(office, "Äpfel & Birnen", STATEMENT, Opened(1))
        running = mariadb.start(tmp_path / "home" / "mariadb", redo_megabytes=SMALL_REDO)
        for _ in range(2):
            os.kill(mariadb.start(tmp_path / "home" / "mariadb", redo_megabytes=SMALL_REDO).pid, signal.SIGKILL)
            until = time.monotonic() + 60
            while True:
                try:
                    after = answer_statement(office, "Äpfel & Birnen", STATEMENT, Opened(1))
                    pymysql.connect(host="127.0.0.1", port=running.port, user=mariadb.USER, password=running.password).close()
                    break
                except (RecordsError, pymysql.MySQLError) as error:
                    assert time.monotonic() < until and ("started again" in str(error) or isinstance(error, pymysql.MySQLError))
                    time.sleep(0.05)
            assert after == before


def test_a_start_leaves_nothing_in_the_temporary_folder_and_opens_nothing_to_others(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    tmp = tmp_path / "tmp"
    tmp.mkdir()
    monkeypatch.setenv("TMPDIR", str(tmp))
    monkeypatch.setattr(tempfile, "tempdir", None)
    home = tmp_path / "home"
    home.mkdir(mode=0o755)
    with open_office(settings_at(home)) as office:
        filled(office, tmp_path)
        answer_statement(office, "Äpfel & Birnen", STATEMENT, Opened(1))
        for name in ("", "columns", "staging", "inbox", "backups", "log", "mariadb"):
            assert (home / name).stat().st_mode & 0o077 == 0, name
    assert list(tmp.iterdir()) == []
    assert list((home / "mariadb" / "loads").iterdir()) == []


def test_a_full_disk_says_so_and_how_much_is_needed(office: Office, ledger: str, tmp_path: Path) -> None:
    path = tmp_path / "a.csv"
    path.write_text("date,rep,amount\n" + "2026-03-01,Ada,1\n" * 10_000)
    staging = stage_files(office, ledger, [("a.csv", path)])
    full = replace(office, free=lambda folder: 10 << 20)
    with pytest.raises(
        FullDiskError, match=r"disk is full: the folder of the records has 10 MB left, and about 6\d MB are needed"
    ):
        post_files(full, staging.id, quiet)
    assert office.books.ledger(ledger).version == 0
    assert post_files(office, staging.id, quiet).version == 1
