"""Circuits as netlists of devices, out and in again."""

import pytest

from wiretrace.document.checked import check_circuit
from wiretrace.document.circuit import Circuit, End
from wiretrace.document.nets import nets
from wiretrace.errors import MalformedDocument
from wiretrace.interchange.subcircuits import circuit_from_netlist, device_netlist
from wiretrace.library import library_circuit, library_names


def potentials(of: Circuit) -> set[frozenset[tuple[str, str]]]:
    """Terminals that are joined, by designation."""
    labels = {device.id: device.label for device in of.devices}
    return {frozenset((labels[end.device], end.terminal) for end in net.ends) for net in nets(of)}


@pytest.mark.parametrize("name", library_names())
def test_out_and_in_again_keeps_devices_values_and_potentials(name: str) -> None:
    old = library_circuit(name)
    read = circuit_from_netlist(device_netlist(old), old.title)
    assert read.problems == ()
    assert potentials(read.circuit) == potentials(old)
    before = {item.label: (item.kind.name, dict(item.params)) for item in check_circuit(old)}
    after = {item.label: (item.kind.name, dict(item.params)) for item in check_circuit(read.circuit)}
    assert after == before
    assert [(s.resistance_ohm, s.capacitance_nf) for s in read.circuit.strays] == [
        (s.resistance_ohm, s.capacitance_nf) for s in old.strays
    ]


BELL = """A bell, with a comment as the first word of SPICE
* supply, button, lamp
XG1 L N PE supply_single_phase
XS1 L 1 push_button contacts=NO   ; nothing else
xh1 1 N
+ lamp
R1 L 1 4.7k
C1 1 N 2.2u
.end
"""


def test_lines_go_on_scales_count_and_wires_are_numbered_as_their_nodes() -> None:
    text = BELL.replace("   ; nothing else", "").split("\n", 1)[1]
    circuit = circuit_from_netlist(text, "Bell").circuit
    assert [device.label for device in circuit.devices] == ["G1", "S1", "h1"]
    assert {net.number for net in nets(circuit)} == {"L", "1", "N"}
    assert [s.resistance_ohm for s in circuit.strays] == [4700.0, None]
    assert circuit.strays[1].capacitance_nf == pytest.approx(2200.0)
    assert circuit.strays[0].a == End(device="d1", terminal="L")


@pytest.mark.parametrize(
    ("line", "told"),
    [
        ("XH2 1 N 3 lamp", "H2 has 3 nodes, but 2 terminals with these values"),
        ("XH2 1 N torch", "the catalogue has no torch"),
        ("XH1 1 N lamp", "there is a H1 already"),
        ("XH2 1 N lamp brightness=3", "has no brightness"),
        ("XK2 a b c d e f g h i j k l contactor coil_voltage_v=1e99", "must lie from"),
        ("XK2 a b c d e f g h i j k l contactor coil_voltage_v=lots", "is no number"),
        ("X* 1 N lamp", "no designation"),
        ("Q1 c b e BC", "Q1 is nothing that the catalogue has"),
        ("R2 1 nowhere 10", "ends at a node that no device has"),
        ("R2 1 N 1e-9", "must lie from"),
        ("R2 1", "needs two nodes and a value"),
    ],
)
def test_a_line_that_cannot_be_read_is_told_and_the_rest_is_kept(line: str, told: str) -> None:
    read = circuit_from_netlist(f"XH1 1 N lamp\n{line}\n", "Half right")
    assert [device.label for device in read.circuit.devices] == ["H1"]
    assert len(read.problems) == 1
    assert told in read.problems[0].message
    assert read.problems[0].path == "line 2"


@pytest.mark.parametrize("text", ["", "<html>", "V1 1 0 5\nR1 1 0 10", 'XH1 1 N lamp "open', "x" * 2_000_001])
def test_what_is_no_netlist_of_devices_is_refused(text: str) -> None:
    with pytest.raises(MalformedDocument):
        circuit_from_netlist(text, "None")
