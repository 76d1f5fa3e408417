"""What a relay has found is told with the limit that it found it by."""

import pytest

from tests.core.circuits import SECOND, Bench
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.status import WORDS
from wiretrace.catalogue.registry import KINDS
from wiretrace.explain.device import why_device
from wiretrace.explain.event import why_event
from wiretrace.faults.text import fault_from_text
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state, run
from wiretrace.simulation.state import Action

SOLD = [kind for kind in KINDS.values() if kind.limits(kind.defaults())]


@pytest.mark.parametrize("kind", SOLD, ids=[kind.name for kind in SOLD])
def test_limits_stand_under_what_the_device_can_say(kind: Kind) -> None:
    limits = kind.limits(kind.defaults())
    assert set(limits) <= set(WORDS)
    for words in limits.values():
        assert any(letter.isdigit() for letter in words) or "tenth" in words, words
        assert not words.endswith(".")


def test_at_least_the_relays_that_watch_say_theirs() -> None:
    assert {kind.name for kind in SOLD} >= {
        *("phase_monitor", "current_phase_relay", "star_point_relay", "earth_leakage_relay", "insulation_monitor"),
        *("thermistor_relay", "motor_protection_relay", "frequency_converter", "residual_current_device"),
    }


def told(name: str, device: str, actions: list[Action], faults: tuple[str, ...] = ()) -> str:
    """Why a device of a library circuit changed last, within ten seconds."""
    made = library_circuit(name)
    assembly = Assembly(made, [fault_from_text(made, fault) for fault in faults])
    frames = run(assembly, initial_state(assembly), actions, 10 * SECOND).frames
    labels = {item.label: item.id for item in assembly.devices.values()}
    return why_event(assembly, frames, actions, labels[device])[0].sentence


def test_what_leaks_is_told_with_what_the_relay_asks_for() -> None:
    start = [Action(1 * SECOND, "start", "press", True)]
    leaks = told("earth-leakage-relay", "K5", start, ("M1:U1=to M1:PE 500ohm @3s",))
    assert "its limit is 0.24 A that do not come back" in leaks


def test_a_lost_phase_is_told_in_volts() -> None:
    lost = told("phase-monitor", "K9", [Action(3 * SECOND, "supply", "l1", False)])
    assert "its limit is 60 % of the rated voltage, 240 V, for 0.1 s" in lost


def test_a_drive_that_trips_is_told_with_the_contactor_that_threw_the_motor_on() -> None:
    start = [Action(5 * SECOND, "start", "press", True)]
    tripped = told("frequency-converter-contactor-mistake", "T1", start)
    assert "after K1 1-2 closed; it trips at once above 9.02 A" in tripped


def test_a_drive_is_told_by_its_lines_and_by_the_input_that_starts_it() -> None:
    bench = Bench(library_circuit("frequency-converter-fan"))
    bench.wait(0.5)
    ready = why_device(bench.assembly, bench.frame, "converter")
    assert ready.sentences[1] == "Between its lines L1, L2 and L3 stand 400.0 V, 400.0 V and 400.0 V."
    assert "the way from T1:24V to T1:RF is open at S1 13-14" in ready.sentences[2]
    assert ready.missing == (("on", "13-14"),)
    bench.do("stop", "strike", wait_s=0.2)
    bench.do("on", "turn", wait_s=0.2)
    waits = why_device(bench.assembly, bench.frame, "converter")
    assert waits.sentences[1] == "The command stood already when it became ready: take it away, and give it anew."
