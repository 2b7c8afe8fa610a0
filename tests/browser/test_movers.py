"""From a statement to who moved, to the next level, to a proof; by pointer and by key."""

from __future__ import annotations

import json
import struct
import zlib
from collections.abc import Callable
from pathlib import Path
from typing import Any

from selenium.webdriver import ActionChains, Chrome
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.screen import Screen

Lines = Callable[[str], list[tuple[Any, ...]]]
NOW, THEN = "day BETWEEN '2026-01-01' AND '2026-10-17'", "day BETWEEN '2025-01-01' AND '2025-10-17'"
CHANGE = f"SUM(IF({NOW}, amount, 0)) - SUM(IF({THEN}, amount, 0))"


def names(screen: Screen, side: str) -> list[str]:
    shown = screen.find(side).find_elements(By.CSS_SELECTOR, "[data-test^=mover-]")
    return [str(each.get_dom_attribute("data-test")).removeprefix("mover-") for each in shown]


def grouped(number: Any) -> str:
    return f"{number:+,.2f}".replace("-", "−")


def test_from_a_statement_to_movers_to_the_next_level_to_a_proof_and_back(page: Chrome, lines: Lines) -> None:
    screen = Screen(page)
    screen.settled()
    ActionChains(page).send_keys("2").perform()
    screen.until(lambda: "/movers?" in page.current_url, "the statement is seen as movers")
    moved = lines(f"SELECT region, {CHANGE} AS by_ FROM {{lines}} GROUP BY region")
    ranked = sorted(moved, key=lambda each: -each[1])
    screen.until(lambda: names(screen, "up") == [region for region, by in ranked if by > 0], "who rose")
    assert names(screen, "down") == [region for region, by in reversed(ranked) if by < 0]
    whole = sum(by for _, by in moved)
    screen.says("adds-up", f"✓ The steps add up to {grouped(whole)} exactly")
    screen.says("told", f"{whole:,.2f} above the same dates last year")
    # Into the region that moved most; the way back is told.
    first = ranked[0][0]
    screen.find(f"mover-{first}").find_element(By.CSS_SELECTOR, "button").click()
    reps = lines(f"SELECT rep, {CHANGE} AS by_ FROM {{lines}} WHERE region = '{first}' GROUP BY rep ORDER BY by_ DESC")
    screen.until(lambda: names(screen, "up") == [rep for rep, by in reps if by > 0], "the reps of the region")
    screen.says("told", f"Net sales of {first}")
    # A figure is proved, whatever was opened to get there.
    rep, by = reps[0]
    screen.click(f"difference-of-{rep}")
    screen.says("proof", f"{grouped(by)}")
    page.refresh()
    screen.says("proof", f"{grouped(by)}")
    screen.keys(Keys.ESCAPE)
    screen.until(lambda: not screen.find_all_shown("proof"), "the proof is closed")
    screen.keys(Keys.BACKSPACE)
    screen.until(lambda: first in names(screen, "up"), "a level up again")
    screen.keys("1")
    screen.settled()
    assert "/figures?" in page.current_url


def test_movers_are_ranked_filtered_and_handed_out(page: Chrome, lines: Lines, tmp_path: Path) -> None:
    screen = Screen(page)
    screen.settled()
    screen.type("only by rep")
    screen.settled()
    screen.keys("2")
    moved = dict(lines(f"SELECT rep, {CHANGE} AS by_ FROM {{lines}} GROUP BY rep"))
    screen.find("movers")
    screen.fill("hide-under", "20000")
    screen.keys(Keys.ENTER)
    large = [rep for rep, by in sorted(moved.items(), key=lambda each: -each[1]) if by >= 20_000]
    screen.until(lambda: names(screen, "up") == large, "the small ones are hidden")
    small = [by for by in moved.values() if abs(by) < 20_000]
    screen.says("small", f"{len(small)} small ones together {grouped(sum(small))}")
    screen.click("kind-lost")
    screen.until(lambda: not names(screen, "up") and names(screen, "down") == ["S. Belmore"], "only who is lost")
    screen.click("kind-lost")
    screen.click("bridge-each")
    screen.until(lambda: len(screen.all("step-mover")) == len(moved), "each has a step of its own")
    # What is handed out is the table of the level.
    screen.click("part-save")
    screen.click("save-json")
    saved = screen.until(lambda: next(iter((tmp_path / "downloads").glob("*.json")), None), "the file is there")
    found = json.loads(saved.read_text())
    assert [each["label"] for each in found["answer"]["rows"]] == sorted(moved, key=lambda rep: -moved[rep])
    screen.click("part-save")
    screen.click("save-svg")
    drawn = screen.until(lambda: next(iter((tmp_path / "downloads").glob("*.svg")), None), "the picture is there").read_text()
    assert drawn.startswith("<svg") and "S. Belmore" in drawn and "var(" not in drawn
    assert found["statement"]["measures"][0]["show"][0] == "difference"


def test_movers_move_between_levels_of_time_by_key_and_their_words_and_picture_are_taken_along(
    page: Chrome, lines: Lines, tmp_path: Path
) -> None:
    screen = Screen(page)
    screen.settled()
    screen.keys("2")
    screen.says("told", "the same dates last year")
    screen.keys("d")
    screen.says("statement", "quarter to date")
    now, then = "day BETWEEN '2026-10-01' AND '2026-10-17'", "day BETWEEN '2025-10-01' AND '2025-10-17'"
    [(by,)] = lines(f"SELECT SUM(IF({now}, amount, 0)) - SUM(IF({then}, amount, 0)) FROM {{lines}}")
    screen.says("told", f"{abs(by):,.2f} {'above' if by > 0 else 'below'} the same dates last year")
    page.execute_cdp_cmd("Browser.grantPermissions", {"permissions": ["clipboardReadWrite", "clipboardSanitizedWrite"]})
    screen.click("copy-told")
    screen.says("copy-told", "Copied")
    copied = page.execute_async_script("navigator.clipboard.readText().then(arguments[0])")
    told = screen.find("told").text.replace("Copied ✓", "").strip()
    assert copied == told and f"{abs(by):,.2f}" in copied and copied.endswith(".")
    screen.keys("u")
    screen.says("statement", "year to date")
    [(year,)] = lines(f"SELECT {CHANGE} FROM {{lines}}")
    screen.says("told", f"{abs(year):,.2f}")
    screen.click("part-save")
    screen.click("save-png")
    saved = screen.until(lambda: next(iter((tmp_path / "downloads").glob("*.png")), None), "the picture is there")
    drawn = saved.read_bytes()
    assert drawn.startswith(b"\x89PNG") and min(struct.unpack(">II", drawn[16:24])) > 200
    points = zlib.decompress(drawn[drawn.index(b"IDAT") + 4 :]) if drawn.count(b"IDAT") == 1 else drawn
    assert len(set(points)) > 100, "something is drawn on it"


def test_movers_say_what_they_lack(page: Chrome) -> None:
    screen = Screen(page)
    screen.settled()
    screen.type("not against the same dates last year")
    screen.settled()
    screen.keys("2")
    screen.until(lambda: "nobody moved" in page.find_element(By.TAG_NAME, "main").text, "it is said why there is nobody")
