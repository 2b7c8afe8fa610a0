"""Issues: what is published never changes; what would be different later is told exactly, with what caused it."""

from __future__ import annotations

import random
from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction
from pathlib import Path

import pytest
from sqlalchemy import text

from lofty_abacus.actions.briefs import watch_briefs
from lofty_abacus.actions.briefs.compose_brief import Composing, compose
from lofty_abacus.actions.briefs.figures_of import FigureKey, shown_figures
from lofty_abacus.actions.briefs.issues import checksum_of_figures, open_issue, read_composed
from lofty_abacus.actions.briefs.keep_briefs import forget_brief, keep_brief, list_briefs
from lofty_abacus.actions.briefs.look_at_alerts import keep_alert
from lofty_abacus.actions.briefs.news_of_draft import news_of
from lofty_abacus.actions.briefs.publish_brief import Publishing, note_for_next, publish_brief
from lofty_abacus.actions.briefs.restate_issue import restatement_of
from lofty_abacus.actions.briefs.watch_briefs import Briefs, folder_of, put_into_folder
from lofty_abacus.actions.errors import NameTakenError, NotFoundError, RecordsError, RefusedError
from lofty_abacus.actions.ledgers.correct_line import correct_line
from lofty_abacus.actions.ledgers.describe_ledger import list_ledgers
from lofty_abacus.actions.ledgers.keep_ledgers import delete_ledger, holdings_of
from lofty_abacus.actions.ledgers.withdraw_batch import restore_batch, withdraw_batch
from lofty_abacus.actions.ports import Office
from lofty_abacus.actions.records import LineChange, Replacement
from lofty_abacus.actions.records.briefs import Alert, Handing, Person, Schedule
from lofty_abacus.export.briefs.brief import Brief, FigureBlock, TextBlock
from lofty_abacus.export.briefs.composed import ComposedFigures
from lofty_abacus.export.showing import exact
from lofty_abacus.store.books import MariaDbBooks
from tests.briefs.ledgers import AS_OF, BY_REGION, HEADER, LINES, Write, a_step, blocks, brief, kept, posted, posted_together


def exactly(pair: tuple[str, str]) -> Fraction:
    return Fraction(int(pair[0]), int(pair[1]))


def test_an_issue_never_changes(office: Office, ledger: str, csv_file: Write) -> None:
    first = posted(office, ledger, csv_file, *LINES[:5])
    second = posted(office, ledger, csv_file, *LINES[5:], name="more.csv")
    found = publish_brief(office, kept(office, ledger).id)
    assert (found.number, found.version, found.as_of, found.author) == (1, 2, AS_OF.day, "Tess Ter")
    assert found.headline == "Net sales 358.43, +58.8% on the same dates last year"
    before = open_issue(office, found.id)
    assert checksum_of_figures(before.content.answers) in before.content.html, "the checksum stands on it"
    assert before.content.pdf.startswith(b"%PDF-")
    for batch in (*second.batches, *first.batches):
        withdraw_batch(office, ledger, batch, leave_hole=False)
    forget_brief(office, found.brief_id, forgotten=True)
    after = open_issue(office, found.id)
    assert after.content == before.content and after.record == before.record
    assert not list_briefs(office, ledger).briefs
    restated = restatement_of(office, found.id)
    assert restated.count and "withdrew sales.csv" in restated.words
    assert open_issue(office, found.id).content == before.content


def test_what_was_changed_in_the_record_is_seen(office: Office, ledger: str, csv_file: Write) -> None:
    posted(office, ledger, csv_file, *LINES)
    found = publish_brief(office, kept(office, ledger).id)
    books = office.books
    assert isinstance(books, MariaDbBooks)
    with books.engine.begin() as connection:
        connection.execute(
            text("UPDATE issue_copy SET html = REPLACE(html, '358.43', '358.44') WHERE issue_id = :n"), {"n": found.id}
        )
    with pytest.raises(RecordsError, match="not what was published"):
        open_issue(office, found.id)


def test_numbers_follow_each_other_and_only_one_takes_each(office: Office, ledger: str, csv_file: Write) -> None:
    posted(office, ledger, csv_file, *LINES)
    one = kept(office, ledger)
    assert [publish_brief(office, one.id, Publishing(day=date(2026, month, 28))).number for month in (3, 4)] == [1, 2]
    assert [each.as_of for each in office.books.briefs.issues(one.id)] == [date(2026, 4, 28), date(2026, 3, 28)]
    again = replace(_new(office, one.id), number=2)
    with pytest.raises(RefusedError, match="Issue 2 was published meanwhile"):
        office.books.briefs.publish(again, ())
    with pytest.raises(RefusedError, match="no figure"):
        publish_brief(office, kept(office, ledger, Brief("Words", as_of=AS_OF, blocks=(TextBlock("only words"),))).id)
    with pytest.raises(NotFoundError):
        publish_brief(office, 10**9)


