"""Long work in the background, with progress to be asked for and a way to stop it."""

from __future__ import annotations

import secrets
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from threading import Lock
from typing import Literal

from lofty_abacus.actions.checks import StagingCheck
from lofty_abacus.actions.errors import StoppedError
from lofty_abacus.actions.preview_posting import PostingPreview
from lofty_abacus.actions.records import Posting, Progress
from lofty_abacus.actions.stagings import Staging
from lofty_abacus.api.failures import failure_of
from lofty_abacus.api.shapes import Failure

KEPT = 200
Result = Posting | Staging | StagingCheck | PostingPreview
_FIELDS: dict[type, str] = {Posting: "posting", Staging: "staging", StagingCheck: "check", PostingPreview: "preview"}


@dataclass(frozen=True)
class Job:
    """A piece of work: what is being done now, how far it is, and how it ended. What it gave stands in the field of its kind."""

    id: str
    state: Literal["running", "done", "failed", "stopped"]
    doing: str
    done: int
    total: int
    posting: Posting | None = None
    staging: Staging | None = None
    check: StagingCheck | None = None
    preview: PostingPreview | None = None
    failure: Failure | None = None


class Jobs:
    """The jobs of this process; the oldest ended ones are forgotten."""

    def __init__(self) -> None:
        self._jobs: OrderedDict[str, Job] = OrderedDict()
        self._to_stop: set[str] = set()
        self._lock = Lock()
        self._pool = ThreadPoolExecutor(4, thread_name_prefix="job")
        # A host that is silent holds up only those who ask hosts.
        self._hosts = ThreadPoolExecutor(4, thread_name_prefix="host")

    def start(self, work: Callable[[Progress], Result], *, of_a_host: bool = False) -> Job:
        """Start work in the background; what it calls to tell its progress raises StoppedError once it is to stop."""
        job = Job(secrets.token_hex(8), "running", "Waiting", 0, 0)
        self._keep(job)
        (self._hosts if of_a_host else self._pool).submit(self._run, job.id, work)
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
            self._change(number, doing=doing, done=done, total=total)
            if number in self._to_stop:
                raise StoppedError

        try:
            result = work(progress)
        except StoppedError as error:
            self._change(number, state="stopped", failure=failure_of(error)[1])
        except Exception as error:  # the job's end is its report; nothing may be lost in a thread
            self._change(number, state="failed", failure=failure_of(error)[1])
        else:
            self._change(number, state="done", **{_FIELDS[type(result)]: result})

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
