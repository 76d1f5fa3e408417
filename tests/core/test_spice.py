"""ngspice as the independent judge: it agrees with the core in every state of the sequence."""

import re
import subprocess
from pathlib import Path

import numpy as np
import pytest

from tests.core.circuits import Sequencer
from wiretrace.formats.spice import spice_netlist
from wiretrace.library import library_names
from wiretrace.simulation.engine import Frame
from wiretrace.simulation.plant import Plant


def ngspice_potentials(plant: Plant, frame: Frame, folder: Path) -> np.ndarray:
    netlist = folder / "circuit.cir"
    netlist.write_text(spice_netlist(plant, frame), encoding="utf-8")
    done = subprocess.run(["ngspice", "-b", str(netlist)], capture_output=True, text=True, check=True, timeout=60)
    found = {
        (part, int(node)): float(value)
        for part, node, value in re.findall(r"^v([ri])\(n(\d+)\) = (\S+)", done.stdout, re.MULTILINE)
    }
    return np.array([complex(found["r", node], found["i", node]) for node in range(len(plant.nodes))])


def every_frame(name: str) -> tuple[Plant, list[Frame]]:
    sequencer = Sequencer(name)
    return sequencer.plant, [frame for step in sequencer.steps for frame in sequencer.take(step)]


@pytest.mark.parametrize("name", library_names())
def test_ngspice_agrees_in_every_state_of_the_operating_sequence(name: str, tmp_path: Path) -> None:
    plant, frames = every_frame(name)
    assert len(frames) > 20
    for frame in frames:
        theirs = ngspice_potentials(plant, frame, tmp_path)
        ours = frame.point.ac.potential_v
        scale = max(1.0, float(np.abs(ours).max()))
        assert np.abs(theirs - ours).max() <= 1e-6 * scale, f"at {frame.state.time_us} us"