def _new(office: Office, brief_id: int):  # type: ignore[no-untyped-def]
    from lofty_abacus.actions.records.briefs import NewIssue

    return NewIssue(brief_id, 3, "t", AS_OF.day, 1, "", "", "0" * 64, brief(), ())


def test_the_effects_of_versions_are_the_difference_exactly(office: Office, ledger: str, csv_file: Write) -> None:
    posted(office, ledger, csv_file, *LINES)
    found = publish_brief(office, kept(office, ledger).id)
    assert restatement_of(office, found.id).count == 0
    extra = posted(office, ledger, csv_file, "2026-03-30,O9,L9,North,Ada,P1,1,1000.01", name="late.csv")
    gone = posted(office, ledger, csv_file, "2026-03-31,O10,L10,South,Eva,P1,1,7.00", name="wrong.csv")
    withdraw_batch(office, ledger, gone.batches[0], leave_hole=False)
    line = next(each for each in office.books.read_lines(office.books.ledger(ledger).id, range(1, 20)) if each.line_ref == "L4")
    correct_line(office, ledger, line.id, LineChange(amount="100.10"), "a typing error")
    restated = restatement_of(office, found.id)
    assert restated.version == 5 and restated.count == len(restated.figures) > 30
    for figure in restated.figures:
        assert figure.then != figure.now
        known = [each for each in figure.effects if each.exact]
        if figure.difference != "–":
            assert len(known) == len(figure.effects), figure
    first = restated.figures[0]
    assert (first.then, first.now, first.difference) == ("358.43", "1,338.44", "+980.01")
    assert [(each.version, each.amount) for each in first.effects] == [
        (2, "+1,000.01"),
        (3, "+7.00"),
        (4, "−7.00"),
        (5, "−20.00"),
    ]
    assert sum(exactly(each.exact) for each in first.effects if each.exact) == Fraction("980.01")
    assert [each.batch for each in first.effects[:3]] == [extra.batches[0], gone.batches[0], gone.batches[0]]
    assert first.effects[3].batch not in (None, extra.batches[0]) and first.effects[3].what.startswith("Correction of")
    assert first.effects[0].what == "posted late.csv" and first.effects[0].made_by == "Tess Ter"
    # The rep who was there for a while only is no restatement.
    assert not [each for each in restated.figures if "Eva" in each.row]
    withdraw_batch(office, ledger, extra.batches[0], leave_hole=False)
    assert restatement_of(office, found.id).figures[0].difference == "−20.00"


def test_restatements_are_found_by_themselves(office: Office, ledger: str, csv_file: Write) -> None:
    posted(office, ledger, csv_file, *LINES)
    one = kept(office, ledger)
    publish_brief(office, one.id)
    watcher = Briefs(office)
    watcher.look()
    assert office.books.briefs.issues(one.id)[0].restated == 0
    (batch,) = posted(office, ledger, csv_file, "2026-03-30,O9,L9,North,Ada,P1,1,5.00", name="late.csv").batches
    watcher.look()
    (issue,) = office.books.briefs.issues(one.id)
    assert issue.restated and issue.restated_version == 2
    # A note of it is in the next issue, whose draft it is by now.
    note = note_for_next(office, one.brief, office.books.briefs.issues(one.id))
    draft = compose(office, ledger, one.brief, Composing(restated=note))
    note = next(each for each in draft.blocks if each.kind == "restated")
    assert note.issue == 1 and note.lines[0].causes[0].startswith("posted late.csv")
    withdraw_batch(office, ledger, batch, leave_hole=False)
    watcher.look()
    assert office.books.briefs.issues(one.id)[0].restated == 0
    restore_batch(office, ledger, batch)


def test_the_draft_tells_what_is_new(office: Office, ledger: str, csv_file: Write) -> None:
    posted(office, ledger, csv_file, *LINES)
    one = kept(office, ledger, brief(blocks=blocks()[:3]))
    issue = publish_brief(office, one.id, Publishing(day=date(2026, 3, 31)))
    last = read_composed(open_issue(office, issue.id).content.answers)
    same = compose(office, ledger, one.brief, None)
    headline, rate, table = news_of(same, last)
    assert headline.words == ("Net sales, this year: 330.10 then, 358.43 now",) and headline.state == "moved_on"
    assert table.words[1] == "3 rows new: North › <Cy>, Łódź, Łódź › Ada" and rate.state in ("moved_on", "as_it_was")
    other = compose(office, ledger, replace(one.brief, blocks=(blocks()[0], FigureBlock("chart", BY_REGION))), None)
    assert [each.state for each in news_of(other, last)] == ["moved_on", "new", "gone", "gone"]
    assert news_of(other, None) == ()


