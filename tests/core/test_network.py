"""Nodal analysis by its laws, on random networks, and its errors by name."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from wiretrace.errors import SingularNetwork
from wiretrace.network.solve import DENSE_UP_TO, Solution, Solver
from wiretrace.network.topology import Network


def network(count: int, ends: list[tuple[int, int]], ground: int = -1) -> Network:
    a, b = (np.array(side, dtype=np.intp) for side in zip(*ends, strict=True))
    return Network(count, a, b, ground)


def solve(net: Network, ohms: list[complex], emf: list[complex]) -> Solution:
    return Solver(net).solve(1 / np.array(ohms, dtype=complex), np.array(emf, dtype=complex))


@st.composite
def circuits(draw: st.DrawFn) -> tuple[Network, np.ndarray, np.ndarray]:
    """A random network: resistances and reactances over fifteen decades, some branches open, some sources."""
    count = draw(st.integers(2, 9))
    size = draw(st.integers(1, 16))
    node = st.integers(0, count - 1)
    ends = draw(st.lists(st.tuples(node, node).filter(lambda e: e[0] != e[1]), min_size=size, max_size=size))
    decades = st.floats(-3, 12)
    ohms = [10 ** draw(decades) * np.exp(1j * draw(st.floats(-1.4, 1.4))) for _ in ends]
    live = [draw(st.integers(0, 9)) > 0 for _ in ends]
    emf = [draw(st.sampled_from([0, 0, 0, 230, 110j, 24 - 5j])) for _ in ends]
    ground = draw(st.integers(-1, count - 1))
    admittance = np.where(live, 1 / np.array(ohms), 0)
    return network(count, ends, ground), admittance, np.array(emf, dtype=complex)


@settings(max_examples=200, deadline=None)
@given(circuits())
def test_currents_add_up_to_zero_at_every_node(case: tuple[Network, np.ndarray, np.ndarray]) -> None:
    net, admittance, emf = case
    current = Solver(net).solve(admittance, emf).current_a
    into = np.zeros(net.node_count, dtype=complex)
    np.add.at(into, net.b, current)
    np.subtract.at(into, net.a, current)
    scale = np.abs(admittance * emf).max(initial=0)
    assert np.abs(into).max() <= 1e-9 * scale


@settings(max_examples=200, deadline=None)
@given(circuits())
def test_every_branch_obeys_its_own_law(case: tuple[Network, np.ndarray, np.ndarray]) -> None:
    """The drop of a branch is the difference of its ends' potentials, loops included."""
    net, admittance, emf = case
    solution = Solver(net).solve(admittance, emf)
    difference = solution.potential_v[net.a] - solution.potential_v[net.b]
    scale = np.abs(solution.potential_v).max(initial=0) + np.abs(emf).max()
    joined = admittance != 0
    assert np.abs(solution.drop_v - difference)[joined].max(initial=0) <= 1e-12 * scale
    assert np.allclose(solution.current_a, admittance * (solution.drop_v + emf))


@settings(max_examples=100, deadline=None)
@given(circuits())
def test_power_given_is_power_taken(case: tuple[Network, np.ndarray, np.ndarray]) -> None:
    net, admittance, emf = case
    solution = Solver(net).solve(admittance, emf)
    given_va = np.sum(emf * solution.current_a.conj())
    on = admittance != 0
    taken_va = np.sum(np.abs(solution.current_a[on]) ** 2 / admittance[on])
    assert abs(given_va - taken_va) <= 1e-12 * np.abs(emf**2 * admittance).sum()


@settings(max_examples=100, deadline=None)
@given(circuits(), st.integers(0, 8), st.integers(0, 8))
def test_reciprocity(case: tuple[Network, np.ndarray, np.ndarray], p: int, q: int) -> None:
    """An ampere at one pair of nodes gives at another pair what it would give the other way round."""
    net, admittance, emf = case
    solution = Solver(net).solve(admittance, emf)
    branches = np.flatnonzero(admittance)
    if not len(branches):
        return
    m, n = branches[p % len(branches)], branches[q % len(branches)]
    by_m = solution.response(int(net.a[m]), int(net.b[m]))
    by_n = solution.response(int(net.a[n]), int(net.b[n]))
    scale = np.sqrt(abs(by_m[m]) * abs(by_n[n]))
    assert by_m[n] == pytest.approx(by_n[m], rel=1e-9, abs=1e-9 * scale)


