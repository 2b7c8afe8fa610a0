"""Holidays of a file are told with what is new of them, and kept only with the settings."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest

from lofty_abacus.actions.errors import RefusedError
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import stage_files
from lofty_abacus.actions.ledgers.make_ledger import change_settings, settings_of
from lofty_abacus.actions.ledgers.read_holidays import LONGEST_FILE, holidays_of_file
from lofty_abacus.actions.ports import Office
from tests.conftest import quiet
from tests.ingest.test_holidays import calendar

Write = Callable[..., tuple[str, Path]]
MAY = calendar(
    "DTSTART;VALUE=DATE:19900501\r\nRRULE:FREQ=YEARLY\r\nSUMMARY:First of May", "DTSTART:20260501T090000Z\r\nSUMMARY:Talk"
)


def test_holidays_are_read_for_the_years_that_matter(office: Office, ledger: str, csv_file: Write) -> None:
    post_files(office, stage_files(office, ledger, [csv_file("s.csv", "date,rep,amount", "2024-03-01,Ada,10")]).id, quiet)
    found = holidays_of_file(office, ledger, "may.ics", MAY)
    assert [each.day.year for each in found.days] == [2023, 2024, 2025, 2026, 2027, 2028, 2029]
    assert found.words == (
        "may.ics: 7 holidays from 2023 to 2029; 7 of them new; 1 entry of less or much more than a day is left out."
    )
    assert settings_of(office, ledger).calendar.holidays == ()
    before = settings_of(office, ledger)
    calendar_ = replace(before.calendar, holidays=tuple(each.day for each in found.days[:3]))
    change_settings(office, ledger, replace(before, calendar=calendar_))
    assert holidays_of_file(office, ledger, "may.ics", MAY).new == 4


def test_a_file_that_is_too_long_is_refused(office: Office, ledger: str) -> None:
    with pytest.raises(RefusedError, match="holidays only"):
        holidays_of_file(office, ledger, "long.ics", "x" * (LONGEST_FILE + 1))
