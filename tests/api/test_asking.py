"""Figures come first: evidence stands aside for them, but is not kept waiting for ever."""

from __future__ import annotations

import asyncio
import time
from functools import partial
from threading import Event

import pytest

from lofty_abacus.actions.records import Posting, Progress
from lofty_abacus.actions.work.jobs import Jobs
from lofty_abacus.api import asking
from lofty_abacus.api.asking import MOST_ASIDE, Questions
from lofty_abacus.core.patience import heed


class Here:
    """A request whose sender waits."""

    async def is_disconnected(self) -> bool:
        return False


def evidence(steps: int) -> float:
    """Work that looks now and then whether it is still wanted; when it was done."""
    for _ in range(steps):
        heed()
    return time.monotonic()


def answered(questions: Questions, end: Event, begun: Event) -> float:
    """Figures that are under way until they may end; when they were done."""
    begun.set()
    assert end.wait(30)
    return time.monotonic()


def test_evidence_stands_aside_until_figures_are_answered() -> None:
    async def both() -> tuple[float, float]:
        questions, end, begun = Questions(), Event(), Event()
        figures = asyncio.ensure_future(questions.ask(Here(), lambda: answered(questions, end, begun)))  # type: ignore[arg-type]
        await asyncio.to_thread(begun.wait, 30)
        proof = asyncio.ensure_future(questions.ask(Here(), lambda: evidence(3), "evidence"))  # type: ignore[arg-type]
        asyncio.get_running_loop().call_later(0.15, end.set)
        return await figures, await proof

    figures, proof = asyncio.run(both())
    assert proof > figures


def test_what_nobody_asked_for_stands_aside_at_each_step_and_then_goes_on(monkeypatch: pytest.MonkeyPatch) -> None:
    async def both() -> tuple[float, float, float]:
        questions, end, begun = Questions(), Event(), Event()

        def unasked(steps: int) -> float:
            with questions.standing_aside():
                return evidence(steps)

        figures = asyncio.ensure_future(questions.ask(Here(), lambda: answered(questions, end, begun)))  # type: ignore[arg-type]
        await asyncio.to_thread(begun.wait, 30)
        asyncio.get_running_loop().call_later(0.15, end.set)
        watched = await asyncio.to_thread(unasked, 3)
        monkeypatch.setattr(asking, "MOST_ASIDE_UNASKED", 0.2)
        end.clear()
        begun.clear()
        more = asyncio.ensure_future(questions.ask(Here(), lambda: answered(questions, end, begun)))  # type: ignore[arg-type]
        await asyncio.to_thread(begun.wait, 30)
        went_on = await asyncio.to_thread(unasked, 10_000)
        end.set()
        return await figures, watched, await more - went_on

    figures, watched, before = asyncio.run(both())
    assert watched > figures and before > 0, "not for ever: it went on before the later figures were answered"


def test_evidence_comes_to_its_turn_whatever_is_asked_beside_it() -> None:
    async def crowded() -> float:
        questions, end, begun = Questions(), Event(), Event()
        figures = asyncio.ensure_future(questions.ask(Here(), lambda: answered(questions, end, begun)))  # type: ignore[arg-type]
        await asyncio.to_thread(begun.wait, 30)
        started = time.monotonic()
        done = await questions.ask(Here(), lambda: evidence(10_000), "evidence")  # type: ignore[arg-type]
        end.set()
        await figures
        return done - started

    assert asyncio.run(crowded()) >= MOST_ASIDE * 0.9, "it stood aside, and then went on though the figures were not answered"


def test_figures_that_fail_or_are_dropped_hold_nobody_up() -> None:
    async def failing() -> float:
        questions = Questions(seconds=0.01)
        with pytest.raises(ZeroDivisionError):
            await questions.ask(Here(), lambda: 1 / 0)  # type: ignore[arg-type]
        dropped = asyncio.ensure_future(questions.ask(Here(), lambda: time.sleep(0) or 1))  # type: ignore[arg-type]
        await asyncio.sleep(0)
        dropped.cancel()
        started = time.monotonic()
        questions.seconds = 60.0
        while questions._figures._count:
            await asyncio.sleep(0)
        return await questions.ask(Here(), lambda: evidence(5), "evidence") - started  # type: ignore[arg-type]

    assert asyncio.run(failing()) < MOST_ASIDE


def test_files_stand_aside_at_their_steps_and_then_go_on() -> None:
    async def both() -> tuple[float, float]:
        questions, end, begun = Questions(), Event(), Event()
        jobs, done = Jobs(aside=partial(questions.standing_aside, 0.3)), Event()

        def work(progress: Progress) -> Posting:
            for step in range(100):
                progress("Loading", step, 100)
            done.set()
            return Posting(2, (1,), 5, "1.00")

        figures = asyncio.ensure_future(questions.ask(Here(), lambda: answered(questions, end, begun)))  # type: ignore[arg-type]
        await asyncio.to_thread(begun.wait, 30)
        started = time.monotonic()
        jobs.start(work)
        assert await asyncio.to_thread(done.wait, 30), "not for ever"
        crowded = time.monotonic() - started
        end.set()
        await figures
        done.clear()
        started = time.monotonic()
        jobs.start(work)
        assert await asyncio.to_thread(done.wait, 30)
        return crowded, time.monotonic() - started

    crowded, alone = asyncio.run(both())
    assert crowded >= 0.3 * 0.9 > alone
