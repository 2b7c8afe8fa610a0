"""The page in Chromium: when it can be used, and how long a key press takes to new numbers on screen."""

from __future__ import annotations

import json
import os
import shutil
import signal
import socket
import statistics
import subprocess
import sys
import time
import urllib.parse
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory

from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import WebDriverWait

from bench.ledger_table import asked, served
from bench.unasked import WORKERS
from lofty_abacus.core.grouping.source import ColumnsSource
from lofty_abacus.core.lines import LineColumns
from lofty_abacus.core.statement.ledger import LedgerFacts
from lofty_abacus.demo.scenario import LEDGER_NAME

ROOT = Path(__file__).resolve().parents[1]
WEB = ROOT / "web" / "dist"
PRESSES, VISITS = 31, 6
#: Seconds between two keys of somebody who looks at the numbers.
PACE = 0.3
#: Milliseconds after a key by which the changed sentence is to be read.
SENTENCE_AIM = 50
#: When the total's first figure is drawn, as the page itself sees it.
_WATCH = """
const look = () => {
  const cell = document.querySelector('[data-test="row-total"] [data-test^="cell-"]');
  if (cell && cell.textContent.trim()) window.usableAfter = performance.now();
  else requestAnimationFrame(look);
};
requestAnimationFrame(look);
"""
#: A key press, until the sentence says the new as-of date, and until the frame does, which is drawn with the new figures.
_PRESS = """
const done = arguments[arguments.length - 1];
const shown = () => document.querySelector('[data-test="marker"]').textContent;
const said = () => document.querySelector('[data-test="part-window"]').textContent.trim();
const [before, saidBefore] = [shown(), said()];
const start = performance.now();
let told = null;
const look = () => {
  if (told === null && said() !== saidBefore && said() !== "…") told = performance.now() - start;
  if (shown() === before || told === null) requestAnimationFrame(look);
  else requestAnimationFrame(() => done([told, performance.now() - start]));
};
document.body.dispatchEvent(new KeyboardEvent("keydown", {key: arguments[0], bubbles: true}));
requestAnimationFrame(look);
"""


#: Twenty thousand rows by two hundred columns.
LARGE = {
    "measures": [{"measure": "net_sales", "show": ["difference"]}, {"measure": "orders"}, {"measure": "units"}],
    "rows": ["customer"],
    "across": [{"time": "month"}],
    "bases": [{"back": 1, "unit": "year"}],
    "window": {"kind": "dates", "first": "2024-01-01"},
}
#: From an address until its table is drawn, and from a jump to its end until the rows there are filled.
_LARGE = """
const [address, done] = arguments;
const grid = () => document.querySelector('[role="grid"]');
const rows = () => Number(grid().getAttribute("aria-rowcount"));
const cells = () => [...document.querySelectorAll('[data-test="table"] tbody [role="gridcell"]')];
const start = performance.now();
history.pushState({}, "", address);
dispatchEvent(new PopStateEvent("popstate", { state: {} }));
const until = (holds, then) => (holds() ? requestAnimationFrame(then) : requestAnimationFrame(() => until(holds, then)));
until(() => rows() > 1000 && cells().every((cell) => cell.textContent.trim()), () => {
  const shown = performance.now() - start;
  const box = document.querySelector('[data-test="table"]');
  const from = performance.now();
  const first = cells()[0].getAttribute("aria-label");
  box.scrollTop = box.scrollHeight;
  until(
    () => cells()[0].getAttribute("aria-label") !== first && cells().every((cell) => cell.textContent.trim()),
    () => done([rows(), Number(grid().getAttribute("aria-colcount")), shown, performance.now() - from]),
  );
});
"""


