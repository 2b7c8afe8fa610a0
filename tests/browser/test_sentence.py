"""Every part of the sentence, by pointer and by keyboard: days told before they are chosen, readings, periods across, the whole address."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path
from typing import Any

from selenium.webdriver import ActionChains, Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.screen import Screen

Lines = Callable[[str], list[tuple[Any, ...]]]


def net(lines: Lines, first: str, last: str, where: str = "") -> Fraction:
    [(found,)] = lines(f"SELECT SUM(amount) FROM {{lines}} WHERE day BETWEEN '{first}' AND '{last}' {where}")
    return Fraction(found)


def point_at(screen: Screen, test: str) -> None:
    def pointed() -> bool:
        found = screen.still(test)
        if found is None:
            return False
        ActionChains(screen.driver).move_to_element(found).perform()
        return bool(screen.driver.execute_script("return arguments[0].matches(':hover')", found))

    screen.until(pointed, f"{test} is pointed at")


def test_periods_and_days_tell_what_they_come_to_before_they_are_chosen(screen: Screen, lines: Lines) -> None:
    screen.type("not by rep")
    screen.settled()
    screen.click("part-window")
    point_at(screen, "period-2026-Q3")
    screen.says("calendar-told", "1 Jul – 30 Sep 2026, 92 days")
    screen.click("period-2026-Q3")
    screen.says("part-window", "Q3 2026")
    screen.until(lambda: screen.exact("total", "net_sales.0.value") == net(lines, "2026-07-01", "2026-09-30"), "the quarter's")
    # Two days; the first is taken, the range is told up to the one that is pointed at.
    screen.click("part-window")
    screen.click("month-before")
    screen.click("day-2026-09-07")
    point_at(screen, "day-2026-09-18")
    screen.says("calendar-told", "7 Sep – 18 Sep 2026, 12 days")
    # The same by keys: back from the first of the next month, a week up, on by days.
    screen.find("day-2026-09-30").send_keys(Keys.ARROW_RIGHT)
    screen.until(lambda: screen.driver.switch_to.active_element.get_attribute("data-day") == "2026-10-01", "a month further")
    screen.keys(Keys.PAGE_UP, Keys.ARROW_DOWN, Keys.ARROW_DOWN, *[Keys.ARROW_RIGHT] * 3)
    screen.says("calendar-told", "7 Sep – 18 Sep 2026, 12 days")
    screen.keys(Keys.ENTER)
    screen.says("part-window", "7 Sep – 18 Sep 2026")
    # A week by its number, told from the keyboard's focus; a base in a calendar of its own.
    screen.click("part-window")
    week = screen.find("period-2026-W40")
    screen.driver.execute_script("arguments[0].focus()", week)
    screen.says("calendar-told", "28 Sep – 4 Oct 2026, 7 days")
    week.send_keys(Keys.ENTER)
    screen.says("part-window", "Week 40 2026")
    screen.click("part-base-0")
    screen.says("choice-same_weekdays", "29 Sep – 5 Oct 2025, 7 days, equal days")
    screen.to_tab("Days")
    point_at(screen, "period-2025-W41")
    screen.says("calendar-told", "6 Oct – 12 Oct 2025, 7 days, equal days")
    screen.click("period-2025-W41")
    screen.says("rod-1", "6 Oct – 12 Oct 2025")
    screen.until(lambda: screen.exact("total", "net_sales.1.value") == net(lines, "2025-10-06", "2025-10-12"), "the week's")
    # What cannot be says why, also while it is typed.
    screen.click("part-window")
    screen.fill("window-period", "2026-Q7")
    screen.says("told-period", "2026-Q7")
    screen.fill("last-count", "3")
    screen.says("told-last", "1 Jul – 30 Sep 2026, 92 days")


def test_any_part_is_typed(screen: Screen, lines: Lines) -> None:
    screen.type(
        "only by rep", "without orders", "for q3 2025", "not against", "against 2024-Q3", "against the same dates 2 quarters back"
    )
    screen.type("net sales with change", "every known member", "sorted by net sales change (q3 2024), the smallest first")
    screen.says("statement", "for Q3 2025")
    screen.says("statement", "against Q3 2024 and the same dates 2 quarters back")
    screen.says("statement", "every known member")
    screen.settled()
    assert screen.exact("total", "net_sales.2.value") == net(lines, "2025-01-01", "2025-03-31")
    known = lines(
        "SELECT COUNT(*) FROM member m JOIN dimension d ON d.id = m.dimension_id WHERE d.ledger_id = {ledger} AND d.name = 'rep' AND m.member_key <> ''"
    )
    grid = screen.driver.find_element(By.CSS_SELECTOR, '[role="grid"]')
    assert grid.get_attribute("aria-rowcount") == str(known[0][0] + 1), "all reps and the total"
    changes = [screen.exact(row, "net_sales.1.difference") for row in screen.rows() if row != "total"]
    assert changes == sorted(changes)
    # The order is a part of the sentence, too.
    screen.says("part-sort", "sorted by net sales change (q3 2024), the smallest first")
    screen.click("part-sort")
    screen.click("choice-descending")
    screen.says("part-sort", "the largest first")
    screen.find("part-sort").send_keys(Keys.DELETE)
    screen.until(lambda: not screen.all("part-sort"), "rows stand by name again")
    screen.type("showing the bottom 2 by net sales", "with the goal net sales 90% of q3 2024", "call net sales Turnover")
    screen.says("statement", "showing the bottom 2 of rep by")
    screen.says("statement", "with the goal net sales 90% of Q3 2024")
    screen.says("table", "Turnover")
    screen.type("show per line = net_sales / lines")
    screen.says("statement", "per line")
    screen.settled()
    # What is kept, and the common questions, are opened by name.
    ActionChains(screen.driver).key_down(Keys.CONTROL).send_keys("k").key_up(Keys.CONTROL).perform()
    screen.find("palette-text").send_keys("open quarter to")
    screen.until(
        lambda: [each.text.split("\n")[0] for each in screen.all("palette-item")][:1] == ["open Quarter to date"], "found"
    )
    screen.find("palette-text").send_keys(Keys.ENTER)
    screen.says("part-window", "quarter to date at 17 Oct 2026")


def test_readings_are_parts_that_are_removed_with_one_key(screen: Screen, lines: Lines) -> None:
    own_day = screen.exact("total", "net_sales.0.value")
    screen.click("part-add-reading")
    screen.click("choice-divided")
    screen.says("part-reading-returns", "returns on the day of their sale")
    screen.settled()
    screen.until(lambda: screen.exact("total", "net_sales.0.value") != own_day, "returns stand on other days")
    screen.click("part-add-reading")
    screen.click("choice-same_time")
    screen.says("part-reading-within", "in the same time")
    screen.click("part-add-reading")
    screen.click("choice-add_up")
    screen.says("part-reading-shares", "shown shares add up")
    screen.find("part-reading-returns").send_keys(Keys.DELETE)
    screen.until(lambda: not screen.all("part-reading-returns") and not screen.all("part-reading-within"), "both are as usual")
    screen.settled()
    screen.until(lambda: screen.exact("total", "net_sales.0.value") == own_day, "as it was")
    # A base is matched otherwise; what it then comes to is told first.
    screen.click("part-base-0")
    screen.says("choice-same_weekdays", "2 Jan – 18 Oct 2025, 290 days")
    screen.click("choice-same_weekdays")
    screen.says("rod-1", "2 Jan – 18 Oct 2025")
    screen.until(lambda: screen.exact("total", "net_sales.1.value") == net(lines, "2025-01-02", "2025-10-18"), "by weekdays")


def test_the_address_holds_chart_and_search_and_headings(screen: Screen, page: Chrome, lines: Lines, tmp_path: Path) -> None:
    screen.type("only by region", "across quarter", "without orders")
    screen.settled()
    screen.keys("h")
    screen.says("chart-of", "All regions")
    screen.click_cell("Lakes", "net_sales.0.value")
    screen.says("chart-of", "Lakes")
    third = net(lines, "2026-07-01", "2026-09-30", "AND region = 'Lakes'")
    ActionChains(page).move_to_element_with_offset(screen.find("chart"), 60, 0).perform()
    screen.until(
        lambda: "Q3 2026" in screen.find("chart").text and f"{float(third):,.2f}" in screen.find("chart").text, "Lakes' own"
    )
    screen.click("part-chart-how")
    screen.choose("chart-key", "none")
    screen.keys(Keys.ESCAPE)
    screen.click("part-layout")
    screen.to_tab("Headings")
    screen.fill("heading-net_sales.1.value", "A year ago")
    screen.keys(Keys.TAB)
    screen.says("table", "A year ago")
    screen.keys(Keys.ESCAPE)
    screen.keys("/")
    screen.keys("lak")
    screen.until(lambda: screen.rows() == ["Lakes", "total"], "one region is called so")
    page.refresh()
    screen.settled()
    assert screen.rows() == ["Lakes", "total"] and screen.find("search-rows").get_attribute("value") == "lak"
    screen.until(lambda: "year before" not in screen.find("chart").text, "the key is still hidden")
    assert len(page.find_elements(By.XPATH, "//thead//button[contains(., 'A year ago')]")) == 5, (
        "under every quarter and the total"
    )
    screen.click("part-save")
    screen.click("save-csv")
    table = list(csv.DictReader(io.StringIO(screen.saved(tmp_path, " 2026-10-17.csv").read_text())))
    assert [row["region"] for row in table] == ["Lakes", "(all)"]
    assert {row["limited to"] for row in table} == {"only rows whose name holds “lak”"}
    assert sum(heading.startswith("A year ago: ") and "net sales" in heading.lower() for heading in table[0]) >= 5
    # It is printed as it is seen, with what the heading means.
    screen.keys("e")
    screen.until(
        lambda: len(screen.all("print-row")) == 2 and screen.find("chart").find_elements(By.CSS_SELECTOR, "svg path"), "both"
    )
    said = [each.text for each in screen.all("print-means")]
    assert any(text.startswith("A year ago: Net sales: Gross sales less returns.") for text in said)
    assert "Only rows whose name holds “lak”" in said
    page.back()
    screen.settled()
    screen.click("undo")
    screen.until(
        lambda: not page.find_elements(By.XPATH, "//thead//button[contains(., 'A year ago')]"), "the headings are as they were"
    )


def test_a_cell_without_a_figure_says_why_on_focus(screen: Screen) -> None:
    screen.type("against the same dates of 2024")
    screen.settled()
    screen.click_cell("Harbour/M. Oduya", "net_sales.2.percent_change")
    screen.says("why", "The base is 0, so there is no ratio to it.")
    screen.keys(Keys.ARROW_UP)
    screen.until(lambda: not screen.all("why"), "the cell above has a figure")


def test_an_unequal_window_says_why(screen: Screen) -> None:
    screen.type("for 2026-03-04 to 2026-03-30", "not against", "against the days 1 month earlier")
    screen.says("rod-1", "unequal, 25 days to 27")
    reason = screen.find("rod-1").find_element(By.CSS_SELECTOR, ".unfair").get_attribute("title")
    assert reason == "Not equal: 25 days of it count against 27, since a day is missing there or it is a period of another kind."


def test_completed_periods_stretches_of_any_length_and_the_as_of_day_are_chosen(screen: Screen, lines: Lines) -> None:
    screen.type("only by region", "without orders")
    screen.click("part-window")
    screen.choose("completed", "month")
    screen.says("part-window", "completed months")
    screen.until(lambda: screen.exact("total", "net_sales.0.value") == net(lines, "2026-01-01", "2026-09-30"), "to September")
    screen.type("only by month", "for 2026")
    screen.settled()
    screen.click("part-show-0")
    screen.fill("moving-periods", "5")
    screen.choose("moving-of", "sum")
    screen.click("take-moving")
    screen.says("statement", "sum of the last 5 of net sales")
    screen.keys(Keys.ESCAPE)
    screen.until(
        lambda: screen.exact("2026-08", "net_sales~moving_sum_5.0.value") == net(lines, "2026-04-01", "2026-08-31"), "five months"
    )
    screen.click("part-window")
    screen.to_tab("As of")
    screen.click("day-2026-10-09")
    screen.says("part-window", "at 9 Oct 2026")