@settings(max_examples=100, deadline=None)
@given(circuits(), st.randoms(use_true_random=False))
def test_names_and_order_do_not_matter(case: tuple[Network, np.ndarray, np.ndarray], random: object) -> None:
    net, admittance, emf = case
    nodes = list(range(net.node_count))
    branches = list(range(len(admittance)))
    random.shuffle(nodes)  # type: ignore[attr-defined]
    random.shuffle(branches)  # type: ignore[attr-defined]
    renamed = np.array(nodes)
    order = np.array(branches)
    ground = int(renamed[net.ground]) if net.ground >= 0 else -1
    other = Network(net.node_count, renamed[net.a][order], renamed[net.b][order], ground)
    here = Solver(net).solve(admittance, emf).current_a
    there = Solver(other).solve(admittance[order], emf[order]).current_a
    assert np.abs(here[order] - there).max() <= 1e-9 * (np.abs(admittance * emf).max() + 1e-30)


def test_fifteen_decades_in_one_network_keep_their_figures() -> None:
    """230 V through a contact and a million million ohm: the hundredth of a volt is not drowned."""
    net = network(4, [(0, 1), (1, 2), (2, 3), (3, 0)], ground=0)
    solution = solve(net, [0.01, 0.001, 1e12, 3e12], [230, 0, 0, 0])
    assert abs(solution.potential_v[3]) == pytest.approx(230 * 3 / 4, rel=1e-12)
    assert abs(solution.current_a[2]) == pytest.approx(230 / 4e12, rel=1e-12)
    assert abs(solution.current_a[1]) == pytest.approx(230 / 4e12, abs=1e-10)


def test_two_parts_without_a_path_have_no_voltage_between_them() -> None:
    net = network(4, [(0, 1), (2, 3)])
    solution = solve(net, [10, 10], [230, 0])
    assert solution.joined(0, 1)
    assert not solution.joined(0, 2)


def test_meter_and_thevenin_agree_with_the_meter_as_a_branch() -> None:
    ends = [(0, 1), (1, 2), (2, 0), (1, 3), (3, 0)]
    ohms = [0.5, 881, 22040, 1e6, 3e5 + 1e5j]
    open_v, source_ohm = solve(network(4, ends, 0), ohms, [230, 0, 0, 0, 0]).thevenin(3, 2)
    with_meter = solve(network(4, [*ends, (3, 2)], 0), [*ohms, 1e7], [230, 0, 0, 0, 0, 0])
    assert open_v * 1e7 / (1e7 + source_ohm) == pytest.approx(complex(with_meter.drop_v[-1]), rel=1e-12)


def test_a_large_network_is_solved_sparse_and_gives_the_same() -> None:
    """A ladder of sections: the sparse way against the closed form of its input resistance."""
    sections = DENSE_UP_TO
    ends = [(0, 1), *((i, i + 1) for i in range(1, sections)), *((i, 0) for i in range(2, sections + 1))]
    ohms = [1e-3, *[1.0] * (sections - 1), *[2.0] * (sections - 1)]
    solution = solve(network(sections + 1, ends, 0), ohms, [100, *[0] * (len(ends) - 1)])
    assert solution.topology.size >= DENSE_UP_TO
    resistance = 2.0
    for _ in range(sections - 2):
        resistance = 1 / (1 / 2.0 + 1 / (1.0 + resistance))
    assert abs(solution.current_a[0]) == pytest.approx(100 / (1e-3 + 1.0 + resistance), rel=1e-9)


