"""What is different between two circuits, in words and as changes that can be made again."""

import random
from pathlib import Path

import pytest
from click.testing import CliRunner

from tests.core.circuits import circuit, device, wire
from wiretrace.cli.main import main
from wiretrace.document.changes import CHANGES, Difference, Put, Taken, applied, changes, difference
from wiretrace.document.checked import parse_circuit
from wiretrace.document.circuit import Circuit, Device, Placement, SetAside, Sheet
from wiretrace.errors import InvalidCircuit

NOTHING = Difference((), (), (), ())


def row(*more: Device) -> Circuit:
    devices = [device("g1", "supply_single_phase"), device("s1", "push_button"), device("h1", "lamp"), *more]
    wires = [wire("w1", "g1:L", "s1:13"), wire("w2", "s1:14", "h1:X1"), wire("w3", "h1:X2", "g1:N")]
    return circuit(devices, wires)


def test_nothing_is_different_when_a_part_only_moved() -> None:
    sheets = [
        Sheet(id="one", title="One", kind="control", symbols=(Placement(device="h1", part="lamp", x=x, y=4),))
        for x in (4, 9)
    ]
    before, after = (row().model_copy(update={"sheets": (sheet,)}) for sheet in sheets)
    assert difference(before, after) == NOTHING
    assert len(changes(before, after)) == 1


def test_devices_and_wires_that_came_and_went_are_told() -> None:
    more = row(device("h2", "lamp"))
    more = more.model_copy(update={"conductors": (*more.conductors, wire("w4", "h2:X1", "s1:14"))})
    told = ("H2", "wire H2:X1 to S1:14")
    assert difference(row(), more) == Difference(told, (), (), ())
    assert difference(more, row()) == Difference((), told, (), ())


def test_a_wire_that_goes_elsewhere_is_told() -> None:
    wires = (row().conductors[0], wire("w2", "s1:14", "g1:N"), row().conductors[2])
    after = row().model_copy(update={"conductors": wires})
    assert difference(row(), after).rewired == ("S1:14 to H1:X1, now S1:14 to G1:N",)


def test_names_functions_places_and_values_that_changed_are_told() -> None:
    lamp = Device(
        id="h1", kind="lamp", label="H1", function="Running", params={"rated_voltage_v": 24.0, "light": "LED"}
    )
    button = Device(id="s1", kind="push_button", label="S7", mounting="field")
    after = row().model_copy(update={"devices": (row().devices[0], button, lamp)})
    assert difference(row(), after).changed == (
        "S1 is called S7",
        "S7 sits outside the panel",
        "H1: Running",
        "H1: Rated voltage as delivered, now 24 V",
        "H1: Light as delivered, now LED",
    )


@pytest.mark.parametrize("seed", range(30))
def test_changes_lead_from_any_circuit_to_any_other(seed: int) -> None:
    """Devices, wires, notes and sheets in any order, added, taken away, replaced and shuffled."""
    chance = random.Random(seed)

    def some() -> Circuit:
        ids = chance.sample(range(9), chance.randint(0, 8))
        devices = [Device(id=f"h{n}", kind="lamp", label=f"H{n}", function=chance.choice("ab")) for n in ids]
        notes = [SetAside(rule="dial", key=str(n), note=chance.choice("ab")) for n in chance.sample(range(5), 3)]
        sheets = [Sheet(id=f"s{n}", title=chance.choice("ab"), kind="power") for n in chance.sample(range(4), 2)]
        return Circuit(
            title=chance.choice("ab"),
            convention=chance.choice(["iec", "nema"]),
            devices=tuple(devices),
            sheets=tuple(sheets),
            set_aside=tuple(notes),
        )

    before, after = some(), some()
    what = CHANGES.validate_json(CHANGES.dump_json(changes(before, after)))
    assert applied(before, what) == after
    assert changes(after, after) == ()


def test_changes_that_speak_of_what_is_not_there_are_refused() -> None:
    for what in (Taken(place="devices", id="k9"), Put(item=Device(id="k9", kind="lamp", label="K9"), after="k8")):
        with pytest.raises(InvalidCircuit, match="has no k"):
            applied(row(), [what])


def test_the_command_line_compares_and_makes_changes_again(tmp_path: Path) -> None:
    other = row(device("h2", "lamp")).model_copy(update={"title": "With a second lamp"})
    before, after, what = (tmp_path / name for name in ("before.json", "after.json", "what.json"))
    before.write_text(row().model_dump_json(), "utf-8")
    after.write_text(other.model_dump_json(), "utf-8")
    assert CliRunner().invoke(main, ["compare", str(before), str(after)]).output == "added: H2\n"
    assert CliRunner().invoke(main, ["compare", str(before), str(before)]).output == "No difference.\n"
    what.write_text(CliRunner().invoke(main, ["compare", "--json", str(before), str(after)]).output, "utf-8")
    done = CliRunner().invoke(main, ["apply", str(before), str(what)])
    assert parse_circuit(done.output) == other
    what.write_text('[{"what": "lost"}]', "utf-8")
    refused = CliRunner().invoke(main, ["apply", str(before), str(what)])
    assert refused.exit_code == 2
    assert "These are no changes" in refused.output
