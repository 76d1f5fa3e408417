"""Every reason for every device in the states of the library, sound and with faults, held against the circuit."""

import re
from collections.abc import Iterator

import pytest

from tests.core.circuits import Bench, with_params
from tests.core.played import played
from tests.sweep import todays
from wiretrace.catalogue.machinery.status import tells
from wiretrace.document.checked import Installed
from wiretrace.errors import WiretraceError
from wiretrace.explain.device import why_device
from wiretrace.explain.event import why_event
from wiretrace.explain.gaps import dead_poles
from wiretrace.faults.possible import possible_faults
from wiretrace.faults.text import fault_from_text, fault_text
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, frame_of

FED = re.compile(r"(?:fed: |; )(\S+) from (\S+?)[.;]")
TURNS = ("turns_forward", "turns_backward")


def judge(assembly: Assembly, frame: Frame) -> Iterator[str]:
    """What is untrue of the reasons in a state."""
    live = {assembly.nodes[node][1] for node in set(_poles(assembly)) - dead_poles(assembly, frame)}
    for item in assembly.devices.values():
        reason = why_device(assembly, frame, item.id)
        told = " ".join(reason.sentences)
        for place, element in reason.missing:
            if element and frame.values[assembly.branch_index(place, element)] is not None:
                yield f"{item.label}: {place} {element} is closed: {told}"
        if reason.missing and _runs(item, frame):
            yield f"{item.label} turns, and is told as open: {told}"
        for lead, pole in FED.findall(told):
            if pole not in live:
                yield f"{item.label}: {lead} from {pole}, which gives nothing: {told}"


def _poles(assembly: Assembly) -> list[int]:
    return [assembly.graph.inner[item.id, name] for item in assembly.devices.values() for name in item.kind.poles]


def _runs(item: Installed, frame: Frame) -> bool:
    """A motor that nothing is wrong with, and that turns under power."""
    view = frame.views[item.id]
    return item.kind.three_phase is not None and view.status in TURNS


@pytest.mark.parametrize("name", library_names())
def test_no_reason_in_the_library_is_untrue(name: str) -> None:
    assert [line for step in played(name) for line in judge(step.assembly, step.frames[-1])] == []


@pytest.mark.parametrize("name", todays(library_names(), 5))
def test_no_reason_is_untrue_under_a_single_fault(name: str) -> None:
    circuit = library_circuit(name)
    sound, wrong, judged = Assembly(circuit), list[str](), 0
    for step in played(name)[:4]:
        for fault in list(possible_faults(circuit, sound.devices))[::5]:
            assembly = sound.with_faults((fault,))
            try:
                now = frame_of(assembly, step.frames[-1].state)
            except WiretraceError:
                continue  # What cannot be solved has no reasons.
            judged += 1
            wrong += [f"{fault_text(assembly, fault)}: {line}" for line in judge(assembly, now)]
    assert wrong == []
    assert judged > 10


def told(bench: Bench, label: str) -> str:
    device = next(item.id for item in bench.assembly.devices.values() if item.label == label)
    return " ".join(why_device(bench.assembly, bench.frame, device).sentences)


def start_of(bench: Bench) -> str:
    return next(item.id for item in bench.assembly.devices.values() if item.label == "S1")


def test_a_line_that_is_off_feeds_no_lead() -> None:
    bench = Bench(library_circuit("start-stop-overload-line"))
    bench.do("start", "press", wait_s=2.0)
    bench.do("supply", "l2", False, wait_s=0.3)
    said = told(bench, "M1")
    assert "M1:V1 leads to L2, which gives no voltage." in said
    assert "M1:V1 from L2" not in said
    assert "it is open" not in said


def test_a_motor_behind_an_autotransformer_is_fed_through_it() -> None:
    bench = Bench(library_circuit("autotransformer-starter"))
    bench.do(start_of(bench), "press", wait_s=0.5)
    motor = next(item for item in bench.assembly.devices.values() if item.label == "M1")
    assert tells(bench.frame.views[motor.id].status, "turns_forward")
    assert "is open at" not in told(bench, "M1")


def test_an_armature_that_is_stuck_is_not_said_to_move_by_itself() -> None:
    bench = Bench(library_circuit("start-stop-overload-line"))
    bench.fail(fault_from_text(bench.assembly.circuit, "K1=stuck"))
    bench.do("start", "press", wait_s=1.0)
    said = told(bench, "K1")
    assert "changes by itself" not in said
    assert "does not move although it has its voltage; its winding burns in" in said


def test_too_low_a_voltage_is_told_with_what_the_coil_asks_for() -> None:
    low = {"supply": {f"l{n}_percent": 75.0 for n in (1, 2, 3)}}
    bench = Bench(with_params(library_circuit("start-stop-overload-line"), low))
    bench.do("start", "press", wait_s=1.0)
    said = told(bench, "K1")
    assert "It picks up only from 195.5 V, 85 %." in said
    assert "changes by itself" not in said


def test_a_winding_that_is_open_is_named() -> None:
    bench = Bench(library_circuit("star-delta-relay"))
    bench.fail(fault_from_text(bench.assembly.circuit, "M1/U1-U2=open"))
    bench.do(start_of(bench), "press", wait_s=8.0)
    assert "carries nothing although volts stand across it: it is open." in told(bench, "M1")


def test_a_safety_relay_that_waits_names_its_reset() -> None:
    waiting = 0
    for step in played("safety-relay-dual-contactors"):
        for item in step.assembly.devices.values():
            if item.kind.name == "safety_relay" and step.frames[-1].views[item.id].status == "waiting":
                said = " ".join(why_device(step.assembly, step.frames[-1], item.id).sentences)
                assert "It waits for its reset" in said
                waiting += 1
    assert waiting > 0


def test_a_zero_speed_switch_is_told_with_the_speed_at_which_it_opened() -> None:
    """Plugging ends when the switch on the shaft opens: the coil drops out 12 ms later, the motor turns at 75 rpm."""
    step = next(
        one
        for one in played("plugging-zero-speed")
        if one.frames[-1].views["brake"].status == "dropped_out"
        and any(frame.views["brake"].active for frame in one.frames)
    )
    first, second = why_event(step.assembly, step.frames, [], "brake")
    assert first.sentence.endswith("12 ms after the zero-speed switch, forward M1 opened.")
    assert second.sentence.endswith("M1 changed over by itself, at 75 rpm.")