def test_copies_are_published_with_the_whole(office: Office, ledger: str, csv_file: Write) -> None:
    posted(office, ledger, csv_file, *LINES)
    found = publish_brief(office, kept(office, ledger, brief(copies="region", blocks=blocks()[:2])).id)
    assert [(each.place, each.label) for each in found.copies] == [(0, ""), (1, "North"), (2, "South"), (3, "Łódź")]
    south = read_composed(open_issue(office, found.id, 2).content.answers)
    assert south.member == "South" and south.blocks[0].answer.total.cells[0].value == "210.00"  # type: ignore[union-attr]
    with pytest.raises(NotFoundError):
        open_issue(office, found.id, 9)
    with pytest.raises(NotFoundError, match="colour"):
        publish_brief(office, kept(office, ledger, brief("Wrong copies", copies="colour")).id)


def test_two_people_do_not_write_over_each_other(office: Office, ledger: str, csv_file: Write) -> None:
    posted(office, ledger, csv_file, *LINES)
    one = kept(office, ledger)
    theirs = keep_brief(replace(office, person="Ann"), ledger, brief(title="Ann's"), Handing(), one.id, one.saved_at)
    with pytest.raises(RefusedError, match="Ann changed this brief meanwhile"):
        keep_brief(office, ledger, brief(title="Mine"), Handing(), one.id, one.saved_at)
    mine = keep_brief(office, ledger, brief(title="Mine"), Handing(), one.id, theirs.saved_at)
    assert mine.brief.title == "Mine"
    with pytest.raises(NameTakenError):
        kept(office, ledger)
    forget_brief(office, one.id, forgotten=True)
    other = kept(office, ledger)
    with pytest.raises(NameTakenError):
        keep_brief(office, ledger, brief(), Handing(), one.id)
    assert other.id != one.id


def test_files_are_put_into_the_folder_once_and_whole(office: Office, ledger: str, csv_file: Write, tmp_path: Path) -> None:
    office = replace(office, handed=tmp_path / "handed")
    posted(office, ledger, csv_file, *LINES)
    one = keep_brief(office, ledger, brief(blocks=blocks()[:1], copies="region"), Handing(folder=True))
    issue = publish_brief(office, one.id)
    Briefs(office).look()
    folder = folder_of(office, one)
    assert folder is not None
    names = sorted(each.name for each in folder.iterdir())
    assert names == sorted(
        f"Issue 0001{label} 2026-05-31.{ending}" for label in ("", ", North", ", South", ", Łódź") for ending in ("html", "pdf")
    )
    whole = folder / "Issue 0001 2026-05-31.pdf"
    assert whole.read_bytes() == open_issue(office, issue.id).content.pdf
    before = whole.stat().st_mtime_ns
    (folder / "Issue 0001, North 2026-05-31.html").unlink()
    assert [each.name for each in put_into_folder(office, one, issue)] == [
        "Issue 0001, North 2026-05-31.pdf",
        "Issue 0001, North 2026-05-31.html",
    ]
    assert whole.stat().st_mtime_ns == before and not list(folder.glob(".*"))


def test_files_posted_together_have_an_effect_each(office: Office, ledger: str, csv_file: Write) -> None:
    posted(office, ledger, csv_file, *LINES)
    lookup = ("rep,team", "Ada,Blue", "Bo & Co,Red", "=1+1,Red")
    teams = posted_together(office, ledger, csv_file, {"teams.csv": lookup})
    by_team = replace(BY_REGION, rows=("team",))
    found = publish_brief(office, kept(office, ledger, brief(blocks=(FigureBlock("table", by_team), blocks()[0]))).id)
    late = (HEADER, "2026-03-30,O9,L9,North,Ada,P1,1,1000.01", "2026-02-28,O10,L10,South,Bo & Co,P1,1,20.00")
    files = {
        "late.csv": late,
        "teams-2026.csv": ("rep,team", "Ada,Red", "Bo & Co,Red", "=1+1,Blue"),
        "south.csv": (HEADER, "2026-03-31,O11,L11,South,Bo & Co,P1,1,7.50"),
    }
    together = posted_together(office, ledger, csv_file, files, Replacement(teams.batches))
    assert len(together.batches) == 3
    restated = restatement_of(office, found.id)
    red, headline = (
        next(each for each in restated.figures if each.row == row and each.column == "net_sales.0.value") for row in ("Red", "")
    )
    # What the lookup that was replaced had said is gone with the first file of those that came.
    assert [(each.batch, each.what, each.amount) for each in red.effects] == [
        (together.batches[0], "replaced teams.csv by late.csv", "−210.00"),
        (together.batches[1], "posted teams-2026.csv", "+1,368.44"),
        (together.batches[2], "posted south.csv", "+7.50"),
    ]
    assert (red.then, red.now, red.difference) == ("210.00", "1,375.94", "+1,165.94")
    assert [(each.what, each.amount) for each in headline.effects] == [
        ("replaced teams.csv by late.csv", "+1,020.01"),
        ("posted south.csv", "+7.50"),
    ]
    assert {each.version for each in (*red.effects, *headline.effects)} == {together.version}


