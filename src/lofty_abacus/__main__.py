"""The command line: words in, wiring called, one clear sentence where something is wrong."""

from __future__ import annotations

import contextlib
import gc
import json
import os
import shutil
import signal
import socket
import sys
import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from threading import Event, Thread
from types import FrameType
from typing import BinaryIO

import click
import uvicorn
from fastapi import FastAPI
from pydantic import ValidationError

from lofty_abacus.actions.errors import ActionError
from lofty_abacus.actions.figures.answer_movers import answer_movers
from lofty_abacus.actions.figures.answer_scorecard import answer_scorecard
from lofty_abacus.actions.figures.answer_statement import answer_statement, told_answer
from lofty_abacus.actions.intake.check_files import check_files
from lofty_abacus.actions.intake.checks import StagingCheck
from lofty_abacus.actions.intake.post_files import post_files
from lofty_abacus.actions.intake.stage_files import map_file, stage_files
from lofty_abacus.actions.intake.stagings import discard_left_behind, discard_staging
from lofty_abacus.actions.ledgers.describe_ledger import descriptions_of
from lofty_abacus.actions.ledgers.make_ledger import make_ledger
from lofty_abacus.actions.records import NewLedger, Progress
from lofty_abacus.actions.work.warm_up import warm_up
from lofty_abacus.api.app import make_app
from lofty_abacus.api.shapes import (
    CardQuestion,
    MoversQuestion,
    answer_to_json,
    card_from_json,
    card_to_json,
    movers_from_json,
    movers_to_json,
    question_from_json,
    statement_schema,
)
from lofty_abacus.api.vocabulary import vocabulary
from lofty_abacus.core.errors import CoreError
from lofty_abacus.core.statement.statement import Opened
from lofty_abacus.demo.files import write_demo_files
from lofty_abacus.demo.loading import has_demo, load_demo_with_briefs
from lofty_abacus.export.csv_table import csv_table
from lofty_abacus.ingest.dates import DateFormat
from lofty_abacus.ingest.mapping import NUMBERS, Rate
from lofty_abacus.ingest.numbers import DecimalMark
from lofty_abacus.ingest.problems import MappingError, UnreadableFileError
from lofty_abacus.logs import log_to_terminal
from lofty_abacus.server import mariadb
from lofty_abacus.server.errors import ServerError
from lofty_abacus.settings import Settings, SettingsError, read_settings
from lofty_abacus.store import backing_up
from lofty_abacus.telling.catalogue import template_text
from lofty_abacus.wiring import now, open_office, posting_mail, private_folders, watching_briefs, watching_inbox

ROOT = Path(__file__).resolve().parents[2]
#: Seconds that requests have to end in good order, and after which the process is ended whatever it does.
GRACE_SECONDS, LAST_SECONDS = 5, 20.0
#: Seconds that a question, and the start, wait for the lines of a large ledger, which are read once after they were posted.
READING_SECONDS = 10.0
_EXPECTED = (ActionError, CoreError, ServerError, SettingsError, MappingError, UnreadableFileError, OSError)


def _say(text: str) -> None:
    click.echo(f"  {text}", err=True)


def _settings() -> Settings:
    return read_settings(ROOT)


@click.group(help="Lofty Abacus: sales figures with fair comparisons and numbers that can be proved.")
def cli() -> None:
    log_to_terminal()


@cli.command(help="Start MariaDB, load the demo ledger if there is none, and serve the application.")
@click.option("--port", type=click.IntRange(1, 65535), help="Port of the application (LOFTY_PORT, 8420).")
def start(port: int | None) -> None:
    settings = _settings()
    if port is not None:
        settings = replace(settings, port=port)
    _refuse_taken(settings.port)
    with open_office(settings, _say, READING_SECONDS) as bare, posting_mail(bare, settings) as office:
        _heed()
        if not has_demo(office):
            _say("Loading the demo ledger")
        load_demo_with_briefs(office, _progress())
        _heed()
        address = f"http://127.0.0.1:{settings.port}"
        warm_up(office)
        # What stands now stays: collections of what questions leave behind need not look at it.
        gc.freeze()
        _heed()
        click.echo(f"\nLofty Abacus is ready: {address}\nStop it with Ctrl-C.", err=True)
        app = make_app(office, settings.web)
        config = uvicorn.Config(
            app, host="127.0.0.1", port=settings.port, log_level="warning", timeout_graceful_shutdown=GRACE_SECONDS
        )
        # The server ends in good order on Ctrl-C and then raises it again.
        discard_left_behind(office)
        with contextlib.suppress(KeyboardInterrupt), watching_inbox(office), watching_briefs(office), _ending_in_time(settings):
            _Server(config, app).run()
    _ended_well.set()
    _say("Stopped")


