"""What is said where something is missing on the machine."""

from __future__ import annotations

import importlib.util
import subprocess
from pathlib import Path
from types import ModuleType

import pytest

ROOT = Path(__file__).resolve().parents[2]


@pytest.fixture
def prepare() -> ModuleType:
    spec = importlib.util.spec_from_file_location("prepare", ROOT / "install" / "prepare.py")
    assert spec is not None and spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


def test_an_ordinary_user_is_told_exactly_what_to_install(prepare: ModuleType, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(prepare, "found", lambda program: False)
    monkeypatch.setattr(prepare.os, "geteuid", lambda: 1000)
    with pytest.raises(prepare.Stop, match="run 'apt-get install chromium chromium-driver mariadb-server' as root"):
        prepare.debian(prepare.SERVER | prepare.BROWSER)


def test_root_installs_what_is_missing_and_nothing_else(prepare: ModuleType, monkeypatch: pytest.MonkeyPatch) -> None:
    ran: list[list[str]] = []
    monkeypatch.setattr(prepare, "found", lambda program: program not in ("mariadbd",))
    monkeypatch.setattr(prepare.os, "geteuid", lambda: 0)
    monkeypatch.setattr(prepare, "run", lambda command, doing, folder=None: ran.append(command))
    prepare.debian(prepare.SERVER)
    assert ran[-1][-4:] == ["install", "-y", "--no-install-recommends", "mariadb-server"]
    ran.clear()
    monkeypatch.setattr(prepare, "found", lambda program: True)
    prepare.debian(prepare.SERVER)
    assert ran == []


def test_a_library_is_found_by_loading_it(prepare: ModuleType) -> None:
    assert prepare.found("libc.so.6") and not prepare.found("libnowhere-9.so.9")


def test_a_full_disk_is_one_sentence(prepare: ModuleType, monkeypatch: pytest.MonkeyPatch) -> None:
    def full(*words: object, **more: object) -> subprocess.CompletedProcess[str]:
        return subprocess.CompletedProcess([], 1, "", "write: No space left on device")

    monkeypatch.setattr(prepare.subprocess, "run", full)
    with pytest.raises(prepare.Stop, match="the disk is full"):
        prepare.run(["pip"], "installing Python packages")


def test_every_command_of_the_application_says_what_it_needs(prepare: ModuleType) -> None:
    from lofty_abacus.__main__ import COMMANDS

    assert set(COMMANDS) <= set(prepare.NEEDS)
    packages, web = prepare.NEEDS["bench"]
    assert web and packages.keys() >= prepare.BROWSER.keys(), "the bench measures the page in a browser"


def test_a_folder_that_cannot_be_written_is_one_sentence(
    prepare: ModuleType, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    (tmp_path / "venv").write_text("in the way")
    monkeypatch.setattr(prepare, "VENV", tmp_path / "venv" / "below")
    monkeypatch.setattr(prepare, "run", lambda *_, **__: None)
    with pytest.raises(prepare.Stop, match="make the project's folder writable"):
        prepare.python_packages()
