"""`kill -9` at any point of making and of merging segments: what is there afterwards is whole, and the lines are the same."""

from __future__ import annotations

import shutil
import signal
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.ports import Office
from lofty_abacus.store import columns_cache
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.store.columns_cache import ALIKE
from lofty_abacus.wiring import now
from tests.conftest import quiet
from tests.forking import Maker, begin, maker, said

Write = Callable[..., tuple[str, Path]]


def lines_of(books: MariaDbBooks, ledger: str) -> tuple[int, int]:
    source = books.opened(ledger).source
    segments = source.segments  # type: ignore[attr-defined]
    amount = sum(int(each.amount[each.out == 0].sum() if each.out is not None else each.amount.sum()) for each in segments)
    return len(segments), amount


@pytest.fixture(scope="module")
def grown(office: Office, tmp_path_factory: pytest.TempPathFactory) -> str:
    """A ledger of so many postings that their segments are put together."""
    from lofty_abacus.actions.ledgers.make_ledger import make_ledger
    from lofty_abacus.actions.records import NewLedger

    make_ledger(office, NewLedger("killed"))
    folder = tmp_path_factory.mktemp("grown")
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(columns_cache, "ALIKE", 1000)
        for at in range(ALIKE + 1):
            path = folder / f"f{at}.csv"
            rows = ["date,order,rep,amount", f"2026-03-{at + 1:02d},O{at},Ada,{at + 1}", f"2026-01-01,O{at},Bo,2"]
            path.write_text("\n".join(rows))
            post_files(office, stage_files(office, "killed", [(path.name, path)]).id, quiet)
            # Each posting is read by itself, as readers do.
            office.books.opened("killed")
    return "killed"


@pytest.fixture(scope="module")
def dying(office: Office) -> Iterator[Maker]:
    """A process that makes processes on the same record: each is killed at a step of writing files."""
    assert isinstance(office.books, MariaDbBooks)
    with maker("tests.store.merging", office.books.engine.url.render_as_string(hide_password=False)) as process:
        yield process


@pytest.mark.parametrize("begins", ["from nothing", "from small segments"])
def test_segments_are_whole_wherever_their_making_is_killed(
    office: Office, grown: str, dying: Maker, tmp_path: Path, begins: str
) -> None:
    assert isinstance(office.books, MariaDbBooks)
    url = office.books.engine.url.render_as_string(hide_password=False)
    home = office.books._cache._folder / f"ledger-{office.books.ledger(grown).id}"
    small = sorted(home.glob("segment-*"))
    assert len(small) == ALIKE + 1
    wanted = lines_of(office.books, grown)
    for step in range(1, 60):
        place = tmp_path / f"columns-{step}" / home.name
        place.mkdir(parents=True)
        if begins == "from small segments":
            for path in small:
                shutil.copytree(path, place / path.name)
        begin(dying, place.parent, grown, step)
        *_, ended = said(dying)
        assert ended in ("ended 0\n", f"ended -{signal.SIGKILL}\n")
        again = MariaDbBooks(url, place.parent, now)
        try:
            assert lines_of(again, grown) == wanted, f"killed at step {step}"
        finally:
            again.close()
        # What this process put together meanwhile beside all else is done by now.
        left = [path.name for path in place.iterdir() if ".making-" in path.name]
        assert not left, "what was begun is cleared away"
        if ended == "ended 0\n":
            break
    # A column, a manifest, a new name: it was killed at each of them.
    assert ended == "ended 0\n" and step > 8
    assert len(list(place.glob("segment-*"))) < len(small), "they were put together"
