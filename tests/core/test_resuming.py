"""Laws of a run: the same hands give the same log, wherever it is cut and however the document is ordered."""

import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.circuits import SECOND
from tests.core.played import played
from tests.sweep import todays
from wiretrace.document.circuit import Circuit
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Trajectory, initial_state, run
from wiretrace.simulation.state import Action
from wiretrace.transport.report import StateData, run_data, state_data, state_from_data

LINE = "start-stop-overload-line"


def same(a: Trajectory, b: Trajectory, assembly: Assembly) -> bool:
    return run_data(assembly, a, []).model_dump_json() == run_data(assembly, b, []).model_dump_json()


HANDS = [("start", "press"), ("stop", "press"), ("overload", "trip"), ("overload", "reset"), ("supply", "switch"),
         ("isolator", "switch"), ("contactor", "push"), ("control-breaker", "switch")]  # fmt: skip


@st.composite
def actions(draw: st.DrawFn) -> list[Action]:
    count = draw(st.integers(0, 8))
    times = sorted(draw(st.lists(st.integers(0, 2_000_000), min_size=count, max_size=count)))
    return [Action(time, *draw(st.sampled_from(HANDS)), draw(st.booleans())) for time in times]


@settings(max_examples=40, deadline=None)
@given(actions())
def test_the_same_actions_give_the_same_log(hands: list[Action]) -> None:
    first, second = Assembly(library_circuit(LINE)), Assembly(library_circuit(LINE))
    a = run(first, initial_state(first), hands, 3 * SECOND)
    b = run(second, initial_state(second), hands, 3 * SECOND)
    assert same(a, b, first)


@settings(max_examples=40, deadline=None)
@given(actions(), st.integers(0, 3 * SECOND))
def test_stopping_and_taking_up_again_changes_nothing(hands: list[Action], cut_us: int) -> None:
    assembly = Assembly(library_circuit(LINE))
    whole = run(assembly, initial_state(assembly), hands, 3 * SECOND)
    before = [action for action in hands if action.at_us <= cut_us]
    half = run(assembly, initial_state(assembly), before, cut_us)
    written = json.loads(state_data(half.end).model_dump_json())
    rest = run(assembly, state_from_data(StateData.model_validate(written)), hands[len(before) :], 3 * SECOND)
    for device_id, values in whole.end.devices.items():
        for name, value in values.items():
            expected = pytest.approx(value, rel=1e-9, abs=1e-12) if isinstance(value, float) else value
            assert rest.end.devices[device_id][name] == expected


@settings(max_examples=30, deadline=None)
@given(actions(), st.randoms(use_true_random=False))
def test_order_and_names_in_the_document_do_not_matter(hands: list[Action], random: object) -> None:
    base = library_circuit(LINE)
    devices, conductors = list(base.devices), list(base.conductors)
    random.shuffle(devices)  # type: ignore[attr-defined]
    random.shuffle(conductors)  # type: ignore[attr-defined]
    other = Circuit(title="", devices=tuple(devices), conductors=tuple(conductors))
    says = []
    for version in (base, other):
        assembly = Assembly(version)
        trajectory = run(assembly, initial_state(assembly), hands, 3 * SECOND)
        says.append([(f.state.time_us, {d: v.says for d, v in sorted(f.views.items())}) for f in trajectory.frames])
    assert says[0] == says[1]


@pytest.mark.parametrize("name", todays(library_names()))
def test_when_the_supply_goes_it_does_not_matter_how_often_one_looks(name: str) -> None:
    """Every circuit in the middle of its sequence, its supply switched off: what follows currents at once as well."""
    for taken in played(name):
        assembly, state = taken.assembly, taken.frames[-1].state
        supplies = [item.id for item in assembly.devices.values() if item.kind.line_voltage_v(item.params)]
        off = [Action(state.time_us, supply, "switch", False) for supply in supplies]
        until_us = state.time_us + SECOND // 2
        whole = run(assembly, state, off, until_us).end
        pieces = run(assembly, state, off, state.time_us + 1).end
        for cut_us in (state.time_us + 40_000, until_us - 10, until_us):
            pieces = run(assembly, pieces, [], cut_us).end
        for device, values in whole.devices.items():
            for variable, value in values.items():
                expected = pytest.approx(value, rel=1e-6, abs=1e-9) if isinstance(value, float) else value
                assert pieces.devices[device][variable] == expected, (taken.step.text, device, variable)
