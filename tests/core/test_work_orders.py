"""Work orders as an operator speaks, what is hidden and how often, and what an isolator leaves live."""

from collections import Counter
from dataclasses import replace

import pytest

from tests.core.circuits import circuit, device, end, wire
from tests.sweep import todays
from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.diagnosis.isolation import isolation_words, leaves_live
from wiretrace.diagnosis.procedure import Halt, halts_of
from wiretrace.faults.fault import Sort
from wiretrace.faults.kinds.contacts import WrongContact
from wiretrace.faults.kinds.elements import Open
from wiretrace.faults.possible import possible_faults
from wiretrace.faults.registry import kind_name
from wiretrace.faults.text import fault_from_text
from wiretrace.instruments.measures import Shown, Voltmeter
from wiretrace.library import library_circuit, library_names, library_sequence
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state, run
from wiretrace.training.exercise.bench import Outcome, seen_of
from wiretrace.training.exercise.hidden import Chance, _Likely, _two, draw
from wiretrace.training.exercise.order import BEFORE, TASK, looks_under, work_order
from wiretrace.training.exercise.record import Risk
from wiretrace.training.exercise.risks import Care, Proof, after
from wiretrace.training.exercise.steps import Lift, Read

START = library_circuit("start-stop-overload-line")


def halts_at(name: str) -> tuple[Halt, ...]:
    return halts_of(Assembly(library_circuit(name)), library_sequence(name).steps)


def ordered(name: str, *faults: str) -> str:
    drawn = library_circuit(name)
    return work_order(Assembly(drawn), [fault_from_text(drawn, text) for text in faults], halts_at(name))


@pytest.mark.parametrize("name", todays(library_names()))
def test_a_work_order_can_be_written_for_every_circuit_of_the_library(name: str) -> None:
    sound, halts = Assembly(library_circuit(name)), halts_at(name)
    told = work_order(sound, draw(sound, halts, 4, [Sort.OPEN]), halts)
    assert told.endswith(f". {TASK}")
    assert any(before in told for before in BEFORE)
    assert told[0].isupper() or told[0] == "“"


@pytest.mark.parametrize(
    ("name", "fault", "says"),
    [
        # One lead of the motor off: it hums, and nobody speaks of its contactor, which does what it should.
        ("start-stop-overload-line", "M1/U1=open", ("when i hold “start” (s1), the sump pump", "hum")),
        ("start-stop-overload-line", "K1/coil=open", ("when i hold “start” (s1),", "the sump pump")),
        # The seal is gone: it runs while the button is held.
        ("start-stop-overload-line", "K1:13=open", ("as soon as i let go of “start” (s1), the sump pump",)),
        ("start-stop-overload-line", "S0/11-12=welded", ("when i hold “stop” (s0), the sump pump",)),
        # A lamp alone.
        ("start-stop-overload-line", "H1/lamp=open", ("when i hold “start” (s1), “running” (h1)",)),
        ("start-stop-overload-line", "H1/lamp=short", ("f1 ",)),
        ("two-wire-float", "K1/coil=open", ("at “the level rises”: ", "the sump pump")),
    ],
)
def test_an_operator_tells_what_he_sees_and_hears(name: str, fault: str, says: tuple[str, ...]) -> None:
    told = ordered(name, fault).lower()
    assert [words for words in says if words not in told] == [], told
    assert "k1" not in told


def test_the_panel_is_told_of_only_where_nothing_else_is_otherwise() -> None:
    """A monitor that gives the wrong reason: no motor, no lamp, nothing that has tripped."""
    told = ordered("phase-monitor", "K9/L2-L3=open")
    assert "K9" in told or "“" in told
    for text in ("motor 1.5 kW", " kW"):
        assert text not in told


def test_the_same_symptom_is_told_in_the_same_words_whatever_lies_behind_it() -> None:
    """Else the words would tell which of the faults it is."""
    assert ordered("two-wire-float", "M1/U1=open") == ordered("two-wire-float", "M1:U1=open")
    assert ordered("start-stop-overload-line", "K1/coil=open") == ordered("start-stop-overload-line", "K1:A1=open")


def test_it_is_told_in_several_ways() -> None:
    told = {before for name in library_names()[::4] for before in BEFORE if before in ordered_of_first_open(name)}
    assert len(told) == len(BEFORE)


def ordered_of_first_open(name: str) -> str:
    sound, halts = Assembly(library_circuit(name)), halts_at(name)
    return " ".join(work_order(sound, draw(sound, halts, seed, [Sort.OPEN]), halts) for seed in (1, 2))


def test_no_pole_is_the_wrong_kind_of_contact() -> None:
    for name in library_names():
        sound = Assembly(library_circuit(name))
        for fault in possible_faults(sound.circuit, sound.devices):
            if isinstance(fault, WrongContact):
                parts = sound.devices[fault.place].structure.parts_that(Does.SWITCHES_LOAD)
                assert fault.branch not in {branch for part in parts for branch in part.branches}, fault


def test_faults_come_as_often_as_they_do_in_a_workshop() -> None:
    """Before, half of what was stuck was the wrong kind of contact."""
    sound, halts = Assembly(START), halts_at("start-stop-overload-line")
    drawn = Counter(kind_name(draw(sound, halts, seed, [Sort.STUCK])[0]) for seed in range(60))
    assert drawn["wrong_contact"] < 0.35 * 60
    assert len(drawn) > 1