@cli.command(help="Write the whole record into one file; people can go on working.")
@click.argument("file", type=click.Path(dir_okay=False, path_type=Path))
def backup(file: Path) -> None:
    settings = _settings()
    with open_office(settings, _say):
        about = backing_up.back_up(_url(settings), settings.mariadb, file, "asked for", now())
    click.echo(f"Wrote {file}: {', '.join(about.ledgers) or 'no ledger'}, {file.stat().st_size:,} bytes.")


@cli.command(help="Put the record of a backup in the place of the one that is there.")
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--yes", is_flag=True, help="Do not ask before what is there is lost.")
def restore(file: Path, yes: bool) -> None:
    settings = _settings()
    about = backing_up.about_backup(file)
    private_folders(settings)
    _refuse_taken(settings.port)
    with mariadb.in_use(settings.mariadb, _say, settings.redo_megabytes) as running:
        there = backing_up.ledgers_there(running.url)
        if there and not yes:
            click.confirm(
                f"This replaces {', '.join(there)} by what {file} holds ({', '.join(about.ledgers)}). Go on?",
                abort=True,
            )
        backing_up.restore(running.url, settings.mariadb, file)
        # What is derived from the record is made anew; files that wait were for the record of before.
        shutil.rmtree(settings.columns, ignore_errors=True)
    with open_office(settings, _say) as office:
        faults = office.books.verify()
    _tell(faults)
    click.echo(f"Restored {', '.join(about.ledgers) or 'no ledger'}, as of {about.taken_at[:16].replace('T', ' ')} UTC.")


@cli.command(help="Hold the record, its batches and the columns derived from it against each other.")
def verify() -> None:
    with open_office(_settings(), _say) as office:
        faults = office.books.verify()
    _tell(faults)
    click.echo("Every ledger agrees: journal, batches, lines and columns.")


def _tell(faults: list[str]) -> None:
    if faults:
        raise click.ClickException("\n  ".join(faults))


def _url(settings: Settings) -> str:
    return mariadb.start(settings.mariadb).url


@cli.command("import", help="Post files to a ledger, which is made if there is none of that name.")
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
    with open_office(_settings(), _say) as office:
        if name not in [each.name for each in office.books.ledgers()]:
            make_ledger(office, NewLedger(name, currency))
            _say(f"Made the ledger {name!r}")
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
            check = check_files(office, staging.id)
            _report(check)
            posting = post_files(office, staging.id, _progress())
        finally:
            discard_staging(office, staging.id)
        click.echo(f"Posted {posting.lines:,} lines, {posting.amount} net, as version {posting.version} of {name!r}.")


@cli.command(help="Answer a question (a JSON file with ledger, statement and opened rows; '-' reads standard input).")
@click.argument("question", type=click.File("rb"))
@click.option("--format", "form", type=click.Choice(["csv", "json"]), default="json", show_default=True)
@click.option("--as", "page", type=click.Choice(["figures", "movers", "scorecard"]), default="figures", show_default=True)
def answer(question: BinaryIO, form: str, page: str) -> None:
    text = question.read()
    try:
        if page == "movers":
            _answer_movers(movers_from_json(text), form)
            return
        if page == "scorecard":
            _answer_scorecard(card_from_json(text), form)
            return
        asked = question_from_json(text)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(step) for step in first["loc"])
        raise click.ClickException(f"The question cannot be read: {place}: {first['msg']}.") from error
    with open_office(_settings()) as office:
        found = told_answer(office, asked.ledger, asked.statement, asked.opened)
        said = descriptions_of(office, asked.ledger)
    click.echo(csv_table(found, asked.statement, said) if form == "csv" else answer_to_json(found).decode() + "\n", nl=False)


def _answer_scorecard(asked: CardQuestion, form: str) -> None:
    """Whether goals are met, with words and history; as CSV the table of the card."""
    with open_office(_settings()) as office:
        found = answer_scorecard(office, asked.ledger, asked.statement, asked.asked, asked.version)
        said = descriptions_of(office, asked.ledger)
    text = csv_table(found.answer, found.statement, said) if form == "csv" else card_to_json(found).decode() + "\n"
    click.echo(text, nl=False)


