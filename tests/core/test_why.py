"""Why a device stands as it does, and what made it so."""

import pytest

from tests.core.circuits import Bench, with_params
from tests.sweep import todays
from wiretrace.errors import UnknownTarget
from wiretrace.explain.device import why_device
from wiretrace.explain.event import why_event
from wiretrace.faults.possible import possible_faults
from wiretrace.faults.spots import device_named
from wiretrace.faults.text import fault_from_text
from wiretrace.library import library_circuit, library_names, library_sequence
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, initial_state, run
from wiretrace.simulation.state import Action

LINE = "start-stop-overload-line"
MS = 1_000
S = 1_000_000


def told(bench: Bench, device: str) -> str:
    return " ".join(why_device(bench.assembly, bench.frame, device).sentences)


def course(name: str, hands: list[Action], until_s: float) -> tuple[Assembly, list[Frame]]:
    assembly = Assembly(library_circuit(name))
    return assembly, list(run(assembly, initial_state(assembly), hands, round(until_s * S)).frames)


def causes(name: str, hands: list[Action], until_s: float, device: str) -> list[str]:
    assembly, frames = course(name, hands, until_s)
    return [cause.sentence for cause in why_event(assembly, frames, hands, device)]


def test_a_contactor_that_is_out_names_the_contact_that_is_missing() -> None:
    bench = Bench(library_circuit(LINE))
    reason = why_device(bench.assembly, bench.frame, "contactor")
    assert reason.sentences == (
        "K1: out.",
        "The coil K1 has 0.000 V of the 230 V that it is made for: the way from L1 to K1:A1 is open at S1.",
        "Once it has picked up, K1 13-14 bridges S1.",
    )
    assert reason.missing == (("start", "13-14"),)  # the button, not the seal beside it
    assert reason.depends == ("start",)
    assert [way.whole for way in reason.ways] == [False, True]
    bench.do("stop", "press")
    assert why_device(bench.assembly, bench.frame, "contactor").missing == (("start", "13-14"), ("stop", "11-12"))


def test_a_contactor_that_is_in_names_what_feeds_it() -> None:
    bench = Bench(library_circuit(LINE))
    bench.do("start", "press")
    bench.do("start", "press", False)
    sentence = told(bench, "contactor")
    assert "has 230.7 V of the 230 V" in sentence
    assert "K1:A1 is joined to L1 through K1 13-14, S0, F2 95-96, F1 and Q1 1-2; K1:A2 is joined to N" in sentence


def test_an_interlock_is_named_as_what_is_missing() -> None:
    bench = Bench(library_circuit("reversing-interlocked"))
    bench.do("open", "press")
    bench.do("open", "press", False)
    reason = why_device(bench.assembly, bench.frame, "k-close")
    assert "is open at K1 21-22 and S2 13-14." in reason.sentences[1]
    assert reason.depends == ("k-open", "close")


def test_what_drops_the_voltage_is_named_with_its_volts() -> None:
    bench = Bench(library_circuit(LINE))
    bench.fail("S0/11-12=2000ohm")
    bench.do("start", "press")
    sentence = told(bench, "contactor")
    assert sentence.startswith("K1: out. The coil K1 has 72.9 V")
    # 2 kilohm before a coil that is out, with its reactance: the two do not add up to 231 as numbers.
    assert "On the way S0 drops 170.3 V." in sentence


def test_a_supply_that_is_off_is_named_and_a_coil_that_is_open_inside() -> None:
    bench = Bench(library_circuit(LINE))
    bench.do("start", "press")
    bench.do("supply", "switch", False)
    assert told(bench, "contactor").endswith("by wire alone. G1 gives no voltage.")
    bench = Bench(library_circuit(LINE))
    bench.fail("K1/coil=open")
    bench.do("start", "press")
    assert "it is open inside" in told(bench, "contactor")


def test_a_mechanical_interlock_that_holds_is_named() -> None:
    bench = Bench(library_circuit("reversing-mechanical-interlock"))
    bench.do("open", "press")
    bench.do("close", "press")
    assert "The mechanical interlock holds it while K1 is away from rest." in told(bench, "k-close")


def test_a_motor_names_the_leads_that_are_not_fed() -> None:
    bench = Bench(library_circuit(LINE))
    assert "the way from L2 to M1:V1 is open at K1 3-4" in told(bench, "motor")
    bench.do("start", "press")
    assert "Its leads are fed: M1:U1 from L1; M1:V1 from L2; M1:W1 from L3." in told(bench, "motor")


def test_a_device_that_is_not_there_is_named() -> None:
    bench = Bench(library_circuit(LINE))
    with pytest.raises(UnknownTarget, match="There is no device ghost"):
        why_device(bench.assembly, bench.frame, "ghost")


def test_an_event_is_told_back_to_the_hand() -> None:
    hands = [Action(500 * MS, "start", "press"), Action(800 * MS, "start", "press", False)]
    assert causes(LINE, hands, 0.9, "motor") == [
        "At 0.535 s M1 went from still to turns forward when K1 1-2 closed.",
        "At 0.535 s K1 went from out to in, 18 ms after S1 closed.",
        "At 0.517 s S1 went from released to pressed, 17 ms after a hand worked it (press).",
    ]
    assert causes(LINE, [], 0.9, "motor") == []


