"""The instrument in use: chart, filters stepped, goals, ends dragged, postings by others, a server away, empty states, the calendar."""

from __future__ import annotations

import json
import urllib.request
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path
from typing import Any

import httpx
from selenium.webdriver import ActionChains, Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from lofty_abacus.demo.scenario import LEDGER_NAME
from tests.api.jobs import posted
from tests.browser.screen import Screen
from tests.ingest.test_holidays import calendar

Lines = Callable[[str], list[tuple[Any, ...]]]


def send(address: str, method: str, path: str, body: object) -> Any:
    request = urllib.request.Request(
        f"{address}{path}", json.dumps(body).encode(), {"Content-Type": "application/json"}, method=method
    )
    with urllib.request.urlopen(request) as response:
        return json.loads(response.read())


def test_a_chart_tells_both_periods_their_dates_and_the_change(screen: Screen, page: Chrome, lines: Lines) -> None:
    screen.type("only by month", "without orders")
    screen.settled()
    screen.keys("h")
    chart = screen.find("chart")
    screen.until(lambda: chart.find_elements(By.CSS_SELECTOR, "svg path"), "the chart is drawn")
    june = ", ".join(f"SUM(IF(day BETWEEN '{year}-06-01' AND '{year}-06-30', amount, 0))" for year in (2026, 2025))
    [(now, then)] = lines(f"SELECT {june} FROM {{lines}}")
    # June is the sixth of twelve periods: a little left of the middle.
    ActionChains(page).move_to_element_with_offset(chart, -30, 0).perform()
    screen.until(lambda: "Jun 2026 each month · aligned by the same dates" in chart.text.replace("\n", " "), "June is told")
    told = [
        f"{now:,}",
        f"{then:,}",
        f"{now - then:+,}".replace("-", "−"),
        "1 Jun – 30 Jun 2026",
        "1 Jun – 30 Jun 2025",
        "equal days",
    ]
    assert [words for words in told if words not in chart.text] == []
    # A % change on an axis of its own, and the key taken away.
    screen.click("part-chart-how")
    screen.click("chart-percent")
    screen.until(lambda: "% change against year before" in chart.text, "the % change is drawn")
    screen.click("chart-right-net_sales.1.value")
    screen.fill("chart-high-left", "400000")
    screen.keys(Keys.TAB)
    screen.until(lambda: "400,000" in chart.text, "the axis ends there")
    screen.choose("chart-key", "none")
    screen.until(lambda: "% change against" not in chart.text, "the key is hidden")


def test_a_filter_beside_the_table_is_stepped_member_by_member(screen: Screen, lines: Lines) -> None:
    screen.click("part-add-filter")
    screen.choose("filter-dimension", "channel")
    screen.click("filter-beside")
    screen.keys(Keys.ESCAPE)
    panel = screen.find("filter-panel")
    screen.until(lambda: panel.find_elements(By.CSS_SELECTOR, ".list button"), "members are listed")
    names = [each.text for each in panel.find_elements(By.CSS_SELECTOR, ".list button")]
    totals = dict(
        lines("SELECT channel, SUM(amount) FROM {lines} WHERE day BETWEEN '2026-01-01' AND '2026-10-17' GROUP BY channel")
    )
    for name in names[:3]:
        screen.keys(".")
        screen.says("statement", f"channel is {name.strip('()')}")
        screen.settled()
        if name in totals:
            screen.until(
                lambda name=name: screen.exact("total", "net_sales.0.value") == Fraction(totals[name]), f"the total of {name}"
            )
    screen.keys(",")
    screen.says("statement", f"channel is {names[1].strip('()')}")
    screen.click("step-all")
    screen.until(lambda: "channel is" not in screen.find("statement").text, "all are counted again")


def test_goals_limits_names_and_own_measures_are_parts_of_the_sentence(screen: Screen) -> None:
    screen.type("not by rep", "without orders")
    screen.click("part-add-measure")
    screen.to_tab("Of your own")
    screen.find("own-name").send_keys("Net per line")
    screen.find("own-expression").send_keys("net_sales / lines")
    screen.click("define")
    screen.says("statement", "net per line")
    screen.settled()
    net = screen.exact("total", "net_sales.0.value")
    assert 0 < screen.exact("total", "net_per_line.0.value") < net
    screen.keys("m")
    screen.find("heading-name").send_keys("Turnover", Keys.ENTER)
    screen.says("table", "Turnover")
    screen.keys("g")
    screen.fill("goal-target", "110")
    screen.click("take-goal")
    screen.says("statement", "with the goal net sales 110% of the same dates last year")
    screen.settled()
    assert {screen.cell(row, "net_sales.1.goal")[-1] for row in screen.rows()} == {"✓", "✗"}
    screen.keys("l")
    screen.fill("limit-count", "1")
    screen.click("take-limit")
    screen.says("statement", "showing the top 1")
    screen.until(lambda: screen.rows() == ["Lakes", "/…", "total"] or len(screen.rows()) == 3, "one region and the rest")
    screen.find("part-limit-0").send_keys(Keys.DELETE)
    screen.until(lambda: len(screen.rows()) > 4, "all regions again")
    screen.click("undo")
    screen.until(lambda: len(screen.rows()) == 3, "the limit is back")