@pytest.mark.parametrize(
    ("ends", "ohms", "emf", "code"),
    [
        ([(0, 1), (0, 1)], [0, 0], [230, 110], "source_loop"),
        ([(0, 1), (0, 1)], [0, 0], [0, 0], "ideal_short"),
        ([(0, 1), (1, 2)], [0, 5], [230, 0], "ideal_branch"),
        ([(0, 1), (0, 1), (0, 1)], [1j, -1j, 0.5j], [0, 0, 0], None),
        ([(0, 1), (0, 1)], [1j, -1j], [1, 0], "resonance"),
        ([(0, 1), (0, 1)], [float("nan"), 1], [1, 0], "undefined_value"),
    ],
)
def test_a_network_without_a_single_answer_is_named(
    ends: list[tuple[int, int]], ohms: list[complex], emf: list[complex], code: str | None
) -> None:
    net = network(1 + max(max(e) for e in ends), ends, 0)
    with np.errstate(divide="ignore", invalid="ignore"):
        admittance = np.array([np.inf if ohm == 0 else 1 / ohm for ohm in ohms], dtype=complex)
    if code is None:
        assert np.isfinite(Solver(net).solve(admittance, np.array(emf, dtype=complex)).potential_v).all()
        return
    with pytest.raises(SingularNetwork) as caught:
        Solver(net).solve(admittance, np.array(emf, dtype=complex))
    assert caught.value.problems[0].code == code


def test_a_changed_branch_that_would_lose_too_many_digits_is_solved_from_nothing() -> None:
    """Two branches in a row share the volts. By way of the factors from before, one ten to the eleventh part of what
    it was would be known to no digit."""
    net = network(2, [(0, 1), (1, 0)], 0)
    emf = np.array([230, 0], dtype=complex)
    solver = Solver(net)
    before = solver.solve(np.array([1e-20, 9e-9], dtype=complex), emf)
    after = np.array([1e-20, 1e-20], dtype=complex)
    assert solver.solve(after, emf, near=before).drop_v[1] == pytest.approx(115, rel=1e-9)
    assert solver.solve(after, emf).drop_v[1] == pytest.approx(115, rel=1e-9)


@pytest.mark.parametrize("extra", [0, DENSE_UP_TO + 10])
def test_resonance_is_named_although_rounding_leaves_a_trifle(extra: int) -> None:
    """Three reactances that cancel: 0.6 and 0.3 make 0.2 in a row, but not to the last digit."""
    branches = [((0, 1), 0.6j, 230), ((1, 2), 0.3j, 0), ((2, 0), -(0.6 * 0.3) / (0.6 + 0.3) * 1j, 0)]
    branches += [((0, 3 + n), 1.0 + 0j, 0) for n in range(extra)]
    net = network(3 + extra, [ends for ends, _, _ in branches], 0)
    admittance = np.array([siemens for _, siemens, _ in branches], dtype=complex)
    with pytest.raises(SingularNetwork) as caught:
        Solver(net).solve(admittance, np.array([emf for _, _, emf in branches], dtype=complex))
    assert caught.value.problems[0].code == "resonance"


@settings(max_examples=300, deadline=None)
@given(circuits(), st.data())
def test_one_branch_changed_is_what_solving_anew_gives(
    case: tuple[Network, np.ndarray, np.ndarray], data: st.DataObject
) -> None:
    """Drops of whatever takes more than a few nanoamperes, or nothing where digits would be lost."""
    net, admittance, emf = case
    branch = data.draw(st.integers(0, len(admittance) - 1))
    other = data.draw(st.sampled_from([0.0, 1 / 300, 1 / 30, 100.0]))
    changed = admittance.copy()
    changed[branch] = other
    before = Solver(net).solve(admittance, emf)
    flow = before.changed(branch, other)
    if flow is None:
        return
    anew = Solver(net).solve(changed, emf)
    scale = np.abs(anew.drop_v).max(initial=0) + np.abs(emf).max() + np.abs(before.drop_v).max(initial=0)
    conducts = np.abs(changed) > 1e-7
    assert np.abs(flow.drop_v - anew.drop_v)[conducts].max(initial=0) <= 1e-5 * scale
