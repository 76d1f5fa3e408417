"""ngspice as the independent judge: it agrees with the core in every state of the sequence."""

import re
import subprocess
from collections.abc import Sequence
from pathlib import Path

import numpy as np
import pytest

from tests.core.circuits import Bench, circuit, device, end
from wiretrace.document.circuit import Stray
from wiretrace.interchange.spice import spice_netlist
from wiretrace.library import library_circuit, library_names, library_sequence
from wiretrace.network.solve import Solution
from wiretrace.sequences.sequence import take_steps
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame


def judged(assembly: Assembly, frame: Frame, folder: Path) -> dict[str, float]:
    """Every figure that ngspice prints, by the name under which it prints it."""
    netlist = folder / "circuit.cir"
    netlist.write_text(spice_netlist(assembly, frame), encoding="utf-8")
    done = subprocess.run(["ngspice", "-b", str(netlist)], capture_output=True, text=True, check=True, timeout=60)
    return {name: float(value) for name, value in re.findall(r"^(\S+) = (\S+)$", done.stdout, re.MULTILINE)}


def alternating(assembly: Assembly, frame: Frame, found: dict[str, float]) -> tuple[np.ndarray, np.ndarray]:
    """Potentials of all nodes and currents of all conductors that conduct, as ngspice has them."""
    nodes = [complex(found[f"vr(n{n})"], found[f"vi(n{n})"]) for n in range(len(assembly.nodes))]
    wires = [complex(found[f"real(i(vi{n}))"], found[f"imag(i(vi{n}))"]) for n in conducting(assembly, frame)]
    return np.array(nodes), np.array(wires)


def conducting(assembly: Assembly, frame: Frame) -> list[int]:
    return [n for n, ref in enumerate(assembly.branches) if not ref.branch and frame.values[n] is not None]


def assert_agree(frame: Frame, ours: Solution, nodes: np.ndarray, wires: np.ndarray, numbers: Sequence[int]) -> None:
    for name, theirs, core in (("V", nodes, ours.potential_v), ("A", wires, ours.current_a[list(numbers)])):
        scale = max(1.0, float(np.abs(core).max()))
        off = float(np.abs(theirs - core).max())
        assert off <= 1e-6 * scale, f"{off} {name} of {scale} at {frame.state.time_us} us"


def judge(assembly: Assembly, frame: Frame, folder: Path) -> None:
    """ngspice and the core agree to 10^-6 of full scale on every potential and every conductor's current."""
    found, numbers = judged(assembly, frame, folder), conducting(assembly, frame)
    assert_agree(frame, frame.point.ac, *alternating(assembly, frame, found), numbers)
    if frame.point.dc is not None:
        nodes = np.array([found[f"v(n{n})"] for n in range(len(assembly.nodes))])
        assert_agree(frame, frame.point.dc, nodes, np.array([found[f"i(vi{n})"] for n in numbers]), numbers)


@pytest.mark.parametrize("name", library_names())
def test_ngspice_agrees_in_every_state_of_the_operating_sequence(name: str, tmp_path: Path) -> None:
    judged_states = 0
    for taken in take_steps(library_circuit(name), library_sequence(name)):
        for frame in taken.frames:
            judge(taken.assembly, frame, tmp_path)
            judged_states += 1
    assert judged_states >= 10


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
    for frame in bench.trajectory.frames:
        judge(bench.assembly, frame, tmp_path)


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
    judge(bench.assembly, bench.frame, tmp_path)
    bench.do("start", "press", wait_s=0.3)
    judge(bench.assembly, bench.frame, tmp_path)


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
    judge(bench.assembly, bench.frame, tmp_path)
