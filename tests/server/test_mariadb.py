from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

import pymysql
import pytest

from lofty_abacus.server import folder as folder_of
from lofty_abacus.server import mariadb
from lofty_abacus.server.errors import FolderError, MissingProgramError, NoStartError
from tests.conftest import SMALL_REDO


def ask(running: mariadb.RunningServer, sql: str) -> tuple[object, ...]:
    connection = pymysql.connect(
        host="127.0.0.1",
        port=running.port,
        user=mariadb.USER,
        password=running.password,
        database=mariadb.DATABASE,
        autocommit=True,
    )
    try:
        with connection.cursor() as cursor:
            cursor.execute(sql)
            return tuple(cursor.fetchall())
    finally:
        connection.close()


def test_started_used_killed_recovered_adopted_and_stopped(tmp_path: Path) -> None:
    home = tmp_path / "mariadb"
    first = mariadb.start(home, redo_megabytes=SMALL_REDO)
    assert not first.adopted
    ask(first, "CREATE TABLE kept (n INT)")
    ask(first, "INSERT INTO kept VALUES (7)")
    os.kill(first.pid, signal.SIGKILL)
    os.waitpid(first.pid, 0)
    second = mariadb.start(home, redo_megabytes=SMALL_REDO)
    assert second.pid != first.pid and not second.adopted
    assert ask(second, "SELECT n FROM kept") == ((7,),), "what was committed survives a crash"
    with mariadb.in_use(home, redo_megabytes=SMALL_REDO) as third:
        assert third.adopted and third.pid == second.pid, "a running MariaDB is adopted, not doubled"
        with mariadb.in_use(home, redo_megabytes=SMALL_REDO) as fourth:
            assert fourth.pid == second.pid
        assert ask(third, "SELECT 1") == ((1,),), "it is not stopped while another command uses it"
    assert not mariadb._is_ours(second.pid, home), "the last user stops it"


def test_the_password_is_private_and_asked_for(tmp_path: Path) -> None:
    home = tmp_path / "mariadb"
    with mariadb.in_use(home, redo_megabytes=SMALL_REDO) as running:
        assert (home / "password").stat().st_mode & 0o777 == 0o600
        assert home.stat().st_mode & 0o777 == 0o700
        with pytest.raises(pymysql.MySQLError):
            pymysql.connect(host="127.0.0.1", port=running.port, user=mariadb.USER, password="wrong")
        with pytest.raises(pymysql.MySQLError):
            pymysql.connect(host="127.0.0.1", port=running.port, user="root", password="")
        with socket.socket() as probe:
            probe.settimeout(1)
            assert probe.connect_ex(("127.0.0.1", running.port)) == 0


def test_a_folder_that_cannot_be_used_is_one_sentence(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    (tmp_path / "file").write_text("")
    with pytest.raises(FolderError, match=r"cannot be written \(.*\): make it writable, or name another in LOFTY_HOME"):
        folder_of.prepare_folder(tmp_path / "file" / "below")
    monkeypatch.setattr(folder_of, "LEAST_FREE", 2**62)
    with pytest.raises(FolderError, match="free some space"):
        folder_of.prepare_folder(tmp_path / "full")


def test_a_missing_program_is_named_with_its_package(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(mariadb.shutil, "which", lambda *_, **__: None)
    with pytest.raises(MissingProgramError, match="mariadb-server"):
        mariadb._program("mariadbd")


def test_being_told_to_end_in_the_middle_of_the_start_leaves_nothing_running(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    launched: list[int] = []

    def told_to_end(process: subprocess.Popen[bytes], *_: object) -> None:
        launched.append(process.pid)
        raise SystemExit(143)

    monkeypatch.setattr(mariadb, "_wait", told_to_end)
    with pytest.raises(SystemExit), mariadb.in_use(tmp_path / "mariadb", redo_megabytes=SMALL_REDO):
        raise AssertionError("it never runs")
    assert launched and not mariadb._is_ours(launched[0], tmp_path / "mariadb")


def test_one_that_is_not_known_by_its_words_yet_is_ended_all_the_same(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """A process that was launched this very moment has no command line for an instant."""
    launched: list[subprocess.Popen[bytes]] = []

    def told_to_end(process: subprocess.Popen[bytes], *_: object) -> None:
        launched.append(process)
        raise SystemExit(143)

    monkeypatch.setattr(mariadb, "_wait", told_to_end)
    monkeypatch.setattr(mariadb, "_is_ours", lambda *_: False)
    with pytest.raises(SystemExit), mariadb.in_use(tmp_path / "mariadb", redo_megabytes=SMALL_REDO):
        raise AssertionError("it never runs")
    try:
        launched[0].wait(20)
    finally:
        launched[0].kill()


def test_a_server_that_loses_the_first_signal_is_told_again(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    deaf = (
        "import signal, sys\n"
        "heard = []\n"
        "signal.signal(signal.SIGTERM, lambda *_: sys.exit(0) if heard else heard.append(1))\n"
        "print('ready', flush=True)\n"
        "while True: signal.pause()\n"
    )
    process = subprocess.Popen([sys.executable, "-c", deaf], stdout=subprocess.PIPE)
    assert process.stdout is not None and process.stdout.readline() == b"ready\n"
    monkeypatch.setattr(mariadb, "_is_ours", lambda pid, _: pid == process.pid and process.poll() is None)
    monkeypatch.setattr(mariadb, "TELL_AGAIN_SECONDS", 0.1)
    mariadb.stop(tmp_path)
    assert process.wait(5) == 0
    process.stdout.close()


@pytest.mark.parametrize("name", ["ibdata1", "aria_log_control"])
def test_files_that_a_killed_one_still_holds_are_waited_for(name: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    home = tmp_path / "mariadb"
    with mariadb.in_use(home, redo_megabytes=SMALL_REDO):
        pass
    words = "import fcntl, sys\nfile = open(sys.argv[1], 'r+b')\nfcntl.lockf(file, fcntl.LOCK_EX)\nprint(flush=True)\nsys.stdin.read()"
    command = [sys.executable, "-c", words, str(home / "data" / name)]
    holder = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE)
    assert holder.stdout is not None
    holder.stdout.readline()
    ended: list[int | None] = []
    sleep, launch = time.sleep, mariadb._launch

    def let_go(seconds: float) -> None:
        holder.communicate()
        sleep(seconds)

    def launched(*given: Any) -> subprocess.Popen[bytes]:
        ended.append(holder.poll())
        return launch(*given)

    monkeypatch.setattr(mariadb.time, "sleep", let_go)
    monkeypatch.setattr(mariadb, "_launch", launched)
    with mariadb.in_use(home, redo_megabytes=SMALL_REDO) as running:
        assert ask(running, "SELECT 1") == ((1,),)
    assert ended == [0], "it is started once, when the files are free"


def test_one_that_ends_at_once_is_started_again(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    home = tmp_path / "mariadb"
    launch, ends = mariadb._launch, [subprocess.Popen(["false"])]
    monkeypatch.setattr(mariadb, "_launch", lambda *given: ends.pop() if ends else launch(*given))
    with mariadb.in_use(home, redo_megabytes=SMALL_REDO) as running:
        assert ask(running, "SELECT 1") == ((1,),)
    monkeypatch.setattr(mariadb, "_launch", lambda *_: subprocess.Popen(["false"]))
    with pytest.raises(NoStartError, match=r"ended at once \(exit 1\)\. Its last words"), mariadb.in_use(home):
        pass
