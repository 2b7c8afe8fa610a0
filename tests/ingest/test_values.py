from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lofty_abacus.core.money import decimal_text
from lofty_abacus.ingest.dates import DateFormat, date_formats, read_date
from lofty_abacus.ingest.numbers import DecimalMark, _written_figure, decimal_marks, read_figure, read_number
from lofty_abacus.ingest.setting_aside import may_say_total, says_total


@pytest.mark.parametrize(
    ("text", "form", "day"),
    [
        ("2026-03-14", "year_month_day", date(2026, 3, 14)),
        ("20260314", "year_month_day", date(2026, 3, 14)),
        ("2026-03-14T23:59:59", "year_month_day", date(2026, 3, 14)),
        ("14.03.2026", "day_month_year", date(2026, 3, 14)),
        ("3/14/2026", "month_day_year", date(2026, 3, 14)),
        ("14. Mar 2026", "day_month_year", date(2026, 3, 14)),
        ("March 14, 2026", "month_day_year", date(2026, 3, 14)),
        ("14.03.26", "day_month_year", date(2026, 3, 14)),
        ("3/14/70", "month_day_year", date(1970, 3, 14)),
        ("14 Mar 69", "day_month_year", date(2069, 3, 14)),
        ("26.03.14", "year_month_day", None),
        ("46095", "spreadsheet_serial", date(2026, 3, 14)),
        ("46095.75", "spreadsheet_serial", date(2026, 3, 14)),
        ("31.02.2026", "day_month_year", None),
        ("soon", "year_month_day", None),
        ("2026-03-14", "day_month_year", date(2026, 3, 14)),
    ],
)
def test_dates(text: str, form: DateFormat, day: date | None) -> None:
    assert read_date(text, form) == day


def test_an_ambiguous_column_is_never_guessed() -> None:
    assert date_formats(["01.02.2026", "03.04.2026"]) == ["day_month_year", "month_day_year"]
    assert date_formats(["01.02.2026", "13.04.2026"]) == ["day_month_year"]
    assert date_formats(["01.01.2026", "02.02.2026"]) == ["day_month_year"], "both readings give the same days"
    assert date_formats(["North", "South"]) == []
    assert date_formats(["2026-03-01", "2026-03-02", "14.03.2026"]) == ["day_month_year"], "real dates among text ones"


@pytest.mark.parametrize(
    ("text", "mark", "value"),
    [
        ("1,234.50", "point", (12345, 1)),
        ("1.234,56", "comma", (123456, 2)),
        ("(12.00)", "point", (-12, 0)),
        ("12.5-", "point", (-125, 1)),
        ("€ 1 234,5", "comma", (12345, 1)),
        ("EUR 7", "point", (7, 0)),
        ("−3.25", "point", (-325, 2)),
        ("1e2", "point", None),
        ("12,34", "point", None),
        ("1.0000000001", "point", None),
        ("", "point", None),
        ("--1", "point", None),
    ],
)
def test_numbers(text: str, mark: DecimalMark, value: tuple[int, int] | None) -> None:
    assert read_number(text, mark) == value


def test_decimal_marks_are_found_or_asked_for() -> None:
    assert decimal_marks(["1.5", "2"]) == ["point"]
    assert decimal_marks(["1,5", "2"]) == ["comma"]
    assert decimal_marks(["1,500", "2,250"]) == ["point", "comma"], "thousands or decimals: the analyst decides"
    assert decimal_marks(["17", "4"]) == ["point"]
    assert decimal_marks(["a", "b"]) == []


@given(st.integers(-(10**15), 10**15), st.integers(0, 9))
def test_written_numbers_are_read_back_exactly(minor: int, scale: int) -> None:
    text = decimal_text(minor, scale)
    found = read_number(text, "point")
    assert found is not None
    assert found[0] * 10**scale == minor * 10 ** found[1]


@given(text=st.text("-+0123459.,' \u2212()", max_size=9), mark=st.sampled_from(["point", "comma"]))
def test_the_usual_way_of_writing_is_read_like_any_other(text: str, mark: DecimalMark) -> None:
    assert read_figure(text, mark) == _written_figure(text.strip(), mark)


@given(
    texts=st.lists(
        st.one_of(
            st.sampled_from(["Total", " grand total Q1", "SUMME\n", "Sub-total", "totals", "sum of", "\n total", "x\ntotal\ny"]),
            st.text("totalsum \n\r\u2028é", max_size=9),
        ),
        max_size=6,
    )
)
def test_no_totals_row_is_passed_over_when_all_texts_are_looked_at_together(texts: list[str]) -> None:
    if any(map(says_total, texts)):
        assert may_say_total("\n".join(texts))