def _answer_movers(asked: MoversQuestion, form: str) -> None:
    """Who moved, with words and all; as CSV the table of the level."""
    with open_office(_settings()) as office:
        found = answer_movers(office, asked.ledger, asked.statement, asked.asked, asked.version)
        if form == "json":
            click.echo(movers_to_json(found))
            return
        table = answer_statement(office, asked.ledger, found.table, Opened(len(found.table.rows)), asked.version)
        click.echo(csv_table(table, found.table, descriptions_of(office, asked.ledger)), nl=False)


@cli.command("demo-files", help="Write the demo ledger's files into a folder.")
@click.argument("folder", type=click.Path(file_okay=False, path_type=Path))
def demo_files(folder: Path) -> None:
    files = write_demo_files(folder)
    click.echo(f"Wrote {len(files)} files to {folder}.")


@cli.command(help="Print the API's schema; the front end's types are made from it.")
@click.option("--statement", is_flag=True, help="The JSON schema of a statement alone (docs/statement.schema.json).")
@click.option("--words", is_flag=True, help="The words, defaults and rules that the page shares with the server.")
@click.option("--messages", is_flag=True, help="Everything that can be said of a statement, to be translated (a PO template).")
def openapi(*, statement: bool, words: bool, messages: bool) -> None:
    if messages:
        click.echo(template_text().decode(), nl=False)
        return
    if words:
        click.echo(json.dumps(vocabulary(), indent=2, ensure_ascii=False))
        return
    schema = statement_schema() if statement else make_app(None, None).openapi()
    click.echo(json.dumps(schema, indent=1, sort_keys=True))


class _Server(uvicorn.Server):
    """Ends questions and jobs when it is told to end, so that none of them holds it up."""

    def __init__(self, config: uvicorn.Config, app: FastAPI) -> None:
        super().__init__(config)
        self._app = app

    def handle_exit(self, sig: int, frame: FrameType | None) -> None:
        """Told to end."""
        self._app.state.questions.end()
        self._app.state.jobs.end()
        Thread(target=_end_at_last, name="end", daemon=True).start()
        super().handle_exit(sig, frame)


_ended_well = Event()
_to_stop: list[Settings] = []


@contextlib.contextmanager
def _ending_in_time(settings: Settings) -> Iterator[None]:
    """Whatever hangs: a signal to end ends the process, with its MariaDB."""
    _to_stop.append(settings)
    yield


def _end_at_last() -> None:
    if not _ended_well.wait(LAST_SECONDS):
        _say("Something does not end: the process is ended")
        for settings in _to_stop:
            with contextlib.suppress(ServerError):
                mariadb.stop(settings.mariadb)
        os._exit(1)


def _refuse_taken(port: int) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError as error:
            raise click.ClickException(
                f"Port {port} is taken: stop what uses it (another Lofty Abacus?), or give another with --port."
            ) from error


def _report(check: StagingCheck) -> None:
    for each in check.files:
        days = f", {each.first_day} to {each.last_day}" if each.first_day else ""
        _say(f"{each.file}: {each.kind}, {each.lines:,} lines, {each.amount} net{days}")
        for finding in each.findings:
            _say(f"    {finding.words}")
            for problem in finding.problems[:20]:
                _say(f"        row {problem.row}, {problem.column or 'whole row'}: {problem.text!r} {problem.reason}")
        for sentence in each.blocking:
            _say(f"    {sentence}")


def _progress() -> Progress:
    """Progress as a line now and then, so that a terminal or a log can follow it."""
    last = [0.0]

    def show(doing: str, done: int, total: int) -> None:
        _heed()
        now = time.monotonic()
        if now - last[0] > 0.5:
            _say(f"{doing}{f' ({done:,} of {total:,})' if total else ''}")
            last[0] = now

    return show


_told_to_end: list[int] = []


def _end(received: int, _: object) -> None:
    """End as an exception, so that what was started is stopped on the way out."""
    _told_to_end.append(received)
    sys.exit(128 + received)


def _heed() -> None:
    """End now if it was told before: an exception that comes within a callback of a library is dropped there."""
    if _told_to_end:
        sys.exit(128 + _told_to_end[0])


def main() -> None:
    """Run the command line; expected errors end with one sentence and exit code 1."""
    for number in (signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, _end)
    try:
        cli(standalone_mode=False)
    except click.Abort:
        sys.exit(130)
    except click.ClickException as error:
        error.show()
        sys.exit(error.exit_code)
    except _EXPECTED as error:
        click.echo(f"Error: {error}", err=True)
        sys.exit(1)


if __name__ == "__main__":
    main()
