"""Long work in the background, with progress to be asked for."""

from __future__ import annotations

import secrets
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from threading import Lock
from typing import Literal

from lofty_abacus.actions.records import Posting, Progress
from lofty_abacus.api.failures import failure_of
from lofty_abacus.api.shapes import Failure

KEPT = 200


@dataclass(frozen=True)
class Job:
    """A piece of work: what is being done now, how far it is, and how it ended."""

    id: str
    state: Literal["running", "done", "failed"]
    doing: str
    done: int
    total: int
    result: Posting | None = None
    failure: Failure | None = None


class Jobs:
    """The jobs of this process; the oldest ended ones are forgotten."""

    def __init__(self) -> None:
        self._jobs: OrderedDict[str, Job] = OrderedDict()
        self._lock = Lock()
        self._pool = ThreadPoolExecutor(2, thread_name_prefix="job")

    def start(self, work: Callable[[Progress], Posting]) -> Job:
        """Start work in the background."""
        job = Job(secrets.token_hex(8), "running", "Waiting", 0, 0)
        self._keep(job)
        self._pool.submit(self._run, job.id, work)
        return job

    def get(self, number: str) -> Job | None:
        """A job as it stands."""
        with self._lock:
            return self._jobs.get(number)

    def _run(self, number: str, work: Callable[[Progress], Posting]) -> None:
        def progress(doing: str, done: int, total: int) -> None:
            self._change(number, doing=doing, done=done, total=total)

        try:
            result = work(progress)
        except Exception as error:  # the job's end is its report; nothing may be lost in a thread
            self._change(number, state="failed", failure=failure_of(error)[1])
        else:
            self._change(number, state="done", result=result)

    def _change(self, number: str, **values: object) -> None:
        with self._lock:
            self._jobs[number] = replace(self._jobs[number], **values)  # type: ignore[arg-type]

    def _keep(self, job: Job) -> None:
        with self._lock:
            self._jobs[job.id] = job
            ended = [each for each, known in self._jobs.items() if known.state != "running"]
            for each in ended[: max(0, len(self._jobs) - KEPT)]:
                del self._jobs[each]
