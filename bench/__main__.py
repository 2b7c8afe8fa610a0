"""`./lofty bench`: the table of kernels, answers end to end, and hand-written SQL, all as ratios within this run."""

from __future__ import annotations

import os
import tempfile
from datetime import date
from pathlib import Path

import click

from bench import (
    against_table,
    brief_table,
    crowd_table,
    growth_table,
    intake_table,
    kernels_table,
    kills_table,
    ledger_table,
    lists_table,
    machine,
    page_table,
    sheet_table,
    sql_table,
)
from bench.ledgers import generated

#: What 50 million lines take while they are generated, measured and put into a second order.
GIGABYTES_FOR_50 = 14


@click.command(
    help="Measure speed as ratios. MILLIONS: lines for the kernels (1, 10, and 50 where memory allows); SQL has --sql-lines."
)
@click.argument("millions", nargs=-1, type=float)
@click.option("--intake-lines", default=1_000_000, show_default=True, help="Lines of the file that is posted; 0: none.")
@click.option("--intake-pairs", default=5, show_default=True, help="How often it is loaded and imported by turns.")
@click.option("--sql-lines", default=1_000_000, show_default=True, help="Lines in MariaDB for the comparison with SQL; 0: none.")
@click.option("--page/--no-page", default=True, show_default=True, help="Whether the page is measured in Chromium.")
@click.option("--crowd-seconds", default=0.0, show_default=True, help="Only 20 readers and 2 posters at once, for so long.")
@click.option("--crowd-lines", default=0, show_default=True, help="The crowd is on a ledger of so many lines; 0: the demo.")
@click.option("--in-a-row", default=0, show_default=True, help="Only so many postings in a row to a small ledger.")
@click.option("--lists/--no-lists", default=True, show_default=True, help="Whether long lists are measured.")
@click.option("--growth-lines", default=0, show_default=True, help="Only a ledger of so many lines that grows, on the real path.")
@click.option("--kills", default=0, show_default=True, help="Only so many kills of the application and MariaDB at work.")
@click.option("--against", type=click.Path(path_type=Path), help="Only the kernels, by turns with those of another checkout.")
def main(
    millions: tuple[float, ...],
    intake_lines: int,
    intake_pairs: int,
    sql_lines: int,
    crowd_seconds: float,
    crowd_lines: int,
    in_a_row: int,
    kills: int,
    growth_lines: int,
    against: Path | None,
    *,
    page: bool,
    lists: bool,
) -> None:
    """Print the tables."""
    click.echo(f"Lofty Abacus bench, {date.today().isoformat()}, {os.cpu_count()} cores; {machine.pace()}\n")
    shares = machine.Shares()
    click.get_current_context().call_on_close(lambda: click.echo(f"Meanwhile, {shares.told()}."))
    if against:
        click.echo(against_table.report(against))
        return
    if crowd_seconds:
        with tempfile.TemporaryDirectory(prefix="lofty-bench-") as home:
            if crowd_lines:
                growth_table.imported(Path(home), crowd_lines)
                click.echo(crowd_table.report(Path(home), crowd_seconds, growth_table.LEDGER))
            else:
                click.echo(crowd_table.report(Path(home), crowd_seconds))
        return
    if in_a_row:
        with tempfile.TemporaryDirectory(prefix="lofty-bench-") as home:
            click.echo(growth_table.in_a_row(Path(home), in_a_row))
        return
    if growth_lines:
        with tempfile.TemporaryDirectory(prefix="lofty-bench-") as home:
            click.echo(growth_table.report(Path(home), growth_lines))
        return
    if kills:
        with tempfile.TemporaryDirectory(prefix="lofty-bench-") as home:
            click.echo(kills_table.report(Path(home), kills))
        return
    sizes = millions or ((1.0, 10.0, 50.0) if _free_gigabytes() >= GIGABYTES_FOR_50 else (1.0, 10.0))
    # The page is measured on the largest ledger up to 10 million lines. Larger ones come last: memory is told at its most.
    of_page = max((each for each in sizes if each <= 10), default=None)
    for each in (each for each in sizes if each <= 10):
        _of_ledger(each, page=page and each == of_page)
    if lists:
        click.echo(lists_table.report())
    if intake_lines:
        with tempfile.TemporaryDirectory(prefix="lofty-bench-") as home:
            click.echo(intake_table.report(Path(home), intake_lines, intake_pairs))
        with tempfile.TemporaryDirectory(prefix="lofty-bench-") as home:
            click.echo(sheet_table.report(Path(home), min(intake_lines, sheet_table.LARGEST)))
    if sql_lines:
        with tempfile.TemporaryDirectory(prefix="lofty-bench-") as home:
            click.echo(sql_table.report(Path(home), sql_lines))
    for each in (each for each in sizes if each > 10):
        _of_ledger(each, page=False)


def _of_ledger(millions: float, *, page: bool) -> None:
    _, columns, facts = generated(int(millions * 1_000_000))
    click.echo(kernels_table.report(columns, facts))
    click.echo(ledger_table.report(columns, facts))
    click.echo(brief_table.report(columns, facts))
    if page:
        click.echo(page_table.report(columns, facts))


def _free_gigabytes() -> float:
    """Memory that can be had without swapping."""
    line = next(line for line in Path("/proc/meminfo").read_text().splitlines() if line.startswith("MemAvailable"))
    return int(line.split()[1]) / 1024**2


if __name__ == "__main__":
    main()