def test_the_ends_of_a_range_are_moved_on_the_frame(screen: Screen) -> None:
    screen.type("for 2026-03-01 to 2026-05-31")
    screen.settled()
    screen.find("end-first").send_keys(Keys.PAGE_DOWN)
    screen.says("rod-0", "1 Apr – 31 May 2026")
    screen.find("end-last").send_keys(Keys.ARROW_LEFT)
    screen.says("rod-0", "1 Apr – 30 May 2026")
    before = screen.find("rod-0").text
    ActionChains(screen.driver).drag_and_drop_by_offset(screen.find("end-last"), -150, 0).perform()
    screen.until(lambda: screen.find("rod-0").text != before, "the last day was dragged")
    screen.says("part-window", "1 Apr – ")


def test_parts_are_dragged_and_columns_are_moved(screen: Screen) -> None:
    one, other = screen.find("part-row-0"), screen.find("part-row-1")
    screen.driver.execute_script(
        "const data = new DataTransfer();"
        "arguments[0].dispatchEvent(new DragEvent('dragstart', {dataTransfer: data, bubbles: true}));"
        "arguments[1].dispatchEvent(new DragEvent('drop', {dataTransfer: data, bubbles: true}));",
        one,
        other,
    )
    screen.says("statement", "by rep then region")
    screen.settled()
    head = screen.find("sort-net_sales.1.value")
    head.send_keys(Keys.ALT, Keys.ARROW_LEFT)
    screen.until(
        lambda: (
            next(each.get_attribute("data-test") for each in screen.driver.find_elements(By.CSS_SELECTOR, "thead button"))
            == "sort-net_sales.1.value"
        ),
        "the base comes first",
    )

    def wide() -> float:
        return screen.find("sort-net_sales.1.value").find_element(By.XPATH, "./..").size["width"]

    before = wide()
    screen.find("sort-net_sales.1.value").send_keys(Keys.ALT, Keys.SHIFT, *[Keys.ARROW_RIGHT] * 3)
    screen.until(lambda: wide() > before + 20, "the column is wider")
    screen.find("sort-net_sales.1.value").send_keys(Keys.DELETE)
    screen.until(lambda: not screen.all("cell-net_sales.1.value"), "the column is hidden")


def test_a_posting_by_somebody_else_is_told_and_taken(screen: Screen, address: str) -> None:
    send(address, "POST", "/api/ledgers", {"name": "Watched"})
    first = _post(address, "Watched", "jan.csv", "date,rep,amount\n2026-01-05,Ada,10\n")
    assert first["version"] == 1
    screen.driver.get(f"{address}/figures?ledger=Watched")
    screen.settled()
    assert screen.exact("total", "net_sales.0.value") == 10
    _post(address, "Watched", "feb.csv", "date,rep,amount\n2026-02-05,Ada,5\n")
    screen.says("newer", "Version 2 is posted; these figures are of version 1")
    assert screen.exact("total", "net_sales.0.value") == 10, "what is shown stays until it is taken"
    screen.keys("n")
    screen.until(lambda: screen.exact("total", "net_sales.0.value") == 15, "the new lines are counted")
    screen.says("ledger", "version 2")
    _post(address, "Watched", "mar.csv", "date,rep,amount\n2026-03-05,Ada,7\n")
    screen.click("take-by-itself")
    screen.until(lambda: screen.exact("total", "net_sales.0.value") == 22, "they are taken from now on")
    _post(address, "Watched", "apr.csv", "date,rep,amount\n2026-04-05,Ada,1\n")
    screen.until(lambda: screen.exact("total", "net_sales.0.value") == 23, "nothing is to be pressed")
    screen.says("ledger", "version 4")


def _post(address: str, ledger: str, name: str, text: str) -> Any:
    with httpx.Client(base_url=address) as client:
        job = posted(client, ledger, name, text.encode())  # type: ignore[arg-type]
    assert job["state"] == "done", job
    return job["posting"]


def test_what_is_empty_or_matches_nothing_says_so(screen: Screen, address: str, lines: Lines) -> None:
    screen.keys("/")
    screen.keys("zzzz")
    screen.says("table", "No row is called “zzzz”.")
    screen.says("table", "All regions")
    screen.keys(Keys.ESCAPE)
    screen.find("row-Lakes")
    [[quiet]] = lines(
        "SELECT MIN(day) FROM (SELECT DATE'2026-01-01' + INTERVAL seq DAY AS day FROM seq_0_to_280) days"
        " WHERE day NOT IN (SELECT day FROM {lines})"
    )
    day = {"kind": "dates", "first": quiet.isoformat(), "last": quiet.isoformat()}
    show = json.dumps({"measures": [{"measure": "net_sales"}], "rows": ["region"], "window": day})
    screen.driver.get(f"{address}/figures?ledger={LEDGER_NAME.replace('&', '%26')}&show={show}")
    screen.says("table", "No posted line falls into these windows. Move the as-of date, or remove a filter.")
    assert screen.cell("total", "net_sales.0.value") == "0.00"
    send(address, "POST", "/api/ledgers", {"name": "Nothing yet"})
    screen.driver.get(f"{address}/figures?ledger=Nothing yet")
    screen.until(
        lambda: "Nothing is posted in Nothing yet yet." in screen.driver.find_element(By.CSS_SELECTOR, ".empty").text,
        "it is told",
    )
    screen.driver.find_element(By.LINK_TEXT, "Post files at Intake").click()
    screen.find("files")