#: The other two pages of a statement: what is asked there, and what its first figures are drawn in.
PAGES = {
    "movers": ("/api/movers", '[data-test="told"]'),
    "scorecard": ("/api/scorecards", '[data-test="card"] [data-test^="goal-"]'),
}
#: The same statement of both: by rep against last year, with a goal.
JUDGED = {
    "measures": [{"measure": "net_sales"}, {"measure": "orders"}],
    "rows": ["rep"],
    "bases": [{"back": 1, "unit": "year"}],
    "goals": [{"metric": "net_sales", "target": "100"}],
}
#: When the first figure of such a page is drawn.
_WATCH_PAGE = """
const look = () => {
  const shown = document.querySelector(%s);
  if (shown && shown.textContent.trim()) window.usableAfter = performance.now();
  else requestAnimationFrame(look);
};
requestAnimationFrame(look);
"""
#: A key press, until what the page asks for has come back and is drawn.
_PRESS_PAGE = """
const [key, asked, done] = arguments;
performance.clearResourceTimings();
const start = performance.now();
const come = (what) =>
  performance.getEntriesByType("resource").some((each) => each.name.includes(what) && each.responseEnd);
// The next key goes on from the statement's own answer, which comes beside the page's.
const rest = (taken) => (come("/api/answers") ? done(taken) : requestAnimationFrame(() => rest(taken)));
const look = () => {
  if (!come(asked)) requestAnimationFrame(look);
  else requestAnimationFrame(() => requestAnimationFrame(() => rest(performance.now() - start)));
};
document.body.dispatchEvent(new KeyboardEvent("keydown", {key, bubbles: true}));
requestAnimationFrame(look);
"""


def report(columns: LineColumns, facts: LedgerFacts) -> str:
    """The table as Markdown, for the demo ledger and for one of many lines."""
    rows, others = [], []
    with _started() as address:
        rows.append(measured("the demo ledger", address, 70))
        rows.append(measured(f"the same, a key every {PACE:g} s", address, 70, PACE))
        others += [_other_page("the demo ledger", address, LEDGER_NAME, page) for page in PAGES]
    with served(facts, ColumnsSource(columns, workers=WORKERS), WEB) as address:
        asked(address)  # the application, too, does once at its start what the first answer of a process takes
        rows.append(measured(f"{len(columns):,} lines", address, 110))
        rows.append(measured(f"the same, a key every {PACE:g} s", address, 110, PACE))
        others += [_other_page(f"{len(columns):,} lines", address, facts.name, page) for page in PAGES]
        visited = _visited(f"{len(columns):,} lines", address)
        large = _large(address, facts)
    head = (
        "| ledger | usable after (aim: 1.5 s) | key to sentence, median | 9 in 10 within | aim "
        "| key to numbers, median | 9 in 10 within | aim |\n|---|---|---|---|---|---|---|---|\n"
    )
    title = f"## The page in Chromium, {PRESSES} presses of a key, each a day further back"
    of_pages = "| page | ledger | usable after (aim: 1.5 s) | key to numbers, median | 9 in 10 within | aim |\n"
    also = of_pages + "|---|---|---|---|---|---|\n"
    return f"{title}\n\n{head}{''.join(rows)}\n{also}{''.join(others)}\n{visited}\n{large}"


def measured(what: str, address: str, aim: int, pace: float = 0) -> str:
    """A row of the table: from the address to the first figure, and from a key to the sentence and to the numbers.

    pace: seconds between two keys; 0: the next one comes as soon as the numbers of the last are drawn.
    """
    with _chromium() as page:
        page.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": _WATCH})
        page.get(address)
        usable = _usable(page, what)
        taken = []
        for _ in range(PRESSES):
            taken.append(page.execute_async_script(_PRESS, "{"))
            time.sleep(pace)
    told, numbers = (sorted(float(each[at]) for each in taken) for at in (0, 1))
    cells = [f"{usable:.0f} ms", *_spread(told), f"{SENTENCE_AIM} ms", *_spread(numbers), f"{aim} ms"]
    return f"| {what} | {' | '.join(cells)} |\n"


