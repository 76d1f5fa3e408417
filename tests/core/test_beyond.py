"""Faults that are in no list: rare ones, two at once, what comes and goes, and where to look where none explains it."""

import random
from typing import Final

import numpy as np
import pytest

from scripts.beyond import Bench, bench, outsides, play
from tests.core.circuits import lamp
from wiretrace.diagnosis.advise import likely, standing
from wiretrace.diagnosis.dictionary import Observation, Shown, Task, dictionary, joined, show
from wiretrace.diagnosis.engine import Engine
from wiretrace.diagnosis.hypotheses import hypotheses, rare_hypotheses
from wiretrace.diagnosis.learning import STRENGTH, expected_shares, learned
from wiretrace.diagnosis.pairs import likely_pairs
from wiretrace.diagnosis.procedure import halts_of
from wiretrace.diagnosis.repertoire import Kind
from wiretrace.diagnosis.splitting import region
from wiretrace.diagnosis.wider import widened
from wiretrace.diagnosis.words import hypothesis_words, region_words, told
from wiretrace.document.circuit import End
from wiretrace.faults.kinds.terminals import Bridge
from wiretrace.faults.possible import possible_faults, rare_faults
from wiretrace.faults.registry import KINDS, kind_name
from wiretrace.faults.text import fault_from_text, fault_text
from wiretrace.library import library_circuit, library_names, library_sequence
from wiretrace.simulation.assembly import Assembly

LAMP: Final = Assembly(lamp())
FLOAT: Final = Assembly(library_circuit("two-wire-float"))


@pytest.fixture(scope="module")
def small() -> Engine:
    return Engine(dictionary(lamp()))


@pytest.fixture(scope="module")
def pump() -> Bench:
    return bench("two-wire-float")


@pytest.mark.by_turns(6)
@pytest.mark.parametrize("name", library_names())
def test_rare_faults_are_none_of_the_list_and_are_written_and_read(name: str) -> None:
    assembly = Assembly(library_circuit(name))
    listed = set(possible_faults(assembly.circuit, assembly.devices))
    rare = [one.faults[0] for one in rare_hypotheses(assembly)]
    assert len(rare) == len(set(rare)) > 0
    for fault in rare:
        assert fault not in listed
        assert KINDS[kind_name(fault)].about.rare
        assert fault.misfit(assembly.devices, {wire.id for wire in assembly.circuit.conductors}) is None
        assert fault_from_text(assembly.circuit, fault_text(assembly, fault)) == fault


def test_rare_faults_lie_between_neighbours_and_never_join_what_is_one_potential() -> None:
    bridges = [fault for fault in rare_faults(FLOAT.circuit, FLOAT.devices) if isinstance(fault, Bridge)]
    for fault in bridges:
        assert FLOAT.net_numbers[End(device=fault.place, terminal=fault.terminal)] != FLOAT.net_numbers[fault.to]
    # Every potential but the earth itself may come to earth.
    earth = next(end for end in FLOAT.net_numbers if end.terminal == "PE" and end.device == "supply")
    earthed = {FLOAT.net_numbers[End(device=one.place, terminal=one.terminal)] for one in bridges if one.to == earth}
    assert earthed == set(FLOAT.net_numbers.values()) - {FLOAT.net_numbers[earth]}
    names = {fault_text(FLOAT, fault) for fault in bridges}
    assert {"K1:1=to K1:3", "K1:A1=to K1:A2"} & names == {"K1:1=to K1:3"}


@pytest.mark.by_turns(3)
@pytest.mark.parametrize("name", ["two-wire-float", "start-stop-overload-line", "reversing-interlocked"])
def test_a_wire_on_another_terminal_is_read_by_correction_as_when_it_is_solved_anew(name: str) -> None:
    """One opens and one is added: two parts of a network are told against each other afresh where it joins them."""
    circuit = library_circuit(name)
    assembly = Assembly(circuit)
    task = Task(circuit, halts_of(assembly, library_sequence(name).steps), rare_hypotheses(assembly))
    for alike in random.Random(5).sample(task.alike, 24):
        for number, short in zip(alike, task.work_out(alike), strict=True):
            faults = task.rows[number][1]
            long = show(circuit, faults, task.halts, task.where)
            assert isinstance(short, Shown), short
            assert short.looks == long.looks, faults
            np.testing.assert_allclose(short.volts, long.volts, rtol=1e-6, atol=1e-4, err_msg=str(faults))
            assert np.array_equal(np.isinf(short.ohms), np.isinf(long.ohms)), faults
            np.testing.assert_allclose(short.ohms, long.ohms, rtol=1e-6, atol=1e-4, err_msg=str(faults))


def test_what_is_in_no_list_of_likely_faults_is_found_all_the_same(pump: Bench) -> None:
    chance = random.Random(4)
    found: dict[str, list[int]] = {}
    for hidden in outsides(pump, 3, chance):
        run = play(pump, hidden)
        if run is None or run.sound:
            continue
        assert run.ended
        # A wire on a far terminal is in no list at all: what is named there may be another, which shows the same.
        assert hidden.sort == "far" or not (run.confirmed and not run.place), hidden
        found.setdefault(hidden.sort, []).append(run.place)
    for sort in ("bridge", "moved", "exchanged", "setting"):
        assert set(found[sort]) == {1}, sort
    assert sum(place == 1 for place in found["two at once"]) >= 2


def test_a_phase_for_another_is_named_from_a_motor_that_turns_backward(pump: Bench) -> None:
    made = told(pump.rare, FLOAT, ["2: K1 = in", "2: M1 = turns backward"])
    first = hypothesis_words(pump.rare.known, FLOAT, likely(pump.rare, standing(pump.rare, made))[0][0])
    assert first.endswith("are exchanged")
    # No likely fault does it: the engine that knows those alone says so, rather than name one.
    alone = standing(pump.engine, told(pump.engine, FLOAT, ["2: M1 = turns backward", "5: M1 = turns backward"]))
    assert alone.outside
    assert not alone.confirmed


