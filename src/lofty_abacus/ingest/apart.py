"""Read files apart: in processes of their own, so that no file takes the service from anybody (`reader.py`)."""

from __future__ import annotations

import atexit
import hashlib
import json
import logging
import os
import secrets
import socket
import subprocess
import sys
from collections.abc import Callable
from dataclasses import asdict
from pathlib import Path
from threading import Lock
from typing import Any

from lofty_abacus.ingest.mapping import Reading
from lofty_abacus.ingest.plain_table import read_table
from lofty_abacus.ingest.problems import UnreadableFileError
from lofty_abacus.ingest.reader import MEGABYTE, Bounds
from lofty_abacus.ingest.table import FileTable

_log = logging.getLogger(__name__)
_WAYS_OUT = {
    "memory": "Save the lines alone, as CSV.",
    "time": "Cut it into smaller files, or save the lines alone, as CSV.",
    "disk": "Cut it into smaller files.",
    "full": "Free some space, then drop the file again.",
}


def read_apart(
    path: Path, name: str, reading: Reading | None = None, progress: Callable[[int], None] = lambda _: None
) -> FileTable:
    """A file's table. What was read once is kept beside the file and not read again.

    progress: told the rows read so far; it may raise to stop. Raises UnreadableFileError, also for a file that asks for more
    memory, time or disk than it may have.
    """
    reading = reading or Reading()
    how = hashlib.sha256(json.dumps(asdict(reading)).encode()).hexdigest()[:12]
    place = path.with_name(f"{path.name}.{how}.table")
    found = read_table(place, name)
    if found is None:
        bounds = Bounds.of(path.stat().st_size)
        asked = {"path": str(path), "place": str(place), "name": name, "reading": asdict(reading), "bounds": asdict(bounds)}
        _reader.ask(asked, name, bounds, progress)
        found = read_table(place, name)
    assert found is not None, "the reader said so"
    return found


def start_reading() -> None:
    """Start the reading process ahead of the first file: whoever knows that one will come need not wait for it then."""
    _reader.start()


class _Reader:
    """The reading process, started when it is first needed and again if it should end."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._process: subprocess.Popen[bytes] | None = None
        self._control: socket.socket | None = None

    def ask(self, asked: dict[str, Any], name: str, bounds: Bounds, progress: Callable[[int], None]) -> None:
        """Have a file read."""
        mine, theirs = socket.socketpair()
        with mine, mine.makefile("rb") as said:
            with theirs:
                self._send(theirs)
            mine.sendall(json.dumps(asked).encode() + b"\n")
            unreadable: UnreadableFileError | None = None
            for line in said:
                what = json.loads(line)
                if "rows" in what:
                    progress(what["rows"])
                elif "unreadable" in what:
                    unreadable = UnreadableFileError(*what["unreadable"])
                elif "crashed" in what:
                    number = secrets.token_hex(4)
                    _log.error("reading a file failed (number %s)\n%s", number, what["crashed"])
                    unreadable = UnreadableFileError(
                        name, f"it cannot be read; why is in the log under {number}.", "Save it as CSV (UTF-8)."
                    )
                elif "ended" in what:
                    if what["ended"]:
                        raise _asks_too_much(name, what["ended"], bounds)
                    if unreadable is not None:
                        raise unreadable
                    return
        raise UnreadableFileError(name, "the process that reads files ended.", "Drop the file again.")

    def start(self) -> None:
        """Start the process, if it is not running."""
        with self._lock:
            self._started()

    def _send(self, channel: socket.socket) -> None:
        with self._lock:
            for _ in range(2):
                try:
                    socket.send_fds(self._started(), [b"."], [channel.fileno()])
                except OSError:
                    self.end()
                else:
                    return
        raise OSError("the process that reads files does not start")

    def _started(self) -> socket.socket:
        if self._process is None or self._process.poll() is not None or self._control is None:
            mine, theirs = socket.socketpair()
            with theirs:
                # Paths of Python as they are here, and no thread pools: a process that forks must have one thread.
                environment = os.environ | {
                    "PYTHONPATH": os.pathsep.join(each for each in sys.path if each),
                    "OMP_NUM_THREADS": "1",
                    "OPENBLAS_NUM_THREADS": "1",
                    "ARROW_DEFAULT_MEMORY_POOL": "system",
                }
                command = [sys.executable, "-m", "lofty_abacus.ingest.reader", str(theirs.fileno())]
                self._process = subprocess.Popen(
                    command, pass_fds=[theirs.fileno()], env=environment, stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL
                )
            self._control = mine
        return self._control

    def end(self) -> None:
        """End the process."""
        if self._control is not None:
            self._control.close()
        if self._process is not None:
            self._process.kill()
            self._process.wait()
        self._control = self._process = None


def _asks_too_much(name: str, out_of: str, bounds: Bounds) -> UnreadableFileError:
    if out_of == "full":
        return UnreadableFileError(name, "the disk is full: it cannot be unpacked beside what is there.", _WAYS_OUT["full"])
    bound = {
        "memory": f"{bounds.memory // MEGABYTE:,} MB of memory",
        "time": f"{bounds.seconds} seconds of work",
        "disk": f"{bounds.disk // MEGABYTE:,} MB of disk",
    }[out_of]
    return UnreadableFileError(name, f"this file asks for more than {bound} to be read.", _WAYS_OUT[out_of])


_reader = _Reader()
atexit.register(_reader.end)
