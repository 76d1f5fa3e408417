"""Hostile text in every field of every format: what is exported is safe to open."""

import csv
import io
import json
import subprocess
from pathlib import Path

import pytest
from ezdxf.filemanagement import readfile

from wiretrace.document.checked import check_circuit, parse_circuit
from wiretrace.document.circuit import Circuit, SetAside
from wiretrace.errors import InvalidCircuit, MalformedDocument
from wiretrace.interchange.drawing import DrawnPage, Stroke, dxf, pdf
from wiretrace.interchange.lists import circuit_from_wire_list, parts_list, terminal_plan, wire_list
from wiretrace.interchange.spice import spice_netlist
from wiretrace.interchange.subcircuits import circuit_from_netlist, device_netlist
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import frame_of, initial_state

FORMULAS = [
    *(
        "=1+1",
        "+1+1",
        "-1+1",
        "@SUM(A1)",
        " =1+1",
        "\n=1+1",
        "\t=1",
        "\r=1",
        "\uff1d1+1",
        "\uff0b1",
        "\uff0d1",
        "\uff201",
    ),
    *("\u00a0=1+1", "\u200b=1+1", "'=1+1", "=cmd|' /C calc'!A0", "|calc", "%0A=1"),
]
BREAKS = ["\n", "\r", "\r\n", "\v", "\f", "\x1c", "\x1e", "\x85", "\u2028", "\u2029"]


def hostile(text: str) -> Circuit:
    """A library circuit with `text` wherever a person may write."""
    base = library_circuit("star-delta-plc")
    program = next(d for d in base.devices if d.kind == "plc").params["program"]
    comment = text if text.isprintable() else "a line of a program has no breaks"
    return base.model_copy(
        update={
            "title": text,
            "devices": tuple(
                d.model_copy(
                    update={
                        "function": text,
                        "params": {**d.params, **({"program": f"# {comment}\n{program}"} if d.kind == "plc" else {})},
                    }
                )
                for d in base.devices
            ),
            "conductors": tuple(w.model_copy(update={"colour": text[:24]}) for w in base.conductors),
            "sheets": tuple(sheet.model_copy(update={"title": text}) for sheet in base.sheets),
            "set_aside": (SetAside(rule="clamps", key="x", note=text),),
        }
    )


@pytest.mark.parametrize("text", FORMULAS)
def test_no_cell_is_taken_for_a_formula(text: str) -> None:
    for written in (wire_list(hostile(text)), terminal_plan(hostile(text)), parts_list(hostile(text))):
        for row in csv.reader(io.StringIO(written, newline="")):
            for cell in row:
                bare = cell.lstrip(" \t\r\n\u00a0\u200b\ufeff")
                assert not bare.startswith(("=", "+", "@", "\uff1d", "\uff0b", "\uff0d", "\uff20", "|", "%")), row
                assert not bare.startswith("-") or bare.lstrip("-").replace(".", "").isdigit(), row


@pytest.mark.parametrize("text", ["=1+1", "'quoted", "-5", "''", "red/blue"])
def test_what_was_made_harmless_reads_back_as_it_was(text: str) -> None:
    circuit = hostile(text)
    read = circuit_from_wire_list(wire_list(circuit), "again")
    assert {wire.colour for wire in read.circuit.conductors} == {text}


@pytest.mark.parametrize("end", BREAKS)
def test_a_title_with_a_break_runs_nothing_in_the_simulator(end: str, tmp_path: Path) -> None:
    mark = tmp_path / "ran"
    circuit = hostile(end.join(("pump", ".control", f"shell touch {mark}", "quit", ".endc")))
    assembly = Assembly(circuit)
    text = spice_netlist(assembly, frame_of(assembly, initial_state(assembly)))
    file = tmp_path / "circuit.cir"
    file.write_text(text, encoding="utf-8")
    subprocess.run(["ngspice", "-b", str(file)], capture_output=True, check=False, cwd=tmp_path)
    assert not mark.exists()
    assert [line for line in text.splitlines() if line.startswith(".control")] == [".control"]


@pytest.mark.parametrize("end", BREAKS)
def test_a_break_in_a_text_starts_no_line_of_a_netlist_of_devices(end: str) -> None:
    circuit = hostile(f"pump{end}.control{end}shell id")
    text = device_netlist(circuit)
    assert {line[0] for line in text.splitlines()} <= set("*XRC.")
    assert [line for line in text.splitlines() if line.startswith(".")] == [".end"]
    again = circuit_from_netlist(text, "again")
    assert not again.problems
    assert len(again.circuit.devices) == len(circuit.devices)


@pytest.mark.parametrize(
    "text", [*FORMULAS, *(f"a{end}0\nEOF\nb" for end in BREAKS), "%%d\\P{x;y}", "(a) Tj ET", "\x1b[2J"]
)
def test_drawings_hold_text_as_text(text: str, tmp_path: Path) -> None:
    stroke = Stroke(kind="text", layer="texts", points=((1, 1),), text=text, size=3)
    page = DrawnPage(title=text, width=50, height=50, strokes=(stroke, stroke))
    file = tmp_path / "sheet.dxf"
    file.write_text(dxf((page,)), encoding="utf-8")
    drawn = readfile(file)
    assert [entity.dxftype() for entity in drawn.modelspace()] == ["TEXT", "TEXT"]
    made = pdf(text, (page,))
    assert made.startswith(b"%PDF")
    assert made.count(b"/JavaScript") == made.count(b"/OpenAction") == made.count(b"/Launch") == 0


def test_no_text_of_a_document_holds_what_no_database_can() -> None:
    """In a program, the key of a note that sets a finding aside, and a line of the description."""
    made = library_circuit("star-delta-plc")
    programs = [
        item.model_copy(update={"params": {**item.params, "program": "Q1 = I1 # \x00"}}) if item.kind == "plc" else item
        for item in made.devices
    ]
    with pytest.raises(InvalidCircuit, match="without NUL"):
        check_circuit(made.model_copy(update={"devices": tuple(programs)}))
    data = json.loads(made.model_dump_json())
    for field in ({"set_aside": [{"rule": "a", "key": "\x00"}]}, {"description": ["\x00"]}):
        with pytest.raises(MalformedDocument):
            parse_circuit(json.dumps({**data, **field}))
