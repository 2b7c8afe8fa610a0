"""Write the record into a file and read it back; look it through for faults."""

from __future__ import annotations

import shutil
from pathlib import Path

import click

from lofty_abacus.commands.terminal import refuse_taken, say, settings_here
from lofty_abacus.server import mariadb
from lofty_abacus.settings import Settings
from lofty_abacus.store import backing_up
from lofty_abacus.wiring import now, open_office, private_folders


@click.command(help="Write the whole record into one file; people can go on working.")
@click.argument("file", type=click.Path(dir_okay=False, path_type=Path))
def backup(file: Path) -> None:
    settings = settings_here()
    with open_office(settings, say):
        about = backing_up.back_up(_url(settings), settings.mariadb, file, "asked for", now())
    click.echo(f"Wrote {file}: {', '.join(about.ledgers) or 'no ledger'}, {file.stat().st_size:,} bytes.")


@click.command(help="Put the record of a backup in the place of the one that is there.")
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--yes", is_flag=True, help="Do not ask before what is there is lost.")
def restore(file: Path, yes: bool) -> None:
    settings = settings_here()
    about = backing_up.about_backup(file)
    private_folders(settings)
    refuse_taken(settings.port)
    with mariadb.in_use(settings.mariadb, say, settings.redo_megabytes) as running:
        there = backing_up.ledgers_there(running.url)
        if there and not yes:
            click.confirm(
                f"This replaces {', '.join(there)} by what {file} holds ({', '.join(about.ledgers)}). Go on?",
                abort=True,
            )
        backing_up.restore(running.url, settings.mariadb, file)
        # What is derived from the record is made anew; files that wait were for the record of before.
        shutil.rmtree(settings.columns, ignore_errors=True)
    with open_office(settings, say) as office:
        faults = office.books.verify()
    _tell(faults)
    click.echo(f"Restored {', '.join(about.ledgers) or 'no ledger'}, as of {about.taken_at[:16].replace('T', ' ')} UTC.")


@click.command(help="Hold the record, its batches and the columns derived from it against each other.")
def verify() -> None:
    with open_office(settings_here(), say) as office:
        faults = office.books.verify()
    _tell(faults)
    click.echo("Every ledger agrees: journal, batches, lines and columns.")


def _tell(faults: list[str]) -> None:
    if faults:
        raise click.ClickException("\n  ".join(faults))


def _url(settings: Settings) -> str:
    return mariadb.start(settings.mariadb).url