def test_two_faults_at_once_are_found_where_no_one_explains_it(small: Engine) -> None:
    made = told(small, LAMP, ["2: S1:13,G1:N = 0", "dead: H1:X1,H1:X2 = OL", "dead: F1:2,S1:13 = OL"])
    assert standing(small, made).unfitting != ()
    pairs = likely_pairs(small, made)
    assert 0 < len(pairs) <= 150
    assert all(one.also is not None and one.weight < 0.1 for one in pairs)
    both = widened(small, made)
    now = standing(both, made)
    assert now.unfitting == ()
    names = [hypothesis_words(both.known, LAMP, number) for number, _, _ in likely(both, now)]
    assert "The wire 2 from F1:2 to S1:13 is open; and The lamp H1 is open" in names or (
        "The lamp H1 is open; and The wire 2 from F1:2 to S1:13 is open" in names
    )


def test_nothing_observed_means_no_pair_to_look_at(small: Engine) -> None:
    assert likely_pairs(small, []) == ()


def test_what_comes_and_goes_is_said_to(small: Engine) -> None:
    """Once it is dark and once it is lit, with nothing done: no fault that stays explains it."""
    made = told(small, LAMP, ["2: H1 = dark", "2: H1:X1,H1:X2 = 230", "2: S1:13,S1:14 = 0", "2: H1 = lit"])
    now = standing(small, made)
    names = [hypothesis_words(small.known, LAMP, number) for number in now.fitful]
    assert "The lamp H1 is open" in names
    # Welded it would never have been dark.
    assert not any("welded" in name for name in names)
    assert standing(small, made[:1]).fitful == ()


def test_an_observation_made_twice_is_no_slip(small: Engine) -> None:
    made = told(small, LAMP, ["2: H1 = lit", "2: S1:13,G1:N = 0"])
    assert not standing(small, made).outside
    # The other one is then the slip; where both were made twice, neither is.
    assert [standing(small, made, sure).unfitting for sure in ({0}, {1})] == [(1,), (0,)]
    assert standing(small, made, {0, 1}).outside
    assert not standing(small, made, {0, 1}).confirmed


def test_where_nothing_explains_it_the_way_is_halved(small: Engine) -> None:
    """H1 is dark, S1:13 has its voltage and the lamp has none: between them it is."""
    made = told(small, LAMP, ["2: H1 = dark"])
    first = region(small, LAMP, made)
    assert first is not None
    assert (first.device, first.halt) == ("h1", 1)
    assert first.next is not None
    made += told(small, LAMP, ["2: S1:13,G1:N = 230", "2: H1:X1,G1:N = 0"])
    found = region(small, LAMP, made)
    assert found is not None
    ends = [small.known.spots[found.next.spot].red] if found.next else []
    assert (found.first.device, found.first.terminal) == ("s1", "13")
    assert (found.last.device, found.last.terminal) == ("h1", "X1")
    assert ends == [End(device="s1", terminal="14")]
    assert found.as_drawn_v == pytest.approx(230, abs=1)
    assert set(found.places) >= {"s1", "h1"}
    assert "f1" not in found.places
    assert region_words(LAMP, small.known, found).startswith("Between S1:13 and H1:X1, on the way of H1, in state 2")
    made += told(small, LAMP, ["2: S1:14,G1:N = 0"])
    last = region(small, LAMP, made)
    assert last is not None
    assert (last.last.terminal, last.next) == ("14", None)


def test_nothing_seen_that_is_not_as_drawn_gives_no_region(small: Engine) -> None:
    assert region(small, LAMP, told(small, LAMP, ["2: H1 = lit", "2: S1:13,G1:N = 0"])) is None
    assert region(small, LAMP, []) is None


def test_a_dictionary_joined_to_another_numbers_its_faults_behind(small: Engine) -> None:
    more = dictionary(small.known.circuit, small.known.halts, rare_hypotheses(LAMP))
    both = joined(small.known, more)
    first = len(small.known.hypotheses)
    assert both.volts.shape[0] == small.known.volts.shape[0] + more.volts.shape[0]
    assert both.hypotheses[int(both.of[-1])] == more.hypotheses[int(more.of[-1])]
    assert int(both.of[len(small.known.of)]) == first + int(more.of[0])
    made = [(Observation(Kind.LOOK, 0), small.known.looks[0][0])]
    assert standing(Engine(both), made).unfitting == ()


def test_what_was_found_often_is_likelier() -> None:
    shares = expected_shares(LAMP)
    assert sum(shares.values()) == pytest.approx(1)
    assert shares.keys() <= {kind_name(one.faults[0]) for one in hypotheses(LAMP) if one.faults}
    before, after = learned({}), learned({"open": (0, 4.0), "short": (4, 0.2)})
    assert after["open"] == pytest.approx(before["open"] * STRENGTH / (STRENGTH + 4), abs=0.001)
    assert after["short"] == pytest.approx(before["short"] * (STRENGTH + 4) / (STRENGTH + 0.2), abs=0.001)
    assert after["stuck"] == before["stuck"]


def test_other_weights_leave_rare_faults_rare(small: Engine) -> None:
    both = widened(small, [])
    heavy = both.weighed({"setting": 10.0})
    of = [n for n, one in enumerate(both.known.hypotheses) if one.faults and kind_name(one.faults[0]) == "setting"]
    for number in of:
        assert heavy.known.hypotheses[number].weight == pytest.approx(10 * both.known.hypotheses[number].weight)