def test_a_server_that_is_away_is_told_and_asked_again(screen: Screen, page: Chrome) -> None:
    shown = screen.cell("total", "net_sales.0.value")
    page.execute_cdp_cmd("Network.enable", {})
    away = {"offline": True, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1}
    page.execute_cdp_cmd("Network.emulateNetworkConditions", away)
    screen.keys("[")
    screen.until(lambda: "does not answer" in page.find_element(By.TAG_NAME, "main").text, "it is told")
    assert screen.cell("total", "net_sales.0.value") == shown, "the last answer stays readable"
    page.execute_cdp_cmd("Network.emulateNetworkConditions", away | {"offline": False})
    screen.click("again")
    screen.says("part-window", "17 Oct 2025")
    screen.until(lambda: screen.cell("total", "net_sales.0.value") != shown, "the question is answered now")
    page.get_log("browser")  # that the network was away is told by the browser, too


def test_the_calendar_is_changed_with_its_effects_in_sight(screen: Screen, address: str, tmp_path: Path) -> None:
    screen.driver.get(f"{address}/calendar?ledger={LEDGER_NAME.replace('&', '%26')}")
    screen.find("calendar-month")
    assert len(screen.all("calendar-month")) == 12
    screen.choose("calendar-fiscal", "7")
    screen.says("calendar-changes", "This changes")
    screen.says("calendar-changes", "2026-07-01 to 2026-10-17")
    screen.find("calendar-holiday").send_keys("2026-12-25 2026-12-26", Keys.ENTER)
    screen.until(lambda: "Holidays, 2 days" in screen.find("calendar-form").text, "two holidays are listed")
    # Holidays of a calendar file: those that are there already are not taken twice.
    file = tmp_path / "holidays.ics"
    file.write_text(
        calendar("DTSTART;VALUE=DATE:20261226\r\nSUMMARY:Second day", "DTSTART;VALUE=DATE:20270101\r\nSUMMARY:New Year")
    )
    screen.driver.find_element(By.CSS_SELECTOR, '[data-test="calendar-file"] input').send_keys(str(file))
    screen.says("calendar-file-said", "2 holidays from 2023 to 2029; 2 of them new")
    screen.until(lambda: "Holidays, 3 days" in screen.find("calendar-form").text, "three holidays are listed")
    screen.find("calendar-form").find_element(By.CSS_SELECTOR, '[aria-label$="1 Jan 2027 is no holiday"]').click()
    (tmp_path / "other.ics").write_text("no calendar")
    screen.driver.find_element(By.CSS_SELECTOR, '[data-test="calendar-file"] input').send_keys(str(tmp_path / "other.ics"))
    screen.says("calendar-file-said", "Export the calendar of holidays again")
    screen.choose("calendar-fiscal", "1")
    screen.click("calendar-keep")
    screen.says("calendar-changes", "The calendar is kept")
    kept = json.loads(
        urllib.request.urlopen(f"{address}/api/ledger/settings?name={LEDGER_NAME.replace('&', '%26').replace(' ', '%20')}").read()
    )
    assert kept["calendar"]["holidays"] == ["2026-12-25", "2026-12-26"]
    kept["calendar"]["holidays"] = []
    send(address, "PUT", "/api/ledger/settings", {"ledger": LEDGER_NAME, "settings": kept})


_OPENED_AND_TYPED = """
const done = arguments[arguments.length - 1];
const part = () => document.querySelector('[data-test="part-keep"]');
const field = () => document.querySelector('[data-test="statement-folder"]');
const wait = (condition, then) => requestAnimationFrame(() => (condition() ? then() : wait(condition, then)));
const running = () => document.getAnimations().some((each) => each.playState === "running");
const still = () => !running() && (!field() || getComputedStyle(field().closest(".el-popover")).opacity === "1");
const settled = (then) => requestAnimationFrame(() => requestAnimationFrame(() => wait(still, then)));
part().click();
wait(() => field()?.offsetParent, () => {
  field().focus();
  settled(() => {
    const kept = document.activeElement === field();
    part().click();
    wait(() => part().getAttribute("aria-expanded") === "false", () => {
      part().click();
      settled(() => done([kept, Boolean(field()?.offsetParent)]));
    });
  });
});
"""


def test_a_choice_leaves_the_focus_where_it_was_put_and_opens_again_at_once(screen: Screen) -> None:
    screen.settled()
    assert screen.driver.execute_async_script(_OPENED_AND_TYPED) == [True, True]
