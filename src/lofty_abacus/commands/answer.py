"""Answer a question."""

from __future__ import annotations

from typing import BinaryIO

import click
from pydantic import ValidationError

from lofty_abacus.actions.figures.answer_movers import answer_movers
from lofty_abacus.actions.figures.answer_scorecard import answer_scorecard
from lofty_abacus.actions.figures.answer_statement import answer_statement, told_answer
from lofty_abacus.actions.ledgers.describe_ledger import descriptions_of
from lofty_abacus.api.answer_json import answer_to_json
from lofty_abacus.api.shapes import (
    CardQuestion,
    MoversQuestion,
    card_from_json,
    card_to_json,
    movers_from_json,
    movers_to_json,
    question_from_json,
)
from lofty_abacus.commands.terminal import settings_here
from lofty_abacus.core.statement.statement import Opened
from lofty_abacus.export.csv_table import csv_table
from lofty_abacus.wiring import open_office


@click.command(help="Answer a question (a JSON file with ledger, statement and opened rows; '-' reads standard input).")
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
    with open_office(settings_here()) as office:
        found = told_answer(office, asked.ledger, asked.statement, asked.opened)
        said = descriptions_of(office, asked.ledger)
    click.echo(csv_table(found, asked.statement, said) if form == "csv" else answer_to_json(found).decode() + "\n", nl=False)


def _answer_scorecard(asked: CardQuestion, form: str) -> None:
    """Whether goals are met, with words and history; as CSV the table of the card."""
    with open_office(settings_here()) as office:
        found = answer_scorecard(office, asked.ledger, asked.statement, asked.asked, asked.version)
        said = descriptions_of(office, asked.ledger)
    text = csv_table(found.answer, found.statement, said) if form == "csv" else card_to_json(found).decode() + "\n"
    click.echo(text, nl=False)


def _answer_movers(asked: MoversQuestion, form: str) -> None:
    """Who moved, with words and all; as CSV the table of the level."""
    with open_office(settings_here()) as office:
        found = answer_movers(office, asked.ledger, asked.statement, asked.asked, asked.version)
        if form == "json":
            click.echo(movers_to_json(found))
            return
        table = answer_statement(office, asked.ledger, found.table, Opened(len(found.table.rows)), asked.version)
        click.echo(csv_table(table, found.table, descriptions_of(office, asked.ledger)), nl=False)