def test_what_was_met_comes_more_rarely_and_not_the_same_again() -> None:
    sound, halts = Assembly(START), halts_at("start-stop-overload-line")
    before = [draw(sound, halts, seed, [Sort.OPEN])[0] for seed in range(30)]
    again = [draw(sound, halts, seed, [Sort.OPEN], before)[0] for seed in range(30)]
    assert not set(before) & set(again)
    loose = [fault for fault in possible_faults(START, sound.devices) if kind_name(fault) == "loose_terminal"][:1]
    told = Counter(kind_name(draw(sound, halts, seed, [Sort.OPEN], loose)[0]) for seed in range(40))
    plain = Counter(kind_name(draw(sound, halts, seed, [Sort.OPEN])[0]) for seed in range(40))
    assert told["loose_terminal"] < plain["loose_terminal"]


def test_a_choice_by_weight_is_as_often_as_the_weight_says() -> None:
    chance = Chance(7)
    drawn = Counter(chance.weighted([("a", 3.0), ("b", 1.0), ("c", 0.0)]) for _ in range(2000))
    assert drawn["a"] / drawn["b"] == pytest.approx(3.0, rel=0.15)
    # What hardly ever comes about still can.
    assert drawn["c"] <= 5


def test_of_two_hidden_faults_each_shows_by_itself() -> None:
    sound, halts = Assembly(START), halts_at("start-stop-overload-line")
    healthy = looks_under(sound, (), halts)
    for seed in range(6):
        for one in draw(sound, halts, seed, [Sort.TWO]):
            assert looks_under(sound, (one,), halts) != healthy


def test_two_hidden_faults_are_never_one_and_the_same() -> None:
    """Of two that there are both are taken, whatever is drawn."""
    known = [Open(place="w1"), Open(place="w2")]
    for seed in range(40):
        assert set(_two(Chance(seed), _Likely(()), known)) == set(known)


def test_what_an_isolator_leaves_live_is_its_own_side_of_the_supply() -> None:
    live = leaves_live(Assembly(START))
    assert {(one.device, one.terminal) for one in live if one.device == "isolator"} == {
        ("isolator", "1"),
        ("isolator", "3"),
        ("isolator", "5"),
    }
    told = isolation_words(Assembly(START))
    assert told.startswith("With Q1 locked off these stay live: G1 L1, L2, L3; Q1 1, 3, 5")


def test_where_the_supply_itself_is_off_nothing_is_left_live() -> None:
    assert leaves_live(Assembly(START), {"supply": {"switch": False}}) == ()
    assert leaves_live(Assembly(START), {"supply": {"switch": True}}) == leaves_live(Assembly(START))


def test_a_control_circuit_tapped_before_the_isolator_stays_live() -> None:
    """A lamp fed from before the isolator, as an excepted circuit is."""
    drawn = circuit(
        [device("g1", "supply_three_phase"), device("q1", "isolator"), device("h1", "lamp"), device("h2", "lamp")],
        [
            wire("w1", "g1:L1", "q1:1"),
            wire("w2", "q1:2", "h1:X1"),
            wire("w3", "h1:X2", "g1:N"),
            wire("w4", "g1:L2", "h2:X1"),
            wire("w5", "h2:X2", "g1:N"),
        ],
    )
    live = leaves_live(Assembly(drawn))
    assert end("h2:X1") in live
    assert end("h1:X1") not in live
    assert end("q1:2") not in live


def test_a_panel_without_anything_to_lock_says_nothing() -> None:
    drawn = circuit(
        [device("g1", "supply_three_phase"), device("h1", "lamp")],
        [wire("w1", "g1:L1", "h1:X1"), wire("w2", "h1:X2", "g1:N")],
    )
    assert leaves_live(Assembly(drawn)) == ()
    assert isolation_words(Assembly(drawn)) == ""


def test_work_on_what_the_isolator_leaves_live_is_a_risk_while_its_supply_is_on() -> None:
    sound = Assembly(START)
    frame = run(sound, initial_state(sound), (), 1_000_000).frames[-1]
    ends = {frozenset((wire.a.device, wire.b.device)): wire.id for wire in START.conductors}
    before, behind = (
        ends[frozenset(("supply", "isolator"))],
        next(wire.id for wire in START.conductors if "motor" in (wire.a.device, wire.b.device)),
    )
    care = Care(locked=True, proof=Proof.PROVED)
    seen = seen_of(frame)

    def risks(wire: str, supply_on: bool) -> tuple[Risk, ...]:
        stands = {**seen, "supply": replace(seen["supply"], on={**seen["supply"].on, "switch": supply_on})}
        return after(sound, care, Lift(wire=wire), Outcome((), stands, None, True))[1]

    assert risks(before, True) == (Risk.STAYS_LIVE,)
    assert risks(before, False) == ()
    assert risks(behind, True) == ()
    # Not locked at all, it is work on a live panel anyway.
    unlocked = after(sound, Care(), Lift(wire=before), Outcome((), seen, None, False))[1]
    assert unlocked == (Risk.WIRES_NOT_PROVED,)


@pytest.mark.parametrize(("volts", "live"), [(230.0, True), (-24.0, True), (-3.0, False), (0.0, False)])
def test_a_voltage_was_found_whichever_way_the_probes_were(volts: float, live: bool) -> None:
    sound = Assembly(START)
    seen = seen_of(run(sound, initial_state(sound), (), 1_000_000).frames[-1])
    ends = {"red": end("contactor:A1"), "black": end("contactor:A2")}
    step = Read(measure=Voltmeter(**ends))
    care, _ = after(sound, Care(), step, Outcome((), seen, Shown(display="", unit="V", value=volts), False))
    assert bool(care.live) is live
