"""Post files to a ledger."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import click

from lofty_abacus.actions.intake.checks import StagingCheck
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import map_file, stage_files
from lofty_abacus.actions.intake.stagings import discard_staging
from lofty_abacus.actions.ledgers.make_ledger import make_ledger
from lofty_abacus.actions.records import NewLedger
from lofty_abacus.commands.terminal import progress, say, settings_here
from lofty_abacus.ingest.apart import start_reading
from lofty_abacus.ingest.dates import DateFormat
from lofty_abacus.ingest.mapping import NUMBERS, Rate
from lofty_abacus.ingest.numbers import DecimalMark
from lofty_abacus.wiring import open_office


@click.command("import", help="Post files to a ledger, which is made if there is none of that name.")
@click.argument("files", nargs=-1, required=True, type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("--ledger", help="Name of the ledger; the first file's name if not given.")
@click.option("--currency", default="EUR", show_default=True, help="Currency of a new ledger.")
@click.option("--date-format", type=click.Choice(["year_month_day", "day_month_year", "month_day_year"]))
@click.option("--decimal-mark", type=click.Choice(["point", "comma"]))
@click.option("--leave-out-unreadable", is_flag=True, help="Leave lines out that have values which cannot be read.")
@click.option("--leave-out-repeated", is_flag=True, help="Leave lines out whose line id came before.")
@click.option("--keep-unknown-keys", is_flag=True, help="Keep lookups none of whose keys stands on a line yet.")
@click.option("--rate", "rates", multiple=True, metavar="USD=0.91", help="What one unit of another currency comes to.")
def import_files(
    files: tuple[Path, ...],
    ledger: str | None,
    currency: str,
    date_format: DateFormat | None,
    decimal_mark: DecimalMark | None,
    leave_out_unreadable: bool,
    leave_out_repeated: bool,
    keep_unknown_keys: bool,
    rates: tuple[str, ...],
) -> None:
    name = ledger or files[0].stem
    start_reading()
    with open_office(settings_here(), say) as office:
        if name not in [each.name for each in office.books.ledgers()]:
            make_ledger(office, NewLedger(name, currency))
            say(f"Made the ledger {name!r}")
        staging = stage_files(office, name, [(path.name, path) for path in files])
        try:
            for at, file in enumerate(staging.files):
                if file.mapping is None:
                    continue
                columns = tuple(
                    replace(
                        use,
                        date_format=(date_format or use.date_format) if use.role == "date" else use.date_format,
                        decimal_mark=(decimal_mark or use.decimal_mark) if use.role in NUMBERS else None,
                    )
                    for use in file.mapping.columns
                )
                mapping = replace(file.mapping, columns=columns)
                if leave_out_unreadable:
                    mapping = replace(mapping, unreadable="leave_out")
                if leave_out_repeated:
                    mapping = replace(mapping, repeated="leave_out")
                if keep_unknown_keys:
                    mapping = replace(mapping, unknown_keys="keep")
                if mapping.kind not in ("lookup", "rates"):
                    given = (each.partition("=") for each in rates)
                    mapping = replace(mapping, rates=tuple(Rate(code.upper(), rate) for code, _, rate in given))
                map_file(office, staging.id, at, mapping)
            posting = post_files(office, staging.id, progress(), found=_report)
        finally:
            discard_staging(office, staging.id)
        click.echo(f"Posted {posting.lines:,} lines, {posting.amount} net, as version {posting.version} of {name!r}.")


def _report(check: StagingCheck) -> None:
    for each in check.files:
        days = f", {each.first_day} to {each.last_day}" if each.first_day else ""
        say(f"{each.file}: {each.kind}, {each.lines:,} lines, {each.amount} net{days}")
        for finding in each.findings:
            say(f"    {finding.words}")
            for problem in finding.problems[:20]:
                say(f"        row {problem.row}, {problem.column or 'whole row'}: {problem.text!r} {problem.reason}")
        for sentence in each.blocking:
            say(f"    {sentence}")
