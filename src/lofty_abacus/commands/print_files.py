"""Write what comes with the application: the files of the demo ledger, the schemas of the API, its words."""

from __future__ import annotations

import json
from pathlib import Path

import click

from lofty_abacus.api.app import make_app
from lofty_abacus.api.shapes import statement_schema
from lofty_abacus.api.vocabulary import vocabulary
from lofty_abacus.demo.files import write_demo_files
from lofty_abacus.telling.catalogue import template_text


@click.command("demo-files", help="Write the demo ledger's files into a folder.")
@click.argument("folder", type=click.Path(file_okay=False, path_type=Path))
def demo_files(folder: Path) -> None:
    files = write_demo_files(folder)
    click.echo(f"Wrote {len(files)} files to {folder}.")


@click.command(help="Print the API's schema; the front end's types are made from it.")
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
