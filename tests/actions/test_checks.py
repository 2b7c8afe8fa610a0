"""What the checks before a posting find, each with its rows, and the decisions that can be taken."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path

import pytest

from lofty_abacus.actions.errors import NotFoundError, RefusedError, StoppedError
from lofty_abacus.actions.intake.check_files import check_files, problems_of_file, rows_of_finding
from lofty_abacus.actions.intake.checks import Finding, FindingCode
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import correct_value, expect, leave_out, map_file, read_again, stage_files
from lofty_abacus.actions.intake.stagings import Expected, Staging, discard_left_behind, waiting_stagings
from lofty_abacus.actions.ledgers.describe_ledger import find_members, list_batches
from lofty_abacus.actions.ports import Office
from lofty_abacus.ingest.mapping import Correction, FileMapping, Merge, Reading
from lofty_abacus.ingest.problems import MappingError
from lofty_abacus.ingest.tally import SHOWN
from tests.conftest import quiet

Write = Callable[..., tuple[str, Path]]


def staged(office: Office, ledger: str, *files: tuple[str, Path]) -> Staging:
    return stage_files(office, ledger, files)


def mapping_of(staging: Staging, file: int = 0) -> FileMapping:
    mapping = staging.files[file].mapping
    assert mapping is not None
    return mapping


def finding(office: Office, staging: Staging, code: FindingCode, file: int = 0) -> Finding:
    found = check_files(office, staging.id).files[file].finding(code)
    assert found is not None, f"{code} is found"
    return found


def rows(office: Office, staging: Staging, code: FindingCode, about: str = "", member: str | None = None) -> list[int]:
    return [each.row for each in rows_of_finding(office, staging.id, 0, code, about, member, 0, 50).rows]


def test_values_are_corrected_in_place_and_remembered(office: Office, ledger: str, csv_file: Write) -> None:
    header = "date,rep,amount"
    bad = ("2026-03-01,Ada,1O", "2026-03-02,Bo,1O", "31.02.2026,Cy,3", "2026-03-04,Di,n/a")
    staging = staged(office, ledger, csv_file("a.csv", header, *bad, "2026-03-05,Ed,1", "2026-03-06,Ed,2", "2026-03-07,Ed,4"))
    assert [(each.row, each.text) for each in problems_of_file(office, staging.id, 0)] == [
        (2, "1O"),
        (3, "1O"),
        (4, "31.02.2026"),
        (5, "n/a"),
    ]
    assert rows(office, staging, "unreadable") == [2, 3, 4, 5]
    correct_value(office, staging.id, 0, Correction("amount", "1O", "10"))
    correct_value(office, staging.id, 0, Correction("date", "31.02.2026", "2026-02-28", row=4))
    assert finding(office, staging, "unreadable").count == 1
    correct_value(office, staging.id, 0, Correction("amount", "n/a", "7", row=5))
    check = check_files(office, staging.id)
    assert check.ready and check.files[0].amount == "37.00"
    undone = correct_value(office, staging.id, 0, Correction("amount", "n/a", "n/a", row=5))
    assert [each.row for each in undone.files[0].corrections] == [4] and not check_files(office, staging.id).ready
    correct_value(office, staging.id, 0, Correction("amount", "n/a", "7", row=5))
    post_files(office, staging.id, quiet)
    after = staged(office, ledger, csv_file("b.csv", header, "2026-04-01,Ada,1O", "2026-04-02,Ada,4", "2026-04-03,Ada,5"))
    assert after.files[0].kept and check_files(office, after.id).files[0].amount == "19.00", "1O is remembered, row 4 is not"
    with pytest.raises(MappingError, match="no such column"):
        correct_value(office, after.id, 0, Correction("gone", "1", "2"))


def test_what_an_analyst_expects_is_held_against_the_file(office: Office, ledger: str, csv_file: Write) -> None:
    staging = staged(office, ledger, csv_file("a.csv", "date,rep,amount", "2026-03-01,Ada,10.50", "2026-03-02,Bo,2"))
    expect(office, staging.id, 0, Expected(3, "12.5"))
    assert check_files(office, staging.id).files[0].blocking == ("You expect 3 lines, and the file gives 2.",)
    expect(office, staging.id, 0, Expected(2, "12.51"))
    assert "net total of 12.51, and the file gives 12.50" in check_files(office, staging.id).files[0].blocking[0]
    expect(office, staging.id, 0, Expected(2, "12.5"))
    assert check_files(office, staging.id).ready
    with pytest.raises(MappingError, match="is no number"):
        expect(office, staging.id, 0, Expected(None, "twelve"))


def test_near_members_are_offered_and_merged(office: Office, ledger: str, csv_file: Write) -> None:
    header = "date,region,product,amount"
    post_files(
        office,
        staged(office, ledger, csv_file("a.csv", header, "2026-03-01,North,P-101,10", "2026-03-01,Süd,P-102,10")).id,
        quiet,
    )
    staging = staged(
        office, ledger, csv_file("b.csv", header, "2026-04-01,Nort,P-103,5", "2026-04-02,SUD,P-101,6", "2026-04-03,East,P-101,7")
    )
    near = finding(office, staging, "near_members")
    assert (near.about, {(each.key, each.near, each.amount) for each in near.members}) == (
        "region", {("Nort", "North", "5.00"), ("SUD", "Süd", "6.00")},
    )  # fmt: skip
    assert {each.key for each in finding(office, staging, "new_members").members} == {"Nort", "SUD", "East"}
    assert rows(office, staging, "near_members", "region", "Nort") == [2]
    merges = (Merge("region", "Nort", "North"), Merge("region", "SUD", "Süd"))
    map_file(office, staging.id, 0, replace(mapping_of(staging), merges=merges))
    assert check_files(office, staging.id).files[0].finding("near_members") is None
    post_files(office, staging.id, quiet)
    assert [each.key for each in find_members(office, ledger, "region", "", 9).members] == ["", "East", "North", "Süd"]
    again = staged(office, ledger, csv_file("c.csv", header, "2026-05-01,Nort,P-101,1"))
    assert check_files(office, again.id).files[0].finding("new_members") is None, "the merge is remembered"


def test_of_two_new_members_that_are_nearly_alike_the_rarer_is_offered(office: Office, ledger: str, csv_file: Write) -> None:
    rows = ("2026-03-01,North,1", "2026-03-02,North,1", "2026-03-03,Nort,1")
    staging = staged(office, ledger, csv_file("a.csv", "date,region,amount", *rows))
    assert [(each.key, each.near) for each in finding(office, staging, "near_members").members] == [("Nort", "North")]


def test_days_outliers_and_identical_rows(office: Office, ledger: str, csv_file: Write) -> None:
    first = date(2026, 1, 1)
    lines = [f"{first + timedelta(n)},Ada,{10 + n % 5}" for n in range(120) if n not in (3, *range(40, 50))]
    lines += ["2026-04-29,Ada,9999", "2026-04-30,Ada,10", "2026-04-30,Ada,10", "2027-01-05,Ada,1"]
    staging = staged(office, ledger, csv_file("a.csv", "date,rep,amount", *lines))
    mapping = replace(mapping_of(staging), covers_through="2026-12-31")
    map_file(office, staging.id, 0, mapping)
    single = finding(office, staging, "days_without_lines")
    assert single.count == 1 and single.days[0].first == date(2026, 1, 4)
    weeks = finding(office, staging, "weeks_without_lines")
    assert [(each.first, each.last) for each in weeks.days] == [
        (date(2026, 2, 10), date(2026, 2, 19)), (date(2026, 5, 1), date(2027, 1, 4)),
    ]  # fmt: skip
    outlier = finding(office, staging, "outlying_amounts")
    assert (outlier.count, outlier.about) == (1, "280.00") and rows(office, staging, "outlying_amounts") == [111]
    assert rows(office, staging, "rows_identical") == [113]
    assert (finding(office, staging, "after_today").count, rows(office, staging, "after_today")) == (1, [114])
    assert rows(office, staging, "outside_coverage") == [114]
    before = check_files(office, staging.id).lines
    map_file(office, staging.id, 0, replace(mapping, identical="leave_out"))
    assert check_files(office, staging.id).lines == before - 1


def test_line_ids_that_are_posted_are_found_with_their_place(office: Office, ledger: str, csv_file: Write) -> None:
    header = "date,line id,rep,amount"
    post_files(office, staged(office, ledger, csv_file("a.csv", header, "2026-03-01,L1,Ada,10", "2026-03-02,L2,Bo,1")).id, quiet)
    staging = staged(office, ledger, csv_file("b.csv", header, "2026-03-02,L2,Bo,2", "2026-03-03,L3,Cy,3"))
    found = finding(office, staging, "line_ids_posted")
    assert [(each.row, each.text, each.reason) for each in found.problems] == [(2, "L2", "is posted already (a.csv, row 3)")]
    assert rows(office, staging, "line_ids_posted") == [2]


def test_members_that_no_lookup_knows_are_listed_with_their_amount(office: Office, ledger: str, csv_file: Write) -> None:
    sales = csv_file("s.csv", "date,product,amount", "2026-03-01,P1,10", "2026-03-01,P9,2.50", "2026-03-02,P9,1")
    lookup = csv_file("p.csv", "product,category", "P1,Clay")
    staging = staged(office, ledger, sales, lookup)
    found = finding(office, staging, "not_mapped")
    assert [(each.key, each.lines, each.amount) for each in found.members] == [("P9", 2, "3.50")]
    assert rows(office, staging, "not_mapped", "product", "P9") == [3, 4]
    post_files(office, staging.id, quiet)
    second = staged(office, ledger, csv_file("p2.csv", "product,category", "P1,Glaze", "P7,Tools"))
    changes = finding(office, second, "lookup_changes")
    assert [(each.text, each.reason) for each in changes.problems] == [("P1", "was Clay, becomes Glaze")]
    leaves = finding(office, second, "lookup_leaves_out")
    assert [(each.key, each.lines, each.amount) for each in leaves.members] == [("P9", 2, "3.50")]
    assert rows(office, second, "lookup_changes", "category") == [2]
    posted = rows_of_finding(office, second.id, 0, "lookup_leaves_out", "category", "P9", 0, 50)
    assert posted.total == 2 and [(each.row, each.fields) for each in posted.rows] == [
        (4, ("s.csv", "2026-03-02", "sale", "1.00")), (3, ("s.csv", "2026-03-01", "sale", "2.50")),
    ]  # fmt: skip


def test_conflicts_of_a_lookup_are_resolved_by_decision_or_correction(office: Office, ledger: str, csv_file: Write) -> None:
    staging = staged(office, ledger, csv_file("p.csv", "product,category", "P1,Clay", "P2,Tools", "P1,Glaze"))
    mapping = mapping_of(staging)
    if mapping.kind != "lookup":  # a key that comes twice looks like lines
        from lofty_abacus.ingest.mapping import ColumnUse

        mapping = FileMapping("p", "lookup", (ColumnUse("product", "key", "product"), ColumnUse("category", "level", "category")))
        map_file(office, staging.id, 0, mapping)
    assert finding(office, staging, "lookup_maps_nothing").count == 2, "no line has any of its keys"
    mapping = replace(mapping, unknown_keys="keep")
    map_file(office, staging.id, 0, mapping)
    found = finding(office, staging, "lookup_conflicts")
    assert [(each.row, each.reason) for each in found.problems] == [(4, "came before with other values, in row 2")]
    assert rows(office, staging, "lookup_conflicts") == [2, 4], "the key's other row stands beside"
    assert not check_files(office, staging.id).ready
    map_file(office, staging.id, 0, replace(mapping, conflicts="last"))
    assert check_files(office, staging.id).ready
    map_file(office, staging.id, 0, mapping)
    correct_value(office, staging.id, 0, Correction("category", "Glaze", "Clay", row=4))
    assert check_files(office, staging.id).ready


def test_returns_are_held_against_their_orders(office: Office, ledger: str, csv_file: Write) -> None:
    header = "date,order,product,amount"
    sold = ("2026-03-01,A,P1,100", "2026-03-01,A,P2,50", "2026-03-05,B,P1,25")
    post_files(office, staged(office, ledger, csv_file("s.csv", header, *sold)).id, quiet)
    back = csv_file(
        "returns.csv", "return date,order,product,amount",
        "2026-03-10,A,P1,40", "2026-03-11,A,P1,70", "2026-03-02,B,P1,5", "2026-03-12,Z,P1,5", "2026-03-12,,P1,6", "2026-03-20,C,P1,9",
    )  # fmt: skip
    more = csv_file("more.csv", "date,order,product,amount,note", "2026-03-15,C,P1,10,x")
    staging = staged(office, ledger, back, more)
    assert finding(office, staging, "returns_sign").amount == "135.00"
    assert [(each.row, each.text) for each in finding(office, staging, "returns_large").problems] == [(3, "A")]
    assert [(each.row, each.text) for each in finding(office, staging, "returns_early").problems] == [(4, "B")]
    assert [each.row for each in finding(office, staging, "returns_unmatched").problems] == [5, 6]
    assert rows(office, staging, "returns_unmatched") == [5, 6], "order C is sold in the same drop"
    assert check_files(office, staging.id).ready, "they are posted, and stay on their own day"


def test_a_finding_opens_more_rows_than_it_lists(office: Office, ledger: str, csv_file: Write) -> None:
    lines = [f"2026-03-{n % 28 + 1:02d},Z{n},P1,1" for n in range(SHOWN + 50)]
    staging = staged(office, ledger, csv_file("returns.csv", "return date,order,product,amount", *lines))
    found = finding(office, staging, "returns_unmatched")
    assert (found.count, len(found.problems)) == (SHOWN + 50, SHOWN)
    page = rows_of_finding(office, staging.id, 0, "returns_unmatched", "", None, SHOWN, 100)
    assert (page.total, page.rows[0].row, len(page.rows)) == (SHOWN + 50, SHOWN + 2, 50)


def test_the_sign_of_returns_is_asked_when_in_doubt(office: Office, ledger: str, csv_file: Write) -> None:
    back = csv_file(
        "returns.csv", "return date,order,amount", "2026-03-10,A,40", "2026-03-11,B,-70", "2026-03-12,C,-5", "2026-03-13,D,8"
    )
    staging = staged(office, ledger, back)
    assert mapping_of(staging).returns_are is None
    assert "Say how the file writes a return" in check_files(office, staging.id).files[0].blocking[0]
    map_file(office, staging.id, 0, replace(mapping_of(staging), returns_are="negative"))
    assert check_files(office, staging.id).files[0].amount == "-27.00"
    map_file(office, staging.id, 0, replace(mapping_of(staging), returns_are="positive"))
    assert check_files(office, staging.id).files[0].amount == "27.00"


def test_a_file_is_read_otherwise_and_another_left_out(office: Office, ledger: str, csv_file: Write) -> None:
    odd = csv_file("odd.csv", "date:rep:amount", "2026-03-01:Kö:1", encoding="cp850")
    staging = staged(office, ledger, odd, csv_file("b.csv", "date,rep,amount", "2026-03-01,Ada,1"))
    assert staging.files[0].headers == ("date:rep:amount",)
    read = read_again(office, staging.id, 0, Reading(encoding="cp850", separator=":"))
    assert (read.files[0].headers, read.files[0].sample[0].fields) == (("date", "rep", "amount"), ("2026-03-01", "Kö", "1"))
    for reading in (Reading(encoding="klingon"), Reading(separator=""), Reading(separator="ab"), Reading(quote="\n")):
        with pytest.raises(MappingError):
            read_again(office, staging.id, 0, reading)
    left = leave_out(office, staging.id, 1)
    assert [each.name for each in left.files] == ["odd.csv"] and check_files(office, staging.id).ready
    with pytest.raises(RefusedError, match="the only file"):
        leave_out(office, staging.id, 0)
    with pytest.raises(NotFoundError):
        leave_out(office, staging.id, 5)
    post_files(office, staging.id, quiet)
    again = staged(office, ledger, csv_file("odd2.csv", "date:rep:amount", "2026-04-01:Kö:2", encoding="cp850"))
    assert not again.files[0].kept, "the shape of a file that is read otherwise is known only once it is read so"


def test_stopped_work_leaves_nothing_behind(office: Office, ledger: str, csv_file: Write) -> None:
    def stop(doing: str, done: int, total: int) -> None:
        if doing.startswith(("Reading", "Posting")):
            raise StoppedError

    file = csv_file("a.csv", "date,rep,amount", "2026-03-01,Ada,1")
    with pytest.raises(StoppedError):
        stage_files(office, ledger, [file], stop)
    assert waiting_stagings(office, ledger) == ()
    staging = staged(office, ledger, file)
    with pytest.raises(StoppedError):
        post_files(office, staging.id, stop)
    assert list_batches(office, ledger) == () and waiting_stagings(office, ledger) == (staging,)
    assert post_files(office, staging.id, quiet).lines == 1


def test_what_a_killed_process_left_is_thrown_away(office: Office, tmp_path: Path) -> None:
    import os

    old, young = office.staging / "deadbeef", office.staging / "cafe"
    for folder in (old, young):
        folder.mkdir()
        (folder / "file-0").write_text("half")
    stamp = office.now().timestamp()
    os.utime(old, (stamp - 7200, stamp - 7200))
    os.utime(young, (stamp, stamp))
    assert discard_left_behind(office) == 1
    assert not old.exists() and young.exists()
    (young / "file-0").unlink()
    young.rmdir()
