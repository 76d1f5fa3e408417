"""Every example that a command shows in its help works, in an order in which one leads to another."""

import json
import shlex
from pathlib import Path

import pytest
from click.testing import CliRunner

from wiretrace.cli.examples import EXAMPLES
from wiretrace.cli.main import main
from wiretrace.library import library_circuit

OBSERVATIONS = "dead: K1:A1,K1:A2 = OL\n"
PLATE = {"fields": {"power": "7.5 kW", "voltage": "400", "current": "15"}}


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """What a person has beside him when he types them."""
    made = tmp_path_factory.mktemp("shell")
    drawn = library_circuit("start-stop-overload-line")
    wires = [wire.model_copy(update={"number": "77"}) if n == 3 else wire for n, wire in enumerate(drawn.conductors)]
    files = {
        "my-circuit.json": drawn.model_dump_json(),
        "as-drawn.json": drawn.model_dump_json(),
        "as-wired.json": drawn.model_copy(update={"conductors": tuple(wires)}).model_dump_json(),
        "observations.txt": OBSERVATIONS,
        "nameplate.json": json.dumps(PLATE),
    }
    for name, text in files.items():
        (made / name).write_text(text, encoding="utf-8")
    return made


def typed(line: str, folder: Path, monkeypatch: pytest.MonkeyPatch) -> str:
    monkeypatch.chdir(folder)
    words, _, into = line.partition(" > ")
    done = CliRunner().invoke(main, shlex.split(words))
    assert done.exit_code == 0, done.output
    if into:
        (folder / into).write_text(done.stdout, encoding="utf-8")
    return done.stdout


IN_ORDER = sorted(EXAMPLES, key=["export", "compare"].__contains__, reverse=True)


@pytest.mark.parametrize("line", [line for name in IN_ORDER for line in EXAMPLES[name]])
def test_an_example_of_the_help_works(line: str, folder: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    for made, before in (("wires.csv", "export"), ("repair.json", "compare")):
        if made in line.partition(" > ")[0] and not (folder / made).exists():
            for other in EXAMPLES[before]:
                typed(other, folder, monkeypatch)
    assert typed(line, folder, monkeypatch)


def test_a_repair_that_is_kept_makes_the_one_of_the_other(folder: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    for line in (*EXAMPLES["compare"], *EXAMPLES["apply"]):
        typed(line, folder, monkeypatch)
    again = json.loads((folder / "as-wired-again.json").read_text("utf-8"))
    assert again == json.loads((folder / "as-wired.json").read_text("utf-8"))


@pytest.mark.parametrize("name", EXAMPLES)
def test_the_help_of_a_command_ends_in_its_examples(name: str) -> None:
    told = CliRunner().invoke(main, [name, "--help"], terminal_width=200).output
    assert [line.strip() for line in told.splitlines()[-len(EXAMPLES[name]) :]] == [
        f"wiretrace {line}" for line in EXAMPLES[name]
    ]
