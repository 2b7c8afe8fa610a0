"""The process that reads what people bring: started once, it makes a process for each file, with bounds of memory, time and disk.

A file that asks for more, or that ends its process, ends nothing else. The process is told what to read over a socket that comes
with the request; it says how far it is, and how it ended.
"""

from __future__ import annotations

import contextlib
import errno
import json
import os
import resource
import select
import signal
import socket
import sys
import traceback
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from lofty_abacus.ingest.mapping import Reading
from lofty_abacus.ingest.plain_table import write_table
from lofty_abacus.ingest.problems import UnreadableFileError
from lofty_abacus.ingest.reading import read_file

MEGABYTE = 1 << 20
#: Exit codes by which a reading process says what it ran out of.
NO_MEMORY, NO_DISK, DISK_FULL = 71, 72, 73
_OUT_OF: dict[int, str] = {NO_MEMORY: "memory", NO_DISK: "disk", DISK_FULL: "full"}
_BY_SIGNAL = {
    signal.SIGXCPU: "time",
    signal.SIGALRM: "time",
    signal.SIGKILL: "memory",
    signal.SIGABRT: "memory",
    signal.SIGSEGV: "memory",
}


@dataclass(frozen=True)
class Bounds:
    """What reading a file may take: bytes of memory and of disk, seconds of work."""

    memory: int
    disk: int
    seconds: int

    @staticmethod
    def of(size: int) -> Bounds:
        """The bounds for a file of so many bytes: a part for every file, and more for a larger one."""
        return Bounds(2048 * MEGABYTE, 256 * MEGABYTE + 100 * size, 12 + size // MEGABYTE)


def serve(control: socket.socket) -> None:
    """Take requests until the other end goes away: each is a socket over which one file is asked for."""
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)
    # Ctrl-C in the terminal is for the application, which then closes the other end.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    while True:
        _, received, _, _ = socket.recv_fds(control, 1, 1)
        if not received:
            return
        if os.fork() == 0:
            control.close()
            signal.signal(signal.SIGCHLD, signal.SIG_DFL)
            with socket.socket(fileno=received[0]) as channel:
                _attend(channel)
            os._exit(0)
        os.close(received[0])


def _attend(channel: socket.socket) -> None:
    """See one file read: ended if its asker goes away, told how it ended."""
    asked = json.loads(channel.makefile("rb").readline())
    worker = os.fork()
    if worker == 0:
        os._exit(_read(channel, asked))
    watched = os.pidfd_open(worker)
    if watched not in select.select([channel.fileno(), watched], [], [])[0]:
        # Whatever comes over the channel now is its end.
        os.kill(worker, signal.SIGKILL)
    _, status = os.waitpid(worker, 0)
    if os.WIFSIGNALED(status):
        out_of = _BY_SIGNAL.get(signal.Signals(os.WTERMSIG(status)), "memory")
        _say(channel, {"ended": out_of})
    else:
        _say(channel, {"ended": _OUT_OF.get(os.WEXITSTATUS(status), "")})


def _read(channel: socket.socket, asked: dict[str, Any]) -> int:
    """Read a file within its bounds, in a process of its own; how it ended."""
    bounds = Bounds(**asked["bounds"])
    used = int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (used + bounds.memory, used + bounds.memory))
    resource.setrlimit(resource.RLIMIT_FSIZE, (bounds.disk, bounds.disk))
    resource.setrlimit(resource.RLIMIT_CPU, (bounds.seconds, bounds.seconds))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    # A process that waits takes no time of the processor's: it is ended by the clock.
    signal.alarm(bounds.seconds * 10)
    with contextlib.suppress(OSError):
        os.nice(5)
    try:
        file = read_file(Path(asked["path"]), asked["name"], Reading(**asked["reading"]))
        write_table(file, Path(asked["place"]), lambda rows: _say(channel, {"rows": rows}))
    except UnreadableFileError as error:
        _say(channel, {"unreadable": [error.file, error.why, error.way_out]})
    except MemoryError:
        return NO_MEMORY
    except OSError as error:
        if error.errno == errno.EFBIG or "File too large" in str(error):
            return NO_DISK
        if error.errno == errno.ENOSPC or "No space left" in str(error):
            return DISK_FULL
        _say(channel, {"crashed": traceback.format_exc()})
    except Exception:  # whatever a file's bytes lead to is told, with where it happened
        _say(channel, {"crashed": traceback.format_exc()})
    else:
        _say(channel, {"read": True})
    return 0


def _say(channel: socket.socket, what: dict[str, Any]) -> None:
    # Nobody may be there any more: then this process is about to be ended.
    with contextlib.suppress(OSError):
        channel.sendall(json.dumps(what).encode() + b"\n")


if __name__ == "__main__":
    serve(socket.socket(fileno=int(sys.argv[1])))
