"""The house's rules, held by the tools that check them, and a few that only we can check."""

from __future__ import annotations

import json
import re
import subprocess
import sys
from pathlib import Path

import pytest

from lofty_abacus.core.answer.kinds import KINDS
from lofty_abacus.core.comparing.comparisons import COMPARISONS, SHARES
from lofty_abacus.core.measures.table import MEASURES
from lofty_abacus.core.statement.checking import AGAINST_A_BASE
from lofty_abacus.core.windows.reasons import Reason

ROOT = Path(__file__).resolve().parents[2]
WEB = ROOT / "web"
BIN = Path(sys.executable).parent


def run(*command: str, folder: Path = ROOT) -> None:
    done = subprocess.run(command, cwd=folder, capture_output=True, text=True, check=False)
    assert done.returncode == 0, f"{' '.join(command)}\n{done.stdout[-6000:]}\n{done.stderr[-3000:]}"


def test_imports_go_in_the_allowed_directions() -> None:
    run(str(BIN / "lint-imports"), "--no-cache")


def test_ruff_finds_nothing() -> None:
    run(str(BIN / "ruff"), "check", ".")
    run(str(BIN / "ruff"), "format", "--check", ".")


def test_types_are_strict() -> None:
    run(str(BIN / "mypy"))


@pytest.mark.parametrize("script", ["types", "lint", "format", "test"])
def test_the_front_end_is_clean(script: str) -> None:
    run("npm", "run", "--silent", script, folder=WEB)


def test_the_front_ends_types_are_those_of_the_api(tmp_path: Path) -> None:
    schema = tmp_path / "openapi.json"
    done = subprocess.run([sys.executable, "-m", "lofty_abacus", "openapi"], capture_output=True, text=True, check=True, cwd=ROOT)
    schema.write_text(done.stdout)
    fresh = tmp_path / "api.ts"
    run("npx", "--no-install", "openapi-typescript", str(schema), "-o", str(fresh), folder=WEB)
    assert fresh.read_text() == (WEB / "src" / "contract" / "api.ts").read_text(), "run: npm run contract (docs/working.md)"


def test_the_front_ends_words_are_those_of_the_server() -> None:
    command = [sys.executable, "-m", "lofty_abacus", "openapi", "--words"]
    done = subprocess.run(command, capture_output=True, text=True, check=True, cwd=ROOT)
    kept = json.loads((WEB / "src" / "contract" / "vocabulary.json").read_text())
    assert json.loads(done.stdout) == kept, "run: ./lofty openapi --words > web/src/contract/vocabulary.json"


def test_the_catalogue_has_every_message() -> None:
    command = [sys.executable, "-m", "lofty_abacus", "openapi", "--messages"]
    done = subprocess.run(command, capture_output=True, text=True, check=True, cwd=ROOT)
    kept = ROOT / "src" / "lofty_abacus" / "telling" / "languages" / "lofty.pot"
    assert done.stdout == kept.read_text(), f"run: ./lofty openapi --messages > {kept.relative_to(ROOT)}"


def test_the_documented_schema_of_a_statement_is_that_of_the_api() -> None:
    command = [sys.executable, "-m", "lofty_abacus", "openapi", "--statement"]
    done = subprocess.run(command, capture_output=True, text=True, check=True, cwd=ROOT)
    kept = ROOT / "docs" / "statement.schema.json"
    assert done.stdout == kept.read_text(), "run: ./lofty openapi --statement > docs/statement.schema.json"
    # It says what the API takes: the question that docs/formats.md shows, and no field that is not there.
    shown = (ROOT / "docs" / "formats.md").read_text().partition("    {\n")[2].partition("\n    }\n")[0]
    parts = set(json.loads("{" + shown + "}")["statement"])
    schema = json.loads(done.stdout)
    assert parts <= set(schema["properties"]) and schema["additionalProperties"] is False


def test_what_needs_a_base_is_said_alike_where_it_is_checked_and_where_it_is_formed() -> None:
    formed = {kind for kind, each in KINDS.items() if "base" in each.parts and kind != "goal"}
    assert formed == set(AGAINST_A_BASE)


def tracked() -> list[Path]:
    listed = subprocess.run(
        ["git", "ls-files", "-co", "--exclude-standard"], cwd=ROOT, capture_output=True, text=True, check=True
    )
    return [ROOT / line for line in listed.stdout.splitlines() if (ROOT / line).is_file()]