def test_days_that_files_took_the_place_of_are_effects_of_theirs(office: Office, ledger: str, csv_file: Write) -> None:
    posted(office, ledger, csv_file, *LINES)
    found = publish_brief(office, kept(office, ledger).id)
    days = Replacement((), date(2026, 3, 1), date(2026, 3, 31))
    files = {
        "a.csv": (HEADER, "2026-03-04,O4,M4,North,Ada,P1,2,120.00", "2026-03-21,O5,M5,South,Bo & Co,P2,4,205.00"),
        "b.csv": (HEADER, "2026-03-29,O6,M6,South,=1+1,P3,1,11.25"),
    }
    together = posted_together(office, ledger, csv_file, files, days)
    headline = restatement_of(office, found.id).figures[0]
    # The first file took the place of the lines of those days, the second only brought its own.
    assert [(each.batch, each.amount) for each in headline.effects] == [
        (together.batches[0], "−5.10"),
        (together.batches[1], "+11.25"),
    ]
    assert headline.difference == "+6.15"


def test_effects_add_up_whatever_was_posted_and_withdrawn(office: Office, ledger: str, csv_file: Write) -> None:
    chance = random.Random(11)
    posted(office, ledger, csv_file, *LINES)
    found = publish_brief(office, kept(office, ledger).id)
    then = read_composed(open_issue(office, found.id).content.answers)
    batches: list[tuple[int, bool]] = []
    for step in range(14):
        a_step(office, ledger, csv_file, chance, step, batches)
    restated = restatement_of(office, found.id)
    now = compose(office, ledger, brief(), Composing(version=restated.version))
    before, after = (
        [
            {each.key: exact(each.cell) for each in shown_figures(block)}
            for block in composed.blocks
            if isinstance(block, ComposedFigures)
        ]
        for composed in (then, now)
    )
    assert restated.count > 40 and restated.version == office.books.ledger(ledger).version
    told = 0
    for each in restated.figures:
        key = FigureKey(each.path, each.column)
        was, is_now = before[each.block].get(key), after[each.block].get(key)
        if was is None or is_now is None or any(effect.exact is None for effect in each.effects):
            continue
        total = sum((exactly(effect.exact) for effect in each.effects if effect.exact), Fraction(0))
        assert total == is_now - was, each
        told += 1
    assert told > 25


def test_a_ledger_is_thrown_away_with_its_issues_mail_and_alerts(office: Office, ledger: str, csv_file: Write) -> None:
    posted(office, ledger, csv_file, *LINES)
    one = keep_brief(office, ledger, brief(blocks=blocks()[:1]), Handing((Person("a@a.example"),)))
    issue = publish_brief(office, one.id, Publishing(hand_out=True))
    posted(office, ledger, csv_file, "2026-03-30,O9,L9,North,Ada,P1,1,5.00", name="late.csv")
    restatement_of(office, issue.id)
    keep_alert(office, ledger, Alert("Behind", "feed_behind", days=1))
    held = holdings_of(office, ledger)
    assert (held.briefs, held.issues, held.alerts) == (1, 1, 1)
    assert next(each for each in list_ledgers(office) if each.name == ledger).alerts == 1
    delete_ledger(office, ledger, ledger)
    with pytest.raises(NotFoundError):
        office.books.briefs.issue(issue.id)
    with pytest.raises(NotFoundError):
        office.books.briefs.brief(one.id)


def test_what_fails_holds_up_nothing_else(
    office: Office, ledger: str, csv_file: Write, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    posted(office, ledger, csv_file, *LINES)
    every_day = Schedule("weekly", (0, 1, 2, 3, 4, 5, 6), "00:00")
    one = keep_brief(office, ledger, brief("A", blocks=blocks()[:1]), Handing(schedule=every_day))
    other = keep_brief(office, ledger, brief("B", blocks=blocks()[:1]), Handing(schedule=every_day))
    for each in (one, other):
        office.books.briefs.scheduled(each.id, office.now() - timedelta(days=2))
    real = watch_briefs.publish_brief

    def fails(office: Office, number: int, *more: object) -> object:
        if number == one.id:
            raise ZeroDivisionError
        return real(office, number, *more)  # type: ignore[arg-type]

    monkeypatch.setattr(watch_briefs, "publish_brief", fails)
    Briefs(office).look()
    assert not office.books.briefs.issues(one.id) and len(office.books.briefs.issues(other.id)) == 1
    assert "on our side" in office.books.briefs.brief(one.id).trouble and "ZeroDivisionError" in caplog.text
