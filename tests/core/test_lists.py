"""CSV lists of a circuit, and a circuit from a list of wires."""

import csv
import io
import json

import pytest
from click.testing import CliRunner

from tests.core.circuits import circuit, device, wire, with_params
from wiretrace.cli.main import main
from wiretrace.document.circuit import Circuit
from wiretrace.errors import MalformedDocument
from wiretrace.interchange.lists import circuit_from_wire_list, parts_list, terminal_plan, wire_list
from wiretrace.library import library_circuit, library_names

HEADS = "from device,from terminal,to device,to terminal,number,colour,size mm2,length m\r\n"


def wires(of: Circuit) -> list[tuple[object, ...]]:
    labels = {item.id: item.label for item in of.devices}
    return [
        (labels[w.a.device], w.a.terminal, labels[w.b.device], w.b.terminal, w.colour, w.cross_section_mm2, w.length_m)
        for w in of.conductors
    ]


@pytest.mark.parametrize("name", library_names())
def test_a_list_of_wires_goes_out_and_comes_back_whole(name: str) -> None:
    base = library_circuit(name)
    text = wire_list(base)
    read = circuit_from_wire_list(text, base.title, base.devices)
    assert read.problems == ()
    assert wires(read.circuit) == wires(base)
    assert wire_list(read.circuit) == text
    wired = {end.device for w in base.conductors for end in (w.a, w.b)}
    assert {d.label: d.kind for d in read.circuit.devices} == {d.label: d.kind for d in base.devices if d.id in wired}


def test_without_known_devices_the_kind_is_told_by_letter_and_terminals() -> None:
    read = circuit_from_wire_list(wire_list(library_circuit("start-stop-overload-line")), "Read")
    kinds = {item.label: item.kind for item in read.circuit.devices}
    assert kinds["K1"] == "contactor"
    assert kinds["F2"] == "overload_relay"
    assert kinds["M1"] == "motor_three_phase"
    assert kinds["S0"] == kinds["S1"] == "push_button"
    assert next(d for d in read.circuit.devices if d.label == "S0").params == {"contacts": "NC"}
    assert len(read.guessed) == len(read.circuit.devices)
    assert "K1: contactor" in read.guessed


def test_what_cannot_be_read_is_told_and_the_rest_is_kept() -> None:
    text = HEADS + "\r\n".join(
        [
            "G1,L1,H1,X1,1,red,2.5,3",
            'G1,N,H1,X2,N,,"1,5",',
            "H1,X1,Q77,99,,,,",  # no such device
            "H1,X1,H1,X1,,,,",  # nowhere
            "H1,X1,G1,L2,,,thick,",  # no number
            "H1,X2,G1,L3,,,,99999",  # too long
            ",,,,,,,",
            "=cmd,1,G1,L1,,,,",
        ]
    )
    read = circuit_from_wire_list(text, "Half")
    assert [w[:4] for w in wires(read.circuit)] == [("G1", "L1", "H1", "X1"), ("G1", "N", "H1", "X2")]
    assert read.circuit.conductors[0].colour == "red"
    assert read.circuit.conductors[1].cross_section_mm2 == 1.5
    told = [problem.message for problem in read.problems]
    assert any("Q77: no kind of device has 99" in message for message in told)
    assert any("Line 5: both ends are one terminal" in message for message in told)
    assert any("Line 6: 'thick' is no number" in message for message in told)
    assert any("Line 7: length m must lie from 0.001 to 10000" in message for message in told)
    assert any("=cmd" in message for message in told)


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("", "a line of headings"),
        ("a,b,c\n1,2,3", "headings with from device"),
        (HEADS + "x" * 2_000_001, "longer than 2000000"),
        (HEADS + 'G1,"L1', "not CSV"),
        (HEADS + "G1,L1,H1,X1,,,,\n" * 6001, "more than 6000 wires"),
    ],
)
def test_what_is_no_list_of_wires_is_refused(text: str, told: str) -> None:
    with pytest.raises(MalformedDocument, match=told):
        circuit_from_wire_list(text, "None")


def test_no_cell_is_a_formula_for_a_spreadsheet() -> None:
    odd = circuit([device("g1", "supply_single_phase"), device("h1", "lamp")], [wire("w", "g1:L", "h1:X1")])
    evil = odd.model_copy(update={"devices": tuple(d.model_copy(update={"function": "=1+1"}) for d in odd.devices)})
    numbered = evil.model_copy(update={"conductors": (evil.conductors[0].model_copy(update={"number": "@x"}),)})
    for text in (parts_list(numbered), wire_list(numbered), terminal_plan(numbered)):
        for row in csv.reader(io.StringIO(text)):
            assert not any(cell.startswith(("=", "@")) for cell in row)
    again = circuit_from_wire_list(wire_list(numbered), "x", numbered.devices)
    assert again.circuit.conductors[0].number == "@x"


def test_the_terminal_plan_names_both_wires_of_a_terminal() -> None:
    rows = {(r[0], r[1]): r for r in csv.reader(io.StringIO(terminal_plan(library_circuit("two-wire-float"))))}
    assert rows["Q1", "2"] == ["Q1", "2", "1L1", "Q2:1", "F1:1", ""]
    assert rows["K1", "A1"][2:5] == ["3", "B1:14", "H1:X1"]


def test_the_parts_list_tells_what_is_not_as_delivered() -> None:
    base = with_params(library_circuit("two-wire-float"), {"overload": {"dial_a": 2.9, "automatic_reset": True}})
    rows = {row[0]: row for row in csv.reader(io.StringIO(parts_list(base)))}
    assert rows["F2"][1:] == ["Overload relay", "Motor overload", "plate", "Dial 2.9 A; Automatic reset yes"]
    assert rows["B1"][1] == "Float switch"
    moved = tuple(d.model_copy(update={"mounting": "door"}) if d.label == "F2" else d for d in base.devices)
    text = parts_list(base.model_copy(update={"devices": moved}))
    assert next(row for row in csv.reader(io.StringIO(text)) if row[0] == "F2")[3] == "door"


def test_the_command_line_reads_back_a_netlist_whose_title_has_a_comma(tmp_path) -> None:  # type: ignore[no-untyped-def]
    written = CliRunner().invoke(main, ["export", "list", "two-wire-float", "devices"])
    assert written.output.startswith("* Condensate sump, two-wire")
    path = tmp_path / "devices.cir"
    path.write_text(written.output, encoding="utf-8")
    read = CliRunner().invoke(main, ["import", str(path), "--title", "Read back"])
    assert read.exit_code == 0, read.output
    assert len(json.loads(read.stdout)["devices"]) == len(library_circuit("two-wire-float").devices)


def test_the_command_line_writes_and_reads_lists(tmp_path) -> None:  # type: ignore[no-untyped-def]
    written = CliRunner().invoke(main, ["export", "list", "two-wire-float", "wires"])
    assert written.exit_code == 0
    path = tmp_path / "wires.csv"
    path.write_text(written.output, encoding="utf-8", newline="")
    read = CliRunner().invoke(main, ["import", str(path), "--title", "Read back"])
    assert read.exit_code == 0, read.output
    assert '"title": "Read back"' in read.output
    assert '"id": "control"' in read.output
