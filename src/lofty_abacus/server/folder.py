"""The folder that holds the database: writable, and with room."""

from __future__ import annotations

import os
import shutil
from pathlib import Path

from lofty_abacus.server.errors import FolderError

LEAST_FREE = 300 * 1024 * 1024


def prepare_folder(folder: Path) -> None:
    """Make the folder (mode 0700) and see that it can be written and has room. Raises FolderError."""
    try:
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        probe = folder / f".probe-{os.getpid()}"
        probe.write_bytes(b"x" * 4096)
        probe.unlink()
        free = shutil.disk_usage(folder).free
    except OSError as error:
        raise FolderError(
            f"The folder {folder} cannot be written ({error.strerror}): make it writable, or name another in LOFTY_HOME."
        ) from error
    if free < LEAST_FREE:
        raise FolderError(
            f"The disk of {folder} has {free // 2**20} MB left and MariaDB needs {LEAST_FREE // 2**20} MB: free some space."
        )
