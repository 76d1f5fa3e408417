"""A relay that brakes by direct current: it waits, brakes for its time, and must never meet the lines."""

from pathlib import Path

import pytest

from scripts.ngspice import judged
from tests.core.circuits import Bench, wire, with_params
from tests.core.test_checks import found, with_more
from wiretrace.document.circuit import Circuit
from wiretrace.faults.kinds.elements import HighResistance
from wiretrace.instruments.clamp_meter import read_current
from wiretrace.library import library_circuit


def stopped(circuit: Circuit | None = None, wait_s: float = 0.2) -> Bench:
    """The saw at full speed, and stopped some time ago."""
    bench = Bench(circuit or library_circuit("braking-relay"))
    bench.wait(0.5)
    bench.do("start", "press", wait_s=0.3)
    bench.do("start", "press", value=False, wait_s=3)
    bench.do("stop", "press", wait_s=wait_s)
    bench.do("stop", "press", value=False, wait_s=0)
    return bench


def speed(bench: Bench) -> float:
    return bench.frame.views["motor"].figures[0].value


def test_it_brakes_in_two_seconds_what_else_coasts_for_a_minute(tmp_path: Path) -> None:
    bench = stopped(wait_s=1.0)
    assert bench.says("brake") == "brakes"
    lead = next(w.id for w in bench.assembly.circuit.conductors if w.a.device == "brake" and w.a.terminal == "T1")
    assert read_current(bench.assembly, bench.frame.point, [lead]).current_a == pytest.approx(7.0, rel=0.01)
    assert list(judged([(bench.assembly, bench.frame)], tmp_path)) == []
    bench.wait(1.2)
    assert bench.says("motor") == "still"
    # Without fuses it only coasts.
    free = Bench(library_circuit("braking-relay"))
    free.do("brake-fuses", "out", wait_s=0.5)
    free.do("start", "press", wait_s=0.3)
    free.do("start", "press", value=False, wait_s=3)
    free.do("stop", "press", wait_s=3)
    assert free.says("brake") == "off"
    assert speed(free) > 1000


def test_what_it_takes_in_is_what_it_gives(tmp_path: Path) -> None:
    bench = stopped(wait_s=1.0)
    signals = bench.frame.signals["brake"]
    given_w = -signals["brake"].dc_v * signals["brake"].dc_a
    taken_w = (signals["input"].voltage_v * signals["input"].current_a.conjugate()).real
    assert given_w > 20
    assert taken_w == pytest.approx(given_w + 3.0, rel=0.02)


def test_the_contactor_stays_out_while_it_brakes_and_comes_in_after() -> None:
    bench = stopped(wait_s=1.0)
    bench.do("start", "press", wait_s=0.3)
    assert (bench.says("contactor"), bench.says("brake")) == ("out", "brakes")
    bench.wait(3.0)
    assert bench.says("contactor") == "in"
    assert bench.says("motor") == "turns forward"


def test_contactor_and_brake_at_one_time_destroy_it() -> None:
    bridged = with_more(library_circuit("braking-relay"), wire("x", "brake:11", "brake:12"))
    bench = stopped(bridged, wait_s=1.0)
    bench.do("start", "press", wait_s=0.3)
    assert bench.says("contactor") == "in"
    assert bench.says("brake") == "output destroyed"
    bench.do("stop", "press", wait_s=1)
    bench.do("brake", "replace", wait_s=5)
    assert bench.says("brake") == "ready"


def test_it_does_not_brake_what_never_ran_and_waits_as_it_is_set() -> None:
    bench = Bench(with_params(library_circuit("braking-relay"), {"brake": {"waits_s": 1.0, "brakes_s": 0.5}}))
    bench.wait(5)
    assert bench.says("brake") == "ready"
    late = stopped(with_params(library_circuit("braking-relay"), {"brake": {"waits_s": 1.0, "brakes_s": 0.5}}), 0.9)
    assert late.says("brake") == "waiting"
    late.wait(0.3)
    assert late.says("brake") == "brakes"
    late.wait(0.5)
    assert late.says("brake") == "ready"
    assert speed(late) > 100


def test_a_contactor_that_may_be_in_while_it_brakes_is_found() -> None:
    good = library_circuit("braking-relay")
    assert "behind_converter" not in found(good)
    bridged = with_more(good, wire("x", "brake:11", "brake:12"))
    finding = found(bridged)["behind_converter"][0]
    assert finding.message == "With K1 in, mains comes to the output of T1."
    assert finding.why == "Lead 11-12 of T1 into its coil."


@pytest.mark.parametrize("ohm", [1.0, 30.0, 80.0, 100.0, 150.0, 300.0, 600.0, 1000.0, 3000.0])
def test_behind_a_bad_joint_it_brakes_as_set_or_lets_go(ohm: float, tmp_path: Path) -> None:
    """Behind more than about 60 ohm the voltage at its input breaks down as it brakes; 0.1 s later it is off."""
    bench = Bench(library_circuit("braking-relay"), (HighResistance("w5", resistance_ohm=ohm),))
    bench.wait(0.5)
    bench.do("start", "press", wait_s=0.3)
    bench.do("start", "press", value=False, wait_s=3)
    bench.do("stop", "press", wait_s=1)
    amperes = abs(bench.frame.signals["brake"]["brake"].dc_a)
    assert list(judged([(bench.assembly, bench.frame)], tmp_path)) == []
    if ohm <= 30:
        assert (bench.says("brake"), amperes) == ("brakes", pytest.approx(7.0, rel=0.01))
    else:
        # It broke down, woke up again once it was let alone, and waits for the contactor to come in and out.
        assert (bench.says("brake"), amperes) == ("ready", 0.0)