def _visited(what: str, address: str) -> str:
    """When the page can be used on first visits, each with a browser that has seen nothing of it."""
    taken = []
    for _ in range(VISITS):
        with _chromium() as page:
            page.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": _WATCH})
            page.get(address)
            taken.append(_usable(page, what))
    spread = f"{statistics.median(taken):.0f} ms (least {min(taken):.0f}, most {max(taken):.0f})"
    return f"{VISITS} first visits to {what}, another browser each time: usable after {spread} in the median.\n"


def _usable(page: webdriver.Chrome, what: str) -> float:
    """Milliseconds from the address to the first figure."""
    page.set_script_timeout(60)
    until = time.monotonic() + 60
    while (usable := page.execute_script("return window.usableAfter")) is None:
        if time.monotonic() > until:
            raise RuntimeError(f"the page of {what} shows no figure")
        time.sleep(0.02)
    return float(usable)


def _other_page(what: str, address: str, ledger: str, name: str) -> str:
    requested, drawn = PAGES[name]
    query = urllib.parse.urlencode({"ledger": ledger, "show": json.dumps(JUDGED)})
    with _chromium() as page:
        page.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": _WATCH_PAGE % json.dumps(drawn)})
        page.get(f"{address}/{name}?{query}")
        usable = _usable(page, what)
        taken = sorted(float(page.execute_async_script(_PRESS_PAGE, "{", requested)) for _ in range(PRESSES))
    return f"| {name} | {what} | {usable:.0f} ms | {' | '.join(_spread(taken))} | 500 ms |\n"


def _spread(taken: list[float]) -> tuple[str, str]:
    """The median of sorted milliseconds, and within how many nine in ten are."""
    return f"{statistics.median(taken):.0f} ms", f"{taken[int(len(taken) * 0.9)]:.0f} ms"


def _large(address: str, facts: LedgerFacts) -> str:
    with _chromium() as page:
        page.get(address)
        page.set_script_timeout(120)
        WebDriverWait(page, 60).until(lambda _: page.find_elements(By.CSS_SELECTOR, '[role="grid"]'))
        query = urllib.parse.urlencode({"ledger": facts.name, "show": json.dumps(LARGE)})
        rows, columns, shown, filled = page.execute_async_script(_LARGE, f"/figures?{query}")
    table = f"A table of {rows:,} rows x {columns} columns there: shown after {shown:.0f} ms"
    return f"{table}, its end filled {filled:.0f} ms after a jump to it.\n"


@contextmanager
def _chromium() -> Iterator[webdriver.Chrome]:
    options = webdriver.ChromeOptions()
    options.binary_location = shutil.which("chromium") or "/usr/bin/chromium"
    for word in ("--headless=new", "--no-sandbox", "--disable-gpu", "--disable-dev-shm-usage", "--window-size=1280,800"):
        options.add_argument(word)
    service = webdriver.ChromeService(shutil.which("chromedriver") or "/usr/bin/chromedriver")
    page = webdriver.Chrome(options=options, service=service)
    try:
        yield page
    finally:
        page.quit()


@contextmanager
def _started() -> Iterator[str]:
    """The application as it is started, with its demo ledger."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    with TemporaryDirectory(prefix="lofty-bench-") as home:
        known = os.environ | {"LOFTY_HOME": home, "LOFTY_PORT": str(port), "PYTHONPATH": str(ROOT / "src")}
        process = subprocess.Popen(
            [sys.executable, "-m", "lofty_abacus", "start"],
            env=known,
            cwd=ROOT,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        address = f"http://127.0.0.1:{port}"
        try:
            until = time.monotonic() + 180
            while not _healthy(address):
                if process.poll() is not None or time.monotonic() > until:
                    raise RuntimeError("the application does not start")
                time.sleep(0.1)
            yield address
        finally:
            process.send_signal(signal.SIGINT)
            process.wait(60)


def _healthy(address: str) -> bool:
    try:
        urllib.request.urlopen(f"{address}/api/health", timeout=2).close()
    except OSError:
        return False
    return True
