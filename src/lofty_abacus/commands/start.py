"""Serve the application."""

from __future__ import annotations

import contextlib
import gc
import os
from collections.abc import Iterator
from dataclasses import replace
from threading import Event, Thread
from types import FrameType

import click
import uvicorn
from fastapi import FastAPI

from lofty_abacus.actions.intake.stagings import discard_left_behind
from lofty_abacus.actions.work.warm_up import warm_up
from lofty_abacus.api.app import build_routes, make_app
from lofty_abacus.commands.terminal import heed, progress, refuse_taken, say, settings_here
from lofty_abacus.demo.loading import has_demo, load_demo_with_briefs
from lofty_abacus.server import mariadb
from lofty_abacus.server.errors import ServerError
from lofty_abacus.settings import Settings
from lofty_abacus.wiring import open_office, posting_mail, watching_briefs, watching_inbox

#: Seconds that requests have to end in good order, and after which the process is ended whatever it does.
GRACE_SECONDS, LAST_SECONDS = 5, 20.0
#: Seconds that a question, and the start, wait for the lines of a large ledger, which are read once after they were posted.
READING_SECONDS = 10.0


@click.command(help="Start MariaDB, load the demo ledger if there is none, and serve the application.")
@click.option("--port", type=click.IntRange(1, 65535), help="Port of the application (LOFTY_PORT, 8420).")
def start(port: int | None) -> None:
    settings = settings_here()
    if port is not None:
        settings = replace(settings, port=port)
    refuse_taken(settings.port)
    with (
        open_office(settings, say, READING_SECONDS) as bare,
        _ending_in_time(settings),
        posting_mail(bare, settings) as office,
    ):
        heed()
        if not has_demo(office):
            say("Loading the demo ledger")
        load_demo_with_briefs(office, progress())
        heed()
        address = f"http://127.0.0.1:{settings.port}"
        warm_up(office)
        app = make_app(office, settings.web)
        build_routes(app)
        # What stands now stays: collections of what questions leave behind need not look at it.
        gc.freeze()
        heed()
        click.echo(f"\nLofty Abacus is ready: {address}\nStop it with Ctrl-C.", err=True)
        config = uvicorn.Config(
            app, host="127.0.0.1", port=settings.port, log_level="warning", timeout_graceful_shutdown=GRACE_SECONDS
        )
        # The server ends in good order on Ctrl-C and then raises it again.
        discard_left_behind(office)
        aside = app.state.questions.standing_aside
        with contextlib.suppress(KeyboardInterrupt), watching_inbox(office), watching_briefs(office, aside):
            _Server(config, app).run()
    _ended_well.set()
    say("Stopped")


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
    """Whatever hangs when all is ended: the process ends, with its MariaDB."""
    _to_stop.append(settings)
    try:
        yield
    finally:
        Thread(target=_end_at_last, name="end", daemon=True).start()


def _end_at_last() -> None:
    if not _ended_well.wait(LAST_SECONDS):
        say("Something does not end: the process is ended")
        for settings in _to_stop:
            with contextlib.suppress(ServerError):
                mariadb.stop(settings.mariadb)
        os._exit(1)
