"""Work over a document grows with its size and little more: twice the circuit, not four times the time.

Ratios within one run, by the processor's time, so that a busy machine is no defect.
"""

import time
from collections.abc import Callable

import pytest

from tests.core.circuits import circuit, device, end, wire
from wiretrace.checks.check import check
from wiretrace.document.circuit import Circuit, Conductor
from wiretrace.document.nets import nets
from wiretrace.explain.reading import explain_reading
from wiretrace.faults.kinds.wires import Misplaced
from wiretrace.interchange.lists import circuit_from_wire_list, wire_list
from wiretrace.layout.tidy import redrawn, tidy
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import frame_of, initial_state

MOST = 3.2
"""Linear is 2, quadratic 4."""


def separate(count: int) -> Circuit:
    """So many supplies, each with its own button and contactor."""
    devices, wires = [], []
    for n in range(count):
        devices += [device(f"g{n}", "supply_three_phase"), device(f"s{n}", "push_button"), device(f"k{n}", "contactor")]
        wires += [wire(f"a{n}", f"g{n}:L1", f"s{n}:13"), wire(f"b{n}", f"s{n}:14", f"k{n}:A1")]
        wires += [wire(f"c{n}", f"k{n}:A2", f"g{n}:N")]
    return circuit(devices, wires)


def in_a_row(count: int) -> Circuit:
    """So many buttons in series before one lamp."""
    devices = [device("g", "supply_three_phase"), device("h", "lamp")]
    devices += [device(f"s{n}", "push_button") for n in range(count)]
    ways = [f"s{n}:1{side}" for n in range(count) for side in (3, 4)]
    ends = ["g:L1", *ways, "h:X1"]
    wires = [wire(f"w{n}", ends[2 * n], ends[2 * n + 1]) for n in range(count + 1)]
    return circuit(devices, [*wires, wire("back", "h:X2", "g:N")])


def side_by_side(count: int) -> Circuit:
    """So many contactors with a button each on one supply: two terminals hold all the wires."""
    devices, wires = [device("g", "supply_three_phase")], []
    for n in range(count):
        devices += [device(f"s{n}", "push_button"), device(f"k{n}", "contactor")]
        wires += [wire(f"a{n}", "g:L1", f"s{n}:13"), wire(f"b{n}", f"s{n}:14", f"k{n}:A1")]
        wires += [wire(f"c{n}", f"k{n}:A2", "g:N")]
    return circuit(devices, wires)


def chain_of_wires(count: int) -> tuple[Conductor, ...]:
    """One potential, its wires in the order that makes the longest way to its first terminal."""
    return tuple(wire(f"w{n}", f"x{n + 1}:a", f"x{n}:a") for n in range(count))


def took_s(work: Callable[[], object]) -> float:
    times = []
    for _ in range(3):
        begun = time.process_time()
        work()
        times.append(time.process_time() - begun)
    return min(times)


def growth(of: Callable[[Circuit], object], make: Callable[[int], Circuit], count: int) -> float:
    """How much longer twice as much takes; measured again, up to four times, where something came in between."""
    small, large = make(count), make(2 * count)
    found = float("inf")
    for _ in range(4):
        found = min(found, took_s(lambda: of(large)) / took_s(lambda: of(small)))
        if found < MOST:
            break
    return found


@pytest.mark.parametrize("make", [separate, in_a_row, side_by_side])
def test_checks(make: Callable[[int], Circuit]) -> None:
    assert growth(check, make, 300) < MOST


@pytest.mark.parametrize("make", [separate, in_a_row, side_by_side])
def test_layout(make: Callable[[int], Circuit]) -> None:
    assert growth(lambda c: redrawn(tidy(c, "nema"), "nema"), make, 300) < MOST


def test_a_row_longer_than_calls_can_be_nested_is_laid_out() -> None:
    assert len(tidy(in_a_row(1900)).sheets[-1].symbols) >= 1900


@pytest.mark.parametrize("make", [separate, in_a_row, side_by_side])
def test_compiling_with_faults_on_every_wire(make: Callable[[int], Circuit]) -> None:
    def work(one: Circuit) -> None:
        to = end(f"{one.devices[0].id}:L1")
        Assembly(one, [Misplaced(w.id, end="a", to=to) for w in one.conductors])

    assert growth(work, make, 150) < MOST


def test_potentials_of_wires_in_the_worst_order() -> None:
    def of(one: Circuit) -> None:
        assert len(nets(one)) == 1

    def make(count: int) -> Circuit:
        return Circuit(title="chain", conductors=chain_of_wires(count))

    assert growth(of, make, 1500) < MOST


def test_a_reason_looks_at_what_can_matter_and_says_what_it_left_out() -> None:
    def why(one: Circuit) -> int:
        assembly = Assembly(one)
        frame = frame_of(assembly, initial_state(assembly))
        return explain_reading(assembly, frame, end("s0:13"), end("s0:14")).not_tried

    assert why(separate(100)) == 0
    assert 0 < why(side_by_side(400)) < 400
    assert growth(why, separate, 100) < MOST


def test_a_list_of_wires_is_read() -> None:
    assert growth(lambda c: circuit_from_wire_list(wire_list(c), "again"), side_by_side, 200) < MOST
