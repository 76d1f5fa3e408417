"""Laws that hold in any circuit made of catalogue devices, wired at random."""

from dataclasses import dataclass

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.circuits import SECOND, device
from wiretrace.catalogue.registry import KINDS
from wiretrace.document.circuit import Circuit, Conductor, Device, End
from wiretrace.errors import WiretraceError
from wiretrace.network.solve import Solution
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, Trajectory, initial_state, run
from wiretrace.simulation.state import Action
from wiretrace.transport.report import StateData, state_data, state_from_data

# A mechanical interlock needs two contactors by name; two supplies of other frequencies are another test.
PLACED = [name for name in KINDS if name not in ("mechanical_interlock", "supply_three_phase")]
TURNING = ("motor_three_phase", "motor_six_leads")


@dataclass(frozen=True)
class Case:
    """A circuit, hands on it, and how long they are watched."""

    circuit: Circuit
    hands: tuple[Action, ...]

    def run(self, assembly: Assembly | None = None) -> tuple[Assembly, Trajectory] | str:
        """The run, or the named error."""
        try:
            assembly = assembly or Assembly(self.circuit)
            return assembly, run(assembly, initial_state(assembly), self.hands, SECOND // 2)
        except WiretraceError as error:
            return f"{type(error).__name__}: {error.problems[0].code if error.problems else ''}"


@st.composite
def cases(draw: st.DrawFn, kinds: tuple[str, ...] = tuple(PLACED)) -> Case:
    chosen = ["supply_three_phase", *draw(st.lists(st.sampled_from(kinds), min_size=1, max_size=8))]
    devices = [device(f"d{n}", kind) for n, kind in enumerate(chosen)]
    spots = [
        End(device=item.id, terminal=terminal.name)
        for item in devices
        for terminal in KINDS[item.kind].structure(KINDS[item.kind].defaults()).terminals
    ]
    ends = draw(st.lists(st.tuples(st.sampled_from(spots), st.sampled_from(spots)), min_size=3, max_size=25))
    wires = [Conductor(id=f"w{n}", a=a, b=b) for n, (a, b) in enumerate(ends) if a != b]
    hands = []
    for item in devices:
        operations = KINDS[item.kind].operations
        if operations and draw(st.booleans()):
            hands.append(Action(draw(st.integers(0, SECOND // 2)), item.id, draw(st.sampled_from(operations)).name))
    return Case(Circuit(title="", devices=tuple(devices), conductors=tuple(wires)), tuple(hands))


def solutions(frame: Frame) -> list[Solution]:
    return [frame.point.ac, *([frame.point.dc] if frame.point.dc is not None else [])]


def residual(solution: Solution) -> float:
    """The largest sum of currents at a node, as a share of all currents there are."""
    sums = np.zeros(solution.network.node_count, dtype=complex)
    np.add.at(sums, solution.network.a, solution.current_a)
    np.add.at(sums, solution.network.b, -solution.current_a)
    return float(np.abs(sums).max() / max(1.0, np.abs(solution.current_a).max()))


@settings(max_examples=80, deadline=None)
@given(cases())
def test_currents_balance_at_every_node_and_power_in_every_circuit(case: Case) -> None:
    result = case.run()
    if isinstance(result, str):
        return
    for frame in result[1].frames:
        for solution in solutions(frame):
            assert np.isfinite(solution.potential_v).all()
            assert residual(solution) < 1e-9
            # Tellegen: what goes round adds up to nothing.
            powers = solution.drop_v * solution.current_a.conj()
            assert abs(powers.sum()) <= 1e-9 * max(100.0, float(np.abs(powers).sum()))


@settings(max_examples=40, deadline=None)
@given(cases(), st.randoms(use_true_random=False))
def test_names_and_order_do_not_matter(case: Case, random: object) -> None:
    """Other ids, other order: the same times and the same words."""

    def renamed(end: End) -> End:
        return End(device=f"z-{end.device}", terminal=end.terminal)

    devices = [Device(id=f"z-{d.id}", kind=d.kind, label=f"Z{d.label}") for d in case.circuit.devices]
    wires = [Conductor(id=f"z-{w.id}", a=renamed(w.b), b=renamed(w.a)) for w in case.circuit.conductors]
    random.shuffle(devices)  # type: ignore[attr-defined]
    random.shuffle(wires)  # type: ignore[attr-defined]
    hands = tuple(Action(h.at_us, f"z-{h.device}", h.operation, h.value) for h in case.hands)
    other = Case(Circuit(title="", devices=tuple(devices), conductors=tuple(wires)), hands)
    first, second = case.run(), other.run()
    if isinstance(first, str) or isinstance(second, str):
        assert first == second
        return
    words = [
        [(f.state.time_us, {d.removeprefix("z-"): v.says for d, v in sorted(f.views.items())}) for f in t.frames]
        for _, t in (first, second)
    ]
    assert words[0] == words[1]


@settings(max_examples=40, deadline=None)
@given(cases(), st.integers(1, SECOND // 2 - 1))
def test_a_written_state_goes_on_and_the_same_log_comes_twice(case: Case, cut_us: int) -> None:
    whole = case.run()
    if isinstance(whole, str):
        assert case.run() == whole
        return
    assembly, trajectory = whole
    again = case.run(assembly)
    assert not isinstance(again, str)
    assert [f.state for f in again[1].frames] == [f.state for f in trajectory.frames]
    before = [hand for hand in case.hands if hand.at_us <= cut_us]
    try:
        half = run(assembly, initial_state(assembly), before, cut_us)
        written = StateData.model_validate_json(state_data(half.end).model_dump_json())
        after = [hand for hand in case.hands if hand.at_us > cut_us]
        rest = run(assembly, state_from_data(written), after, SECOND // 2)
    except WiretraceError:
        return
    if trajectory.chatters or half.chatters or rest.chatters:
        return  # A chatter is skipped in whole periods from where it was found.
    for place, state in trajectory.end.devices.items():
        for name, value in state.items():
            if isinstance(value, float):
                assert rest.end.devices[place][name] == pytest.approx(value, rel=1e-3, abs=1e-3), (place, name)
            elif not name.endswith("_us"):
                assert rest.end.devices[place][name] == value, (place, name)


@settings(max_examples=60, deadline=None)
@given(cases(tuple(kind for kind in PLACED if kind not in TURNING)), st.data())
def test_reciprocity_where_nothing_turns(case: Case, data: st.DataObject) -> None:
    """What an ampere here raises there, an ampere there raises here."""
    result = case.run()
    if isinstance(result, str):
        return
    assembly, trajectory = result
    wires = range(len(assembly.branches) - len(case.circuit.conductors), len(assembly.branches))
    for solution in solutions(trajectory.frames[-1]):
        pairs = [assembly.branches[n] for n in wires if solution.joined(assembly.branches[n].a, assembly.branches[n].b)]
        if len(pairs) < 2:
            return
        one, two = data.draw(st.sampled_from(pairs)), data.draw(st.sampled_from(pairs))
        here = solution.response(one.a, one.b)[assembly.branches.index(two)]
        there = solution.response(two.a, two.b)[assembly.branches.index(one)]
        assert abs(here - there) <= 1e-9 * max(abs(here), abs(there), 1e-6)


def test_the_random_circuits_are_worth_something() -> None:
    """Most of them can be solved, and currents flow in many."""
    solved, live = [], []

    @settings(max_examples=60, deadline=None)
    @given(cases())
    def count(case: Case) -> None:
        result = case.run()
        solved.append(not isinstance(result, str))
        if not isinstance(result, str):
            live.append(float(np.abs(result[1].frames[-1].point.ac.current_a).max()) > 1e-3)

    count()
    assert sum(solved) > 0.6 * len(solved)
    assert sum(live) > 0.15 * len(live)