def test_files_stay_small() -> None:
    code = [path for path in tracked() if path.suffix in (".py", ".ts", ".vue") and path.name != "api.ts"]
    long = {str(path.relative_to(ROOT)): lines for path in code if (lines := len(path.read_text().splitlines())) > 500}
    assert not long


def test_components_stay_smaller() -> None:
    components = [path for path in tracked() if path.suffix == ".vue"]
    long = {str(path.relative_to(ROOT)): lines for path in components if (lines := len(path.read_text().splitlines())) > 200}
    assert components and not long


def test_the_page_finds_nothing_by_the_names_that_are_there_for_tests() -> None:
    sources = [path for path in tracked() if path.is_relative_to(WEB / "src") and path.suffix in (".ts", ".vue")]
    looked_up = re.compile(r"dataset\.test|\[data-test|getAttribute\(.data-test")
    assert sources and not [str(path.relative_to(ROOT)) for path in sources if looked_up.search(path.read_text())]


def test_no_module_of_the_page_hands_out_what_can_be_changed() -> None:
    sources = [path for path in tracked() if path.is_relative_to(WEB / "src") and path.suffix in (".ts", ".vue")]
    assert not [str(path.relative_to(ROOT)) for path in sources if re.search(r"^export let ", path.read_text(), re.M)]


def test_the_clock_is_looked_at_where_the_parts_are_joined_only() -> None:
    sources = [path for path in tracked() if path.suffix == ".py" and path.is_relative_to(ROOT / "src")]
    looked_at = re.compile(r"datetime\.now\(|date\.today\(|utcnow\(")
    assert [path.name for path in sources if looked_at.search(path.read_text())] == ["wiring.py"]


def test_nothing_is_called_utils_or_the_like() -> None:
    banned = {"utils", "util", "helpers", "helper", "common", "base", "manager"}
    assert not [path for path in tracked() if path.stem.lower() in banned]


def test_no_registry_and_no_path_of_a_machine_is_named() -> None:
    hosts = ["registry.npm" + "js.org", "files.python" + "hosted.org", "py" + "pi.org", "deb.debian" + ".org"]
    places = ["/work" + "/", "/root" + "/"]
    for path in tracked():
        if path.suffix in (".png",):
            continue
        text = path.read_text(errors="replace")
        found = [word for word in (*hosts, *places) if word in text]
        assert not found, f"{path.relative_to(ROOT)} names {found}"


def test_the_lock_file_pins_every_package_by_hash() -> None:
    text = (ROOT / "requirements.lock").read_text()
    pins = re.findall(r"^([a-z0-9._-]+)==", text, re.MULTILINE)
    assert len(pins) > 30
    for block in re.split(r"^(?=[a-z0-9._-]+==)", text, flags=re.MULTILINE)[1:]:
        assert "--hash=sha256:" in block


def words() -> str:
    return (WEB / "src" / "contract" / "vocabulary.json").read_text()


@pytest.mark.parametrize("name", [*MEASURES, *COMPARISONS, *SHARES, *Reason.__args__])  # type: ignore[attr-defined]
def test_everything_a_page_can_show_has_words(name: str) -> None:
    assert re.search(rf"^\s+\"{name}\": \"", words(), re.MULTILINE), f"{name} has no words"


#: Where controls of our own stand: what is the heart and has no counterpart in the component set.
RAW = re.compile(r"<(select|input|button|table|textarea|details|dialog)\b")
HEART = ("panels/frame/", "panels/table/", "panels/intake/PostedRods.vue", "parts/Part.vue", "panels/print/PrintTable.vue")


def test_controls_are_those_of_the_component_set() -> None:
    found = {
        str(path.relative_to(WEB / "src")): [each[1] for each in RAW.finditer(path.read_text())]
        for path in (WEB / "src").rglob("*.vue")
    }
    assert not {name: raw for name, raw in found.items() if raw and not name.startswith(HEART)}


def test_the_two_commands_stand_in_the_readme() -> None:
    readme = (ROOT / "README.md").read_text()
    assert "./lofty start" in readme and "./lofty test" in readme
    for shot in re.findall(r"\((docs/screenshots/[^)]+)\)", readme):
        assert (ROOT / shot).is_file()


def test_front_end_packages_come_from_the_lock_file_alone() -> None:
    lock = json.loads((WEB / "package-lock.json").read_text())
    assert not [name for name, each in lock["packages"].items() if "resolved" in each]
