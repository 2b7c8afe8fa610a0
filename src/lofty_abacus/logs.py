"""The log: short in the terminal, whole in files that take turns, an object of JSON in each line."""

from __future__ import annotations

import logging
import sys
from logging.handlers import RotatingFileHandler
from pathlib import Path

import structlog
from structlog.typing import EventDict, Processor, WrappedLogger

from lofty_abacus.api.journal import about

FILE_BYTES, FILES_KEPT = 5 << 20, 5
#: Whose records are kept: ours, and warnings of everybody.
OURS = "lofty_abacus"


def log_to_terminal() -> None:
    """Say warnings and errors in a line each on standard error."""
    root = logging.getLogger()
    if not any(isinstance(each, logging.StreamHandler) and each.stream is sys.stderr for each in root.handlers):
        handler = logging.StreamHandler(sys.stderr)
        handler.setLevel(logging.WARNING)
        handler.setFormatter(structlog.stdlib.ProcessorFormatter(processors=[_short], foreign_pre_chain=_known()))
        root.addHandler(handler)
    logging.getLogger(OURS).setLevel(logging.INFO)


def log_to_files(folder: Path) -> None:
    """Write everything into files of a folder, with its traces and what is known of its request."""
    root, path = logging.getLogger(), folder / "lofty.log"
    if any(isinstance(each, RotatingFileHandler) and Path(each.baseFilename) == path for each in root.handlers):
        return
    handler = RotatingFileHandler(path, maxBytes=FILE_BYTES, backupCount=FILES_KEPT, encoding="utf-8")
    whole: list[Processor] = [
        structlog.stdlib.ProcessorFormatter.remove_processors_meta,
        structlog.processors.format_exc_info,
        structlog.processors.JSONRenderer(ensure_ascii=False, default=str),
    ]
    handler.setFormatter(structlog.stdlib.ProcessorFormatter(processors=whole, foreign_pre_chain=_known()))
    root.addHandler(handler)
    logging.getLogger(OURS).setLevel(logging.INFO)


def _known() -> list[Processor]:
    """What stands in each record: its time, level and place, what it was given, what is known of the request."""
    return [
        structlog.stdlib.add_log_level,
        structlog.stdlib.add_logger_name,
        structlog.processors.TimeStamper(fmt="iso", utc=True),
        structlog.stdlib.ExtraAdder(),
        _of_request,
    ]


def _of_request(_: WrappedLogger, __: str, event: EventDict) -> EventDict:
    return {**about(), **event}


def _short(_: WrappedLogger, __: str, event: EventDict) -> str:
    """A line for a terminal: what happened, and under which number the files tell more."""
    error = event.get("exc_info")
    kind = f" ({error[0].__name__})" if isinstance(error, tuple) and error[0] else ""
    number = f" [request {event['request']}]" if "request" in event else ""
    return f"{str(event['level']).upper()} {event['event']}{kind}{number}"
