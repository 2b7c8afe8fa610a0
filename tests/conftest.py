"""One private MariaDB for all tests that need records; each test makes ledgers of its own names."""

from __future__ import annotations

import itertools
import os
from collections.abc import Callable, Iterator
from datetime import UTC, datetime
from pathlib import Path

import pytest
from hypothesis import settings

from lofty_abacus.actions.ledgers.make_ledger import make_ledger
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import NewLedger, Posting
from lofty_abacus.demo.loading import load_demo
from lofty_abacus.server import mariadb
from lofty_abacus.store.other_database import ReadOnlyDatabase
from lofty_abacus.wiring import now, open_books

#: Five databases run in a whole test run: each takes as little of the disk as it can, those of started applications, too.
SMALL_REDO = 64
os.environ["LOFTY_REDO_MB"] = str(SMALL_REDO)
NOW = datetime(2026, 11, 23, 12, tzinfo=UTC)
_numbers = itertools.count(1)

# Speed is shown by the bench, not by timed tests: on a busy machine any example may take long. Examples are drawn anew in every run
# but those of CI, which must not pass or fail by chance; what a run finds becomes a test of its own.
settings.register_profile("untimed", deadline=None, derandomize="CI" in os.environ)
settings.load_profile("untimed")


def quiet(doing: str, done: int, total: int) -> None:
    """Progress that nobody watches."""


@pytest.fixture(scope="session")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[mariadb.RunningServer]:
    with mariadb.in_use(tmp_path_factory.mktemp("mariadb"), redo_megabytes=SMALL_REDO) as running:
        yield running


@pytest.fixture(scope="session")
def office(server: mariadb.RunningServer, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Office]:
    home = tmp_path_factory.mktemp("home")
    books = open_books(server.url, home / "columns", now)
    (home / "staging").mkdir()
    (home / "inbox").mkdir()
    yield Office(books, lambda: NOW, home / "staging", home / "inbox", ReadOnlyDatabase(), "Tess Ter")
    books.engine.dispose()


@pytest.fixture(scope="session")
def demo(office: Office) -> Posting:
    """The demo ledger, loaded as on a fresh machine."""
    return load_demo(office, quiet)


@pytest.fixture
def ledger(office: Office) -> str:
    """The name of an empty ledger."""
    name = f"ledger {next(_numbers)}"
    make_ledger(office, NewLedger(name))
    return name


@pytest.fixture
def csv_file(tmp_path: Path) -> Callable[..., tuple[str, Path]]:
    """Write a CSV file: csv_file('name.csv', 'heading,...', 'line,...')."""

    def write(name: str, *rows: str, encoding: str = "utf-8") -> tuple[str, Path]:
        path = tmp_path / name
        path.write_bytes(("\n".join(rows) + "\n").encode(encoding))
        return name, path

    return write
