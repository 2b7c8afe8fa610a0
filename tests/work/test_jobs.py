"""Work in the background: how it ends, who may stop it, and what a restart leaves of it."""

from __future__ import annotations

import json
import threading
import time
from collections.abc import Callable
from pathlib import Path

import pytest

from lofty_abacus.actions.errors import BrokenOffError, RefusedError, StoppedError
from lofty_abacus.actions.records import Posting, Progress
from lofty_abacus.actions.work.clock import again_and_again
from lofty_abacus.actions.work.jobs import Job, Jobs
from lofty_abacus.api.jobs import told

POSTING = Posting(2, (1,), 5, "1.00")


def ended(jobs: Jobs, job: Job) -> Job:
    until = time.monotonic() + 60
    while (found := jobs.get(job.id)) is not None and found.state == "running":
        assert time.monotonic() < until, "the job ends"
        time.sleep(0.005)
    assert found is not None
    return found


def waiting(go: threading.Event) -> Callable[[Progress], Posting]:
    def work(progress: Progress) -> Posting:
        while not go.wait(0.005):
            progress("Waiting for it", 1, 2)
        progress("Done with it", 2, 2)
        return POSTING

    return work


def test_a_job_ends_with_what_it_gave(tmp_path: Path) -> None:
    jobs, go = Jobs(tmp_path), threading.Event()
    job = jobs.start(waiting(go))
    assert [json.loads(each.read_text()) for each in tmp_path.glob("*.json")] == [{"id": job.id}]
    go.set()
    found = ended(jobs, job)
    assert (found.state, found.result, told(found).posting) == ("done", POSTING, POSTING)
    until = time.monotonic() + 60
    while list(tmp_path.iterdir()):
        assert time.monotonic() < until, "nothing is left of a job that has ended"
        time.sleep(0.005)


def test_a_job_is_stopped_and_one_that_fails_says_why() -> None:
    seen: list[Exception] = []
    jobs = Jobs(failed=seen.append)
    stopped = jobs.start(waiting(threading.Event()))
    jobs.stop(stopped.id)
    found = ended(jobs, stopped)
    assert found.state == "stopped" and isinstance(found.error, StoppedError) and told(found).failure is not None

    def refuse(_: Progress) -> Posting:
        raise RefusedError("Not this one.")

    def break_down(_: Progress) -> Posting:
        raise ZeroDivisionError

    refused, broken = ended(jobs, jobs.start(refuse)), ended(jobs, jobs.start(break_down))
    failure = told(refused).failure
    assert failure is not None and (failure.kind, failure.message) == ("refused", "Not this one.")
    assert [type(each) for each in seen] == [RefusedError, ZeroDivisionError]
    # Asked for again, an unexpected error has the same number: it stands in the log once.
    messages = {told(broken).failure.message for _ in range(3)}  # type: ignore[union-attr]
    assert len(messages) == 1 and "in the log under" in messages.pop()


def test_what_a_restart_broke_off_ends_in_a_clear_word(tmp_path: Path) -> None:
    before, go = Jobs(tmp_path), threading.Event()
    job = before.start(waiting(go))
    # The process ends without a word; another one starts.
    after = Jobs(tmp_path)
    found = after.get(job.id)
    assert found is not None and found.state == "stopped" and isinstance(found.error, BrokenOffError)
    failure = told(found).failure
    assert failure is not None and failure.kind == "stopped" and "The application ended while this ran" in failure.message
    assert not list(tmp_path.glob("*.json")), "it is told once; the next start knows nothing of it"
    assert Jobs(tmp_path).get(job.id) is None
    go.set()
    ended(before, job)


def test_only_so_many_ended_jobs_are_remembered(monkeypatch: pytest.MonkeyPatch) -> None:
    from lofty_abacus.actions.work import jobs as module

    monkeypatch.setattr(module, "KEPT", 3)
    jobs = Jobs()
    started = []
    for _ in range(6):
        started.append(jobs.start(lambda _: POSTING))
        ended(jobs, started[-1])
    assert [jobs.get(each.id) is None for each in started] == [True, True, True, False, False, False]


def test_what_goes_on_by_itself_goes_on_after_an_error_that_passes(caplog: pytest.LogCaptureFixture) -> None:
    times: list[int] = []
    enough = threading.Event()

    def work() -> None:
        times.append(len(times))
        if len(times) == 1:
            raise OSError("for once")
        if len(times) > 2:
            enough.set()

    with again_and_again("a thing", 0.001, work, passing=(OSError,)):
        assert enough.wait(20)
    assert "a thing: what is done now and then failed" in caplog.text
    seen = len(times)
    assert not enough.wait(0) or len(times) == seen, "nothing goes on when its time is over"
