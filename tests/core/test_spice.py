"""ngspice as the independent judge: it agrees with the core in every state of the sequence."""

import re
import subprocess
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

import pytest

from scripts.ngspice import disagreement, judged, solved
from tests.core.circuits import Bench, circuit, device, end, wire
from tests.core.played import played
from wiretrace.document.circuit import Stray
from wiretrace.instruments.voltmeter import read_between
from wiretrace.interchange.spice import spice_netlist
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame


def judge(states: Sequence[tuple[Assembly, Frame]], folder: Path) -> None:
    """ngspice and the core agree to 10^-6 of full scale on every potential and every conductor's current."""
    assert list(judged(states, folder)) == []


@pytest.mark.parametrize("name", library_names())
def test_ngspice_agrees_in_every_state_of_the_operating_sequence(name: str, tmp_path: Path) -> None:
    states = [(taken.assembly, frame) for taken in played(name) for frame in taken.frames]
    assert len(states) >= 10
    judge(states, tmp_path)


@pytest.mark.parametrize(
    "faults",
    [
        ["G1/L2=open"],
        ["M1/U1-U2=short 3ohm", "K2/3-4=2ohm"],
        ["M1:V1=to M1:PE 0.5ohm", "K1:A2=40ohm"],
        ["w20.b=with w21.b"],
        ["w17.b=to M1:V1", "M1/W1-W2=open"],
    ],
)
def test_ngspice_agrees_with_faults_too(faults: list[str], tmp_path: Path) -> None:
    bench = Bench(library_circuit("star-delta-timer-first-closure"))
    bench.do("start", "press")
    bench.fail(*faults)
    bench.wait(0.02)
    judge([(bench.assembly, frame) for frame in bench.trajectory.frames], tmp_path)


STRAYS = [
    Stray(id="ghost", a=end("start:14"), b=end("supply:L2"), capacitance_nf=4.7),
    Stray(id="leak", a=end("contactor:A1"), b=end("motor:PE"), resistance_ohm=5000.0),
    Stray(id="cable", a=end("motor:U1"), b=end("motor:PE"), resistance_ohm=2e6, capacitance_nf=22.0),
]


@pytest.mark.parametrize("which", [[0], [1], [2], [0, 1, 2]])
def test_ngspice_agrees_with_paths_that_nobody_laid(which: list[int], tmp_path: Path) -> None:
    """A capacitance by itself, a resistance by itself, and both side by side, held and not."""
    base = library_circuit("start-stop-overload-line")
    bench = Bench(base.model_copy(update={"strays": tuple(STRAYS[n] for n in which)}))
    judge([(bench.assembly, bench.frame)], tmp_path)
    bench.do("start", "press", wait_s=0.3)
    judge([(bench.assembly, bench.frame)], tmp_path)


def test_ngspice_agrees_with_a_conductor_that_only_capacitances_hold(tmp_path: Path) -> None:
    """By hand: 1 nF to 230 V and 1 nF to earth halve it."""
    parts = [device("g1", "supply_single_phase", source_resistance_ohm=1e-3), device("x1", "terminal")]
    strays = [
        Stray(id="c1", a=end("x1:a"), b=end("g1:L"), capacitance_nf=1.0),
        Stray(id="c2", a=end("x1:a"), b=end("g1:PE"), capacitance_nf=1.0),
    ]
    bench = Bench(circuit(parts, [], strays))
    node = bench.assembly.node(end("x1:a"))
    assert abs(bench.frame.point.ac.volts_between(node, bench.assembly.node(end("g1:N")))) == pytest.approx(
        115, abs=0.01
    )
    judge([(bench.assembly, bench.frame)], tmp_path)


def test_direct_current_in_one_winding_makes_no_voltage_in_another(tmp_path: Path) -> None:
    """Of a wound rotor, whose windings raise voltages in each other by ohms and by henries."""
    parts = [device("g1", "supply_dc"), device("m1", "motor_wound_rotor"), device("h1", "lamp")]
    ways = [("g1:L+", "m1:U1"), ("m1:V1", "g1:L-"), ("m1:K", "h1:X1"), ("h1:X2", "m1:L"), ("m1:M", "g1:PE")]
    bench = Bench(circuit(parts, [wire(f"w{n}", a, b) for n, (a, b) in enumerate(ways)]))
    rings = [bench.assembly.graph.inner["m1", ring] for ring in "KL"]
    assert read_between(bench.frame.point, *rings) == pytest.approx(0.0, abs=1e-9)
    judge([(bench.assembly, bench.frame)], tmp_path)


def test_a_state_is_told_from_another(tmp_path: Path) -> None:
    """The judge can fail: the picture of a held start button is not that of a button at rest."""
    bench = Bench(library_circuit("start-stop-overload-line"))
    rest = bench.frame
    bench.do("start", "press", wait_s=0.3)
    found = solved([(bench.assembly, rest)], tmp_path)[0]
    assert disagreement(bench.assembly, rest, found) is None
    assert "ngspice differs" in (disagreement(bench.assembly, bench.frame, found) or "")
    wire = f"i(vi{bench.assembly.branch_index(bench.assembly.circuit.conductors[0].id)})"
    off = replace(found, ac={**found.ac, wire: found.ac[wire] + 1e-3})
    assert "A of" in (disagreement(bench.assembly, rest, off) or "")


def test_a_netlist_that_is_run_by_itself_prints_what_the_judge_reads(tmp_path: Path) -> None:
    """As whoever takes the export away runs it; direct and alternating."""
    *_, last = played("dc-control-pnp")
    assembly, frame = last.assembly, last.frames[-1]
    file = tmp_path / "alone.cir"
    file.write_text(spice_netlist(assembly, frame), encoding="utf-8")
    done = subprocess.run(["ngspice", "-b", str(file)], capture_output=True, text=True, check=True, timeout=60)
    printed = {name: float(value) for name, value in re.findall(r"^(\S+) = (\S+)$", done.stdout, re.MULTILINE)}
    found = solved([(assembly, frame)], tmp_path)[0]
    assert found.dc is not None
    for number in range(len(assembly.nodes)):
        node = f"n{number}"
        printed_v = complex(printed[f"vr({node})"], printed[f"vi({node})"])
        assert printed_v == pytest.approx(found.ac[f"v({node})"], rel=1e-9)
        assert printed[f"v({node})"] == pytest.approx(found.dc[f"v({node})"].real, rel=1e-9)
    wires = [name for name in printed if name.startswith("i(vi")]
    assert len(wires) > 20
    assert all(printed[name] == pytest.approx(found.dc[name].real, rel=1e-9) for name in wires)
