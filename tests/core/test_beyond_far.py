"""What rare faults weigh beside likely ones, and where evidence points in a motor circuit."""

from typing import Final

import pytest

from scripts.slips import known_of
from wiretrace.diagnosis.engine import Engine
from wiretrace.diagnosis.hypotheses import WEIGHTS, rare_hypotheses
from wiretrace.diagnosis.splitting import region
from wiretrace.diagnosis.words import told
from wiretrace.faults.kinds.wires import Exchanged, Misplaced
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly

FLOAT: Final = Assembly(library_circuit("two-wire-float"))


@pytest.fixture(scope="module")
def engine() -> Engine:
    return Engine(known_of("two-wire-float"))


def test_rare_faults_are_rare() -> None:
    for one in rare_hypotheses(FLOAT):
        assert one.weight < min(WEIGHTS.values()) + 0.01, one


@pytest.mark.parametrize("name", ["two-wire-float", "star-delta-relay"])
def test_wires_of_one_potential_are_not_taken_for_each_other(name: str) -> None:
    assembly = Assembly(library_circuit(name))
    number = {wire.id: assembly.net_numbers[wire.a] for wire in assembly.circuit.conductors}
    found = [one.faults[0] for one in rare_hypotheses(assembly)]
    exchanged = [one for one in found if isinstance(one, Exchanged)]
    moved = [one for one in found if isinstance(one, Misplaced)]
    assert len(exchanged) > 20
    assert all(number[one.place] != number[one.other] for one in exchanged)
    assert all(number[one.place] != assembly.net_numbers.get(one.to) for one in moved)


def test_of_three_lines_that_which_was_read_otherwise_is_halved(engine: Engine) -> None:
    """K1 is in, M1 hums; L2 is not behind Q2. A reading between two terminals of one line has no say."""
    made = told(engine, FLOAT, ["2: M1 = hums", "2: K1:6,M1:W1 = 0.4", "2: K1:3,G1:L1 = 0"])
    found = region(engine, FLOAT, made)
    assert found is not None
    assert (found.device, found.first.terminal, found.first.device) == ("motor", "L2", "supply")
    assert (found.last.device, found.last.terminal) == ("contactor", "3")
    assert found.next is not None
    way = ["supply:L2", "isolator:3", "isolator:4", "motor-breaker:3", "motor-breaker:4", "contactor:3"]
    at = engine.known.spots[found.next.spot].red
    assert way.index(f"{at.device}:{at.terminal}") in (2, 3)
    made += told(engine, FLOAT, ["2: K1:4,M1:V1 = 399"])
    again = region(engine, FLOAT, made)
    assert again is not None
    assert (again.first, again.last) == (found.first, found.last)


def test_what_hangs_on_another_that_fails_is_not_where_to_look(engine: Engine) -> None:
    """Neither K1 nor M1 does what it should: it is K1 that is looked at."""
    found = region(engine, FLOAT, told(engine, FLOAT, ["2: M1 = still", "2: K1 = out", "2: H1 = dark"]))
    assert found is not None
    assert found.device in ("contactor", "lamp")