def test_an_event_is_told_back_to_the_time_that_ran_out() -> None:
    hands = [Action(500 * MS, "start", "press"), Action(1_000 * MS, "start", "press", False)]
    found = causes("star-delta-timer-first-closure", hands, 5.0, "k-delta")
    assert found[0] == "At 4.595 s K3 went from out to in, 18 ms after K4 17-28 closed."
    assert found[1] == "At 4.577 s K4 went from at rest by way of star and dead time to delta, 4.06 s after S1 closed."


def test_a_lost_phase_is_told_as_the_cause() -> None:
    hands = [
        Action(1_000 * MS, "start", "press"),
        Action(1_500 * MS, "start", "press", False),
        Action(2_000 * MS, "supply", "l2", False),
    ]
    assembly, frames = course("phase-monitor", hands, 4.0)
    found = [cause.sentence for cause in why_event(assembly, frames, hands, device_named(assembly.circuit, "K1").id)]
    assert found[0] == "At 3.012 s K1 went from in to out, 12 ms after K9 11-14 opened."
    assert "1.00 s after the L2 G1 opened; its limit is 85 % of the rated voltage, 340 V, for 1 s" in found[1]


@pytest.mark.parametrize("name", todays(library_names()))
def test_every_device_of_the_library_has_a_reason_in_every_state(name: str) -> None:
    """Under power and after each step of its sequence, sound and with single faults: a sentence, never an error.

    What is said to be missing is open, and a load said to be fed has its voltage.
    """
    circuit = library_circuit(name)
    sequence = library_sequence(name)
    faults = list(possible_faults(circuit, Assembly(circuit).devices))
    picked = [(), *((fault,) for fault in faults[:: max(1, len(faults) // 6)])]
    for present in picked:
        assembly = Assembly(circuit, present)
        state = initial_state(assembly)
        for step in sequence.steps[:5]:
            hands = [Action(state.time_us, device_named(circuit, who).id, what, on) for who, what, on in step.do]
            trajectory = run(assembly, state, hands, state.time_us + round(min(step.wait_s, 5.0) * S), page=400)
            state, frame = trajectory.end, trajectory.frames[-1]
            for device in assembly.devices:
                reason = why_device(assembly, frame, device)
                assert reason.sentences[0].startswith(assembly.devices[device].label)
                for place, branch in reason.missing:
                    number = assembly.branch_index(place, branch) if branch else None
                    assert number is None or frame.values[number] is None
                for cause in why_event(assembly, trajectory.frames, hands, device):
                    assert cause.sentence.endswith(".")


def test_what_tripped_a_breaker_is_told_with_the_way_of_the_short_circuit() -> None:
    """L1 to N over a bridge across the coil: 828 A through the loop, a hundred times what the breaker carries."""
    circuit = library_circuit(LINE)
    hands = [Action(500 * MS, "start", "press")]
    assembly = Assembly(circuit, [fault_from_text(circuit, "K1:A1=to K1:A2")])
    frames = list(run(assembly, initial_state(assembly), hands, S).frames)
    first, second = why_event(assembly, frames, hands, "control-breaker")
    assert first.sentence == (
        "At 0.527 s F1 went from on to tripped, 10 ms after S1 closed: a short circuit of 828.3 A "
        "from L1 to N through Q1 1-2, F1, F2 95-96, S0, S1 and a bridge at K1."
    )
    assert {"c1", "c2", "c3", "c4"} <= set(first.conductors)
    assert second.conductors == ()


def test_a_padlock_goes_on_in_the_off_position_and_keeps_the_switch_there() -> None:
    bench = Bench(library_circuit(LINE))
    bench.do("isolator", "lock")
    assert bench.says("isolator") == "on"
    bench.do("isolator", "switch", False)
    bench.do("isolator", "lock")
    bench.do("isolator", "switch")
    assert bench.says("isolator") == "locked off"
    bench.do("isolator", "lock", False)
    bench.do("isolator", "switch")
    assert bench.says("isolator") == "on"


def test_both_reversing_contactors_in_are_a_short_circuit_from_phase_to_phase() -> None:
    """The current divides between the two: L1 goes through K2 to where K1 brings L3."""
    circuit = library_circuit("reversing-interlocked")
    welded = ("S1/11-12", "S2/11-12", "K1/21-22", "K2/21-22")
    assembly = Assembly(circuit, [fault_from_text(circuit, f"{place}=welded") for place in welded])
    hands = [Action(500 * MS, "open", "press"), Action(700 * MS, "close", "press")]
    frames = list(run(assembly, initial_state(assembly), hands, S).frames)
    (first, *_) = why_event(assembly, frames, hands, "motor-breaker")
    assert "a short circuit of 1669.1 A from L1 to L3 through Q1 1-2, Q2 1-2, K2 1-2, K1 5-6" in first.sentence


def test_a_relay_that_tripped_names_what_it_carried_and_what_it_is_set_to() -> None:
    base = with_params(library_circuit(LINE), {"overload": {"dial_a": 1.5}})
    assembly = Assembly(base)
    hands = [Action(1 * S, "start", "press", True), Action(round(1.5 * S), "start", "press", False)]
    frames = list(run(assembly, initial_state(assembly), hands, 200 * S).frames)
    (first, *_) = why_event(assembly, frames, hands, "overload")
    assert "F2 went from set to tripped" in first.sentence
    assert "A; it is set to 1.5 A." in first.sentence
    assert "what it sees had changed" not in first.sentence
