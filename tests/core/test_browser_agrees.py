"""What the browser makes of circuits by itself is what the core makes of them: the code of the page, run here."""

import json
import random
import subprocess
from collections.abc import Sequence
from pathlib import Path
from typing import Any, get_args

import pytest

from wiretrace.document.changes import CHANGES, applied, changes
from wiretrace.document.checked import check_circuit, circuit_from_data
from wiretrace.document.circuit import Circuit
from wiretrace.document.nets import nets
from wiretrace.layout.tidy import tidy
from wiretrace.library import library_circuit, library_names
from wiretrace.patterns.choices import Choices
from wiretrace.patterns.make import make
from wiretrace.transport.catalogue_data import catalogue_data

WEB = Path(__file__).parents[2] / "web"
EDITS = 60


@pytest.fixture(scope="module")
def bridge(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The browser's own code, bundled to be run without one."""
    out = tmp_path_factory.mktemp("bridge")
    build = ["node_modules/.bin/vite", "build", "--ssr", "src/testing/bridge.ts", "--outDir", str(out)]
    subprocess.run([*build, "--logLevel", "error"], cwd=WEB, check=True, timeout=120)
    return next(out.glob("bridge.*js"))


def asked(
    bridge: Path, circuits: Sequence[Circuit], edits: int = 0, seed: int = 1, *, drawn: bool = False
) -> list[dict[str, Any]]:
    given = {
        "kinds": catalogue_data().model_dump(mode="json")["kinds"],
        "circuits": [circuit.model_dump(mode="json") for circuit in circuits],
        "edits": edits,
        "seed": seed,
        "drawn": drawn,
    }
    done = subprocess.run(
        ["node", str(bridge)], input=json.dumps(given), capture_output=True, text=True, check=False, timeout=120
    )
    assert done.returncode == 0, done.stderr[-2000:]
    answer: list[dict[str, Any]] = json.loads(done.stdout)
    return answer


def mixed(circuit: Circuit, chance: random.Random) -> Circuit:
    """A circuit with wires moved, numbered and taken away at random."""
    ends = [end for wire in circuit.conductors for end in (wire.a, wire.b)]
    wires = []
    for wire in circuit.conductors:
        end = chance.choice(ends)
        if chance.random() < 0.2 and end != wire.a:
            wires.append(wire.model_copy(update={"b": end, "number": chance.choice([None, "1", "7", "L1"])}))
        elif chance.random() < 0.9:
            wires.append(wire)
    return circuit.model_copy(update={"conductors": tuple(wires)})


def core_sees(circuit: Circuit) -> dict[str, Any]:
    def shown(convention: str) -> list[str]:
        items = check_circuit(circuit.model_copy(update={"convention": convention}))
        return [item.designated(terminal.name) for item in items for terminal in item.structure.terminals]

    return {
        "nets": [
            {
                "number": net.number,
                "ends": [f"{end.device}:{end.terminal}" for end in net.ends],
                "conductors": list(net.conductors),
            }
            for net in nets(circuit)
        ],
        "devices": [
            {
                "id": item.id,
                "params": dict(item.params),
                "terminals": [terminal.name for terminal in item.structure.terminals],
                "parts": [part.name for part in item.structure.parts],
            }
            for item in check_circuit(circuit)
        ],
        "iec": shown("iec"),
        "nema": shown("nema"),
    }


def unordered(seen: dict[str, Any]) -> dict[str, Any]:
    """The order of terminals within a potential says nothing."""
    return {**seen, "nets": [{**net, "ends": sorted(net["ends"])} for net in seen["nets"]]}


def test_both_see_the_same_in_every_circuit(bridge: Path) -> None:
    chance = random.Random(5)
    library = [library_circuit(name) for name in library_names()]
    circuits = [*library, *(mixed(circuit, chance) for circuit in library for _ in range(4))]
    answers = asked(bridge, circuits)
    for circuit, answer in zip(circuits, answers, strict=True):
        answer.pop("after")
        assert unordered(answer) == unordered(core_sees(circuit)), circuit.title


def test_every_edit_leaves_a_circuit_that_the_core_takes_and_can_make_itself_from_its_changes(bridge: Path) -> None:
    library = [library_circuit(name) for name in library_names()]
    made = 0
    for before, answer in zip(library, asked(bridge, library, EDITS, seed=11), strict=True):
        now = before
        for data in answer["after"]:
            after = circuit_from_data(data)
            what = CHANGES.validate_json(CHANGES.dump_json(changes(now, after)))
            assert applied(now, what) == after
            now, made = after, made + 1
        assert applied(before, changes(before, now)) == now
    assert made > 10 * len(library)


def drawn(bridge: Path, circuits: Sequence[Circuit]) -> list[tuple[str, dict[str, Any]]]:
    """Every sheet of the circuits in both conventions, with the title of its circuit."""
    answers = asked(bridge, circuits, drawn=True)
    return [
        (f"{circuit.title}, {convention}", sheet)
        for circuit, answer in zip(circuits, answers, strict=True)
        for convention in ("iec", "nema")
        for sheet in answer["drawn"][convention]
    ]


def patterns() -> list[Circuit]:
    """One circuit of each pattern by its usual choices, and one with everything."""
    every = {"stations": 2, "emergency_stop": True, "phase_monitor": True, "control": "control transformer"}
    return [
        make("Pattern", Choices.model_validate({"pattern": pattern, **more}))
        for pattern in get_args(Choices.model_fields["pattern"].annotation)
        for more in ({}, every)
    ]


def test_no_words_on_a_sheet_cover_a_line_or_other_words(bridge: Path) -> None:
    """Every circuit that ships as it ships and laid out anew, and every pattern, in both conventions."""
    shipped = [library_circuit(name) for name in library_names()]
    anew = [tidy(tidy(circuit, "iec"), "nema") for circuit in (*shipped, *patterns())]
    for title, sheet in drawn(bridge, [*shipped, *anew]):
        assert sheet["covered"] == [], f"{title}: {sheet['sheet']}"
        # A name is read as that of what it stands nearest to.
        assert sheet["strayed"] == [], f"{title}: {sheet['strayed']}"
        # What a device does may give way where there is no room; hardly ever.
        assert len(sheet["silent"]) <= 2, f"{title}: {sheet['silent']}"


def test_sheets_cross_themselves_hardly_ever(bridge: Path) -> None:
    """No wire askew. Of the control sheets that ship four in five do not cross themselves at all."""
    control = []
    for title, sheet in drawn(bridge, [library_circuit(name) for name in library_names()]):
        assert sheet["askew"] == 0, title
        if sheet["sheet"].startswith("control"):
            control.append(sheet["crossings"])
        assert sheet["crossings"] <= (7 if sheet["sheet"].startswith("control") else 30), title
    assert control.count(0) >= 0.75 * len(control)
    assert sum(control) <= 45


def test_the_layout_crosses_wires_hardly_more_often_than_a_person_who_arranged_them(bridge: Path) -> None:
    anew = [tidy(tidy(library_circuit(name), "iec"), "nema") for name in library_names()]
    control = [s["crossings"] for _, s in drawn(bridge, anew) if s["sheet"].startswith("control")]
    # The most of them where two channels of a safety relay pass the same two devices, and a loop besides.
    assert max(control) <= 9
    assert sum(control) <= 62
