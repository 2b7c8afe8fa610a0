"""What the checks say: of files before a posting, and of a table against the posted lines."""

from __future__ import annotations

from datetime import date
from typing import get_args

from lofty_abacus.actions.intake.checks import Finding, FindingCode
from lofty_abacus.telling.checks import agreeing_words, disagreeing_words
from lofty_abacus.telling.findings import HEADINGS, NOTES, finding_note, finding_words


def test_every_finding_has_a_heading_and_no_code_is_left_over() -> None:
    codes = set(get_args(FindingCode))
    assert set(HEADINGS) == codes and set(NOTES) < codes
    assert all("{" not in finding_words(code, 2, "region", of=3) for code in codes)


def test_a_finding_says_what_and_how_much() -> None:
    near = Finding("near_members", "look", 1, about="sales_rep")
    assert near.words == "1 member of sales rep nearly like another" and near.note == ""
    assert finding_words("weeks_without_lines", 2, "") == "2 stretches of a week or more without lines"
    assert finding_words("outlying_amounts", 1_200, "98000.5", amount="-2500000.00") == (
        "1,200 amounts far from the others, beyond 98,000.5 · −2,500,000.00"
    )
    assert finding_words("returns_sign", 1, "lines", amount="135.00") == "1 return, negative lines · 135.00"
    assert finding_words("returns_sign", 3, "positive") == "3 returns, written as positive figures"
    assert finding_words("lookup_keys_unknown", 4, "", of=1_000) == "4 keys of 1,000 that no line has"
    assert finding_note("not_mapped").startswith("They are posted") and finding_note("unreadable") == ""


def test_a_check_says_what_agrees_and_what_was_not_looked_at() -> None:
    day = date(2026, 10, 17)
    assert agreeing_words(1_284, ["net_sales"], [], None, day) == (
        "Agrees to the cent with 1,284 posted lines, added up by the database itself"
    )
    assert agreeing_words(2, ["gross_sales", "gross_sales"], ["net_sales", "returns", "returns"], "-4.50", day) == (
        "Gross sales agrees to the cent with 2 posted lines; net sales, returns read returns on the day of their sale, which "
        "the database does not add up; over all days up to 17 Oct 2026 net sales are −4.50, as posted to the cent"
    )
    assert agreeing_words(2, [], ["net_sales"], None, day).startswith("Net sales reads returns on the day of their sale")


def test_a_check_says_what_does_not_agree() -> None:
    assert disagreeing_words([("net_sales", "1.00", "2.00"), ("cost", "3", "4")]) == (
        "Does not agree with the posted lines: net sales is 1.00 here and 2.00 in the database. cost is 3 here and 4 in the "
        "database."
    )
