"""Long work in the background, with progress and a way to stop it; what a restart broke off ends in a clear word."""

from __future__ import annotations

import contextvars
import json
import secrets
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import AbstractContextManager, nullcontext, suppress
from dataclasses import dataclass, replace
from pathlib import Path
from threading import Lock
from typing import Literal

from lofty_abacus.actions.errors import BrokenOffError, StoppedError
from lofty_abacus.actions.intake.checks import StagingCheck
from lofty_abacus.actions.intake.preview_posting import PostingPreview
from lofty_abacus.actions.intake.stagings import Staging
from lofty_abacus.actions.records import Posting, Progress
from lofty_abacus.actions.records.briefs import IssueRecord
from lofty_abacus.core.patience import heed

KEPT = 200
SIDE_BY_SIDE = 4
Result = Posting | Staging | StagingCheck | PostingPreview | IssueRecord


@dataclass(frozen=True)
class Job:
    """A piece of work: what is being done now, how far it is, and how it ended: with a result, or with an error."""

    id: str
    state: Literal["running", "done", "failed", "stopped"]
    doing: str
    done: int
    total: int
    result: Result | None = None
    error: Exception | None = None


class Jobs:
    """The jobs of this process; the oldest ended ones are forgotten.

    folder: where it stands which jobs run, so that one that a restart broke off is known for it; None: nowhere. failed: told of
    every error that ends a job. aside: within which work stands aside, at its steps, for whoever waits for figures.
    """

    def __init__(
        self,
        folder: Path | None = None,
        failed: Callable[[Exception], object] = lambda _: None,
        aside: Callable[[], AbstractContextManager[object]] = nullcontext,
    ) -> None:
        self._jobs: OrderedDict[str, Job] = OrderedDict()
        self._to_stop: set[str] = set()
        self._lock = Lock()
        self._pool = ThreadPoolExecutor(SIDE_BY_SIDE, thread_name_prefix="job")
        # A host that is silent holds up only those who ask hosts.
        self._hosts = ThreadPoolExecutor(SIDE_BY_SIDE, thread_name_prefix="host")
        self._folder, self._failed, self._aside = folder, failed, aside
        if folder is not None:
            for each in sorted(folder.glob("*.json")):
                self._broken_off(each)

    def start(self, work: Callable[[Progress], Result], *, of_a_host: bool = False) -> Job:
        """Start work in the background; what it calls to tell its progress raises StoppedError once it is to stop."""
        job = Job(secrets.token_hex(8), "running", "Waiting", 0, 0)
        self._keep(job)
        self._note(job)
        (self._hosts if of_a_host else self._pool).submit(contextvars.copy_context().run, self._run, job.id, work)
        return job

    def end(self) -> None:
        """Ask every job to stop, and start no more."""
        with self._lock:
            self._to_stop |= {each for each, job in self._jobs.items() if job.state == "running"}
        for pool in (self._pool, self._hosts):
            pool.shutdown(wait=False, cancel_futures=True)

    def get(self, number: str) -> Job | None:
        """A job as it stands."""
        with self._lock:
            return self._jobs.get(number)

    def stop(self, number: str) -> Job | None:
        """Ask a job to stop; one that has ended stays as it is."""
        with self._lock:
            job = self._jobs.get(number)
            if job is not None and job.state == "running":
                self._to_stop.add(number)
            return job

    def _run(self, number: str, work: Callable[[Progress], Result]) -> None:
        def progress(doing: str, done: int, total: int) -> None:
            heed()
            self._change(number, doing=doing, done=done, total=total)
            if number in self._to_stop:
                raise StoppedError

        try:
            with self._aside():
                result = work(progress)
        except StoppedError as error:
            self._change(number, state="stopped", error=error)
        except Exception as error:  # the job's end is its report; nothing may be lost in a thread
            self._failed(error)
            self._change(number, state="failed", error=error)
        else:
            self._change(number, state="done", result=result)
        self._forget_note(number)

    def _change(self, number: str, **values: object) -> None:
        with self._lock:
            self._jobs[number] = replace(self._jobs[number], **values)  # type: ignore[arg-type]

    def _keep(self, job: Job) -> None:
        with self._lock:
            self._jobs[job.id] = job
            ended = [each for each, known in self._jobs.items() if known.state != "running"]
            for each in ended[: max(0, len(self._jobs) - KEPT)]:
                del self._jobs[each]
                self._to_stop.discard(each)

    def _note(self, job: Job) -> None:
        """Have it stand in the folder that a job runs."""
        if self._folder is not None:
            with suppress(OSError):  # work goes on where the disk is full
                (self._folder / f"{job.id}.json").write_text(json.dumps({"id": job.id}))

    def _forget_note(self, number: str) -> None:
        if self._folder is not None:
            with suppress(OSError):
                (self._folder / f"{number}.json").unlink(missing_ok=True)

    def _broken_off(self, note: Path) -> None:
        """Know a job of an earlier process, which ended while it ran."""
        self._keep(Job(note.stem, "stopped", "Broken off", 0, 0, error=BrokenOffError()))
        with suppress(OSError):
            note.unlink()
