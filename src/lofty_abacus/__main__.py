"""The command line: each command is loaded when it is called; one clear sentence where something is wrong."""

from __future__ import annotations

import signal
import sys
from importlib import import_module

import click

from lofty_abacus.actions.errors import ActionError
from lofty_abacus.commands.terminal import end
from lofty_abacus.core.errors import CoreError
from lofty_abacus.ingest.problems import MappingError, UnreadableFileError
from lofty_abacus.logs import log_to_terminal
from lofty_abacus.server.errors import ServerError
from lofty_abacus.settings import SettingsError

_EXPECTED = (ActionError, CoreError, ServerError, SettingsError, MappingError, UnreadableFileError, OSError)
#: Where each command stands.
COMMANDS = {
    "start": "start:start",
    "import": "import_files:import_files",
    "answer": "answer:answer",
    "backup": "records:backup",
    "restore": "records:restore",
    "verify": "records:verify",
    "demo-files": "print_files:demo_files",
    "openapi": "print_files:openapi",
}


class _Commands(click.Group):
    """Commands by name: what serves the application is not loaded to post a file."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        """Their names."""
        return list(COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        """One of them."""
        if cmd_name not in COMMANDS:
            return None
        module, name = COMMANDS[cmd_name].split(":")
        found: click.Command = getattr(import_module(f"lofty_abacus.commands.{module}"), name)
        return found


@click.command(cls=_Commands, help="Lofty Abacus: sales figures with fair comparisons and numbers that can be proved.")
def cli() -> None:
    log_to_terminal()


def main() -> None:
    """Run the command line; expected errors end with one sentence and exit code 1."""
    for number in (signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, end)
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
