"""Processes that open a ledger in a folder, let small segments be put together, and kill themselves at a step of writing files."""

from __future__ import annotations

import os
import signal
import sys
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from lofty_abacus.store import columns_cache, segment_files
from lofty_abacus.store.books import MariaDbBooks
from lofty_abacus.wiring import now
from tests.forking import make


def main(url: str, folder: str, ledger: str, step: str) -> None:
    steps = 0

    def counted(work: Callable[..., Any]) -> Callable[..., Any]:
        def dying(*args: Any, **named: Any) -> Any:
            nonlocal steps
            steps += 1
            if steps == int(step):
                os.kill(os.getpid(), signal.SIGKILL)
            return work(*args, **named)

        return dying

    making: Any = segment_files.MakingFolder
    making.write, making.finish = counted(making.write), counted(making.finish)
    Path.rename = counted(Path.rename)  # type: ignore[method-assign]
    columns_cache.throw_away = counted(columns_cache.throw_away)
    books = MariaDbBooks(url, Path(folder), now)
    for _ in range(2):
        books.opened(ledger)
        books._cache._merging.submit(lambda: None).result()
        books._cache._open.clear()


if __name__ == "__main__":
    make(partial(main, *sys.argv[1:]))
