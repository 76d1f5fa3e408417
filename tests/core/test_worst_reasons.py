"""Reasons in the worst circuits, as an electrician would give them."""

import pytest

from tests.core.circuits import Bench, end
from wiretrace.document.circuit import Stray
from wiretrace.explain.current import explain_current
from wiretrace.explain.reading import explain_reading
from wiretrace.explain.resistance import explain_resistance
from wiretrace.library import library_circuit

LINE = "start-stop-overload-line"


def told(bench: Bench, red: str, black: str) -> str:
    return " ".join(explain_reading(bench.assembly, bench.frame, end(red), end(black)).sentences)


def running(name: str = LINE) -> Bench:
    bench = Bench(library_circuit(name))
    bench.do("start", "press", wait_s=2.0)
    return bench


def test_a_bad_joint_on_the_way_is_named_with_its_share() -> None:
    bench = running()
    bench.fail("S0/11-12=2000ohm")
    bench.wait(0.5)
    sentence = told(bench, "contactor:A1", "contactor:A2")
    shown = explain_reading(bench.assembly, bench.frame, end("contactor:A1"), end("contactor:A2")).reading.voltage_v
    share = explain_reading(bench.assembly, bench.frame, end("stop:11"), end("stop:12")).reading
    assert shown == pytest.approx(190.7, abs=0.2)
    assert f"S0 (which drops {share.display} V)" in sentence
    assert "by wire alone: so the meter shows 190.7 V" in sentence  # the black probe, on N


def test_a_bad_joint_in_a_wire_is_the_wire_s() -> None:
    bench = running()
    bench.fail("c3=500ohm")
    bench.wait(0.5)
    assert "the wire 3 (which drops 18.69 V)" in told(bench, "contactor:A1", "contactor:A2")


def test_a_capacitance_that_feeds_a_coil_is_the_cause() -> None:
    cable = Stray(id="cable", a=end("start:13"), b=end("start:14"), capacitance_nf=400.0)
    bench = Bench(library_circuit(LINE).model_copy(update={"strays": (cable,)}))
    sentence = told(bench, "contactor:A1", "contactor:A2")
    assert "and L1 through the capacitance from S1:13 to S1:14 (which drops" in sentence
    assert "only" not in sentence.split(".")[0]


def test_an_unearthed_circuit_names_the_fault_that_earths_it() -> None:
    bench = running("control-transformer-unearthed")
    assert told(bench, "contactor:A1", "supply:PE").endswith(
        "with no return path between the probes the meter shows 0.000 V."
    )
    bench.fail("K1:A2=to M1:PE")
    bench.wait(0.3)
    sentence = told(bench, "contactor:A1", "supply:PE")
    assert sentence.endswith("so the meter shows 115.1 V; only a bridge at K1 refers the one side to the other.")


def test_a_back_fed_terminal_reaches_both_remaining_poles() -> None:
    bench = running()
    bench.do("supply", "l2", False, wait_s=0.5)
    sentence = told(bench, "motor:V1", "supply:N").split(" Black")[0]
    assert "reaches L1 through V1 of the motor M1" in sentence
    assert "and L3 through V1 of the motor M1" in sentence
    assert "only" not in sentence


@pytest.mark.parametrize(
    ("fault", "conductor", "sentence"),
    [
        (
            "M1:U1=to M1:V1",
            "p1-motor",
            "p1-motor carries 459.7 A: a short circuit from L1 to L2 through "
            "Q1 1-2, Q2 1-2, K1 1-2, a bridge at M1, K1 3-4, Q2 3-4 and Q1 3-4.",
        ),
        (
            "K1:A1=to M1:PE",
            "c4",
            "c4 carries 593.8 A: a short circuit from L1 to PE through "
            "Q1 1-2, F1, F2 95-96, S0, S1 and a bridge at K1.",
        ),
    ],
)
def test_a_clamp_in_a_short_circuit_says_so_and_through_what(fault: str, conductor: str, sentence: str) -> None:
    bench = running()
    bench.fail(fault)
    bench.wait(0.003)
    assert explain_current(bench.assembly, bench.frame, [conductor]).sentence == sentence


def test_what_is_one_after_the_other_is_not_side_by_side() -> None:
    bench = Bench(library_circuit(LINE))
    bench.do("isolator", "switch", False)

    def ohms(red: str, black: str) -> str:
        return explain_resistance(bench.assembly, bench.frame, end(red), end(black)).sentence

    assert "U1 of the motor M1 and V1 of the motor M1, one after the other: " in ohms("motor:U1", "motor:V1")
    assert "the coil K1 (98 %) and the lamp H1 (2 %), in ways side by side: " in ohms("contactor:A1", "contactor:A2")
    both = "the lamp H2 and then the coil K1 (98 %) and the lamp H1 (2 %), in ways side by side: "
    assert both in ohms("start:13", "start:14")


def test_a_bridge_on_the_way_is_no_wire() -> None:
    bench = Bench(library_circuit(LINE))
    bench.fail("K1:A1=to M1:PE")
    assert "is joined to PE through a bridge at K1" in told(bench, "contactor:A1", "supply:N")
