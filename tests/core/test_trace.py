"""The diagnosis engine: what fits, what to measure next, and that its own way leads to the fault."""

import json
import math
from pathlib import Path

import numpy as np
import pytest
from click.testing import CliRunner

from scripts.slips import known_of
from tests.core.circuits import circuit, device, lamp
from wiretrace.cli.main import main
from wiretrace.diagnosis.dictionary import Observation, Shown, dictionary, show
from wiretrace.diagnosis.engine import Engine
from wiretrace.diagnosis.hypotheses import hypotheses
from wiretrace.diagnosis.path import against, audit, follow
from wiretrace.diagnosis.procedure import halts_of, reached
from wiretrace.diagnosis.repertoire import DEAD, EFFORT, Kind, lookers, spots, way_there
from wiretrace.diagnosis.words import figure, first_words, hypothesis_words, told
from wiretrace.errors import MalformedDocument, UnknownTarget
from wiretrace.faults.kinds.elements import HighResistance, Open
from wiretrace.faults.kinds.terminals import LooseTerminal
from wiretrace.faults.possible import possible_faults
from wiretrace.faults.text import fault_from_text
from wiretrace.instruments.ohmmeter import read_resistance
from wiretrace.instruments.voltmeter import read_voltage
from wiretrace.library import library_circuit, library_names, library_sequence
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state

FLOAT = library_circuit("two-wire-float")


@pytest.fixture(scope="module")
def small() -> Engine:
    return Engine(dictionary(lamp()))


@pytest.fixture(scope="module")
def pump() -> Engine:
    return Engine(dictionary(FLOAT, halts_of(Assembly(FLOAT), library_sequence("two-wire-float").steps)))


def left(engine: Engine, *faults: str) -> list[str]:
    known = engine.known
    path = against(engine, [fault_from_text(known.circuit, text) for text in faults])
    return [hypothesis_words(known, Assembly(known.circuit), number) for number in path.left]


def test_advice_goes_by_what_it_tells_for_its_effort(small: Engine) -> None:
    """Ohms stand behind volts that tell less, since the supply has to be locked off for them first; not once it is."""
    found = small.advice(np.ones(len(small.weights), dtype=np.bool_), 30)
    told = [(one.bits, EFFORT[one.observation.kind] + way_there(None, one.observation.halt)) for one in found]
    worth = [bits / effort for bits, effort in told]
    assert worth == sorted(worth, reverse=True)
    assert [bits for bits, _ in told] != sorted((bits for bits, _ in told), reverse=True)
    assert {one.observation.kind for one in found} >= {Kind.VOLTS, Kind.OHMS}
    dead = small.advice(np.ones(len(small.weights), dtype=np.bool_), 30, now=DEAD)
    assert dead[0].observation.kind is Kind.OHMS
    assert found[0].observation.kind is not Kind.OHMS


def test_coming_to_a_state_costs_what_has_to_be_done_for_it() -> None:
    costs = {(now, to): way_there(now, to) for now in (None, DEAD, 0, 2) for to in (DEAD, 0, 1, 3)}
    free = {way for way, cost in costs.items() if cost == 0}
    assert free == {(None, 0), (None, 1), (None, 3), (DEAD, DEAD), (0, 0), (0, 1), (0, 3), (2, 3)}
    assert costs[0, DEAD] > costs[DEAD, 0] > costs[2, 1] > 0


def test_every_step_of_a_path_says_what_has_to_be_done_before_it(pump: Engine) -> None:
    """Ohms are read with the supply locked off, volts with it on: between the two stands how one comes there."""
    known, both = pump.known, 0
    for row in range(1, pump.rows, 7):
        path = follow(pump, Shown(known.looks[row], known.volts[row], known.ohms[row]))
        now: int | None = None
        for one in path.taken:
            what = one.observation
            first = first_words(known, now, what.halt)
            if what.kind is Kind.OHMS:
                assert what.halt == DEAD
                assert (first == "") == (now == DEAD)
                both += now != DEAD
            elif now == DEAD:
                assert first.startswith("First close up, unlock, put it under power and come to state")
            else:
                assert (first == "") == (now is None or what.halt >= now)
            now = what.halt
    assert both > 3


HARD = {
    "capacitor-motor-rc-mistake": 1.25,
    "frequency-converter-contactor-mistake": 1.70,
    "frequency-converter-fan": 1.25,
    "hand-off-auto-timer": 1.15,
    "phase-monitor": 1.20,
    "plugging-zero-speed": 1.15,
    "residual-current-neutral-mistake": 1.40,
    "reversing-stage-1": 1.25,
    "reversing-stage-3": 1.20,
    "safety-relay-dual-contactors": 1.45,
    "soft-starter-bypass": 1.35,
    "star-delta-closed-transition": 1.45,
    "star-delta-plc": 1.35,
    "two-wire-sensor-leakage": 1.30,
}
"""Mean over bound, where many faults show nothing and each wants a reading to be ruled out; 1.1 elsewhere."""


@pytest.mark.by_turns(10)
@pytest.mark.parametrize("name", library_names())
def test_what_coming_there_costs_counted_the_advice_comes_near_the_bound(name: str) -> None:
    found = audit(Engine(known_of(name)))
    assert found.missed == ()
    assert found.mean <= HARD.get(name, 1.1) * found.bound
    # With what coming to each state costs, and never more than locked off and put back once on the mean.
    assert found.effort <= found.mean + 4.5 * max(found.switched, 0.4)
    assert found.switched < 1.1


def test_without_a_sequence_every_button_is_pressed_and_let_go(small: Engine) -> None:
    told = [halt.text for halt in small.known.halts]
    assert told == ["Under power, nothing touched", "Hold S1", "Let S1 go"]


def test_what_is_in_the_dictionary_is_what_the_instruments_show() -> None:
    """Volts and ohms of one fault in every state, against the meters themselves."""
    steps = library_sequence("two-wire-float").steps
    halts, where = halts_of(Assembly(FLOAT), steps), spots(Assembly(FLOAT))
    fault = fault_from_text(FLOAT, "K1/coil=300ohm")
    shown = show(FLOAT, [fault], halts, where)
    assembly = Assembly(FLOAT, [fault])
    state = initial_state(assembly)
    for number, halt in enumerate(halts):
        frame, state = reached(assembly, state, halt)
        assert shown.looks[number] == tuple(frame.views[item.id].status for item in lookers(assembly))
        for at, spot in enumerate(where):
            volts = read_voltage(assembly, frame.point, spot.red, spot.black).voltage_v
            assert shown.volts[number, at] == pytest.approx(abs(volts), rel=1e-6, abs=1e-6)
    supplies = [item.id for item in assembly.devices.values() if item.kind.poles]
    fed = [w.id for w in FLOAT.conductors if w.a.device in supplies or w.b.device in supplies]
    dead = Assembly(FLOAT, [fault, *(fault_from_text(FLOAT, f"{wire}=open") for wire in fed)])
    frame, _ = reached(dead, initial_state(dead), halts[0])
    coil = next(n for n, s in enumerate(where) if (s.red.terminal, s.black.terminal) == ("A1", "A2"))
    ohm = read_resistance(dead, frame, where[coil].red, where[coil].black).resistance_ohm
    assert ohm is not None
    assert shown.ohms[coil] == pytest.approx(ohm, rel=0.01)
    # Between two phases there is nothing while the motor is off: the supply itself is not what is measured.
    phases = next(n for n, s in enumerate(where) if (s.red.terminal, s.black.terminal) == ("3", "L1"))
    assert math.isinf(shown.ohms[phases])


def test_half_splitting_comes_of_itself(small: Engine) -> None:
    """The lamp stays dark: of what is left the best reading parts the way in the middle."""
    look = Observation(Kind.LOOK, 1)
    dark = small.everything & small.fits(look, ("on", "dark"))
    best = small.advice(dark, 1, made=[look])[0]
    assert best.bits > 0.95
    assert best.leaves[2] <= 0.6 * len(small.left(dark))


def test_the_engine_comes_to_every_fault_of_a_small_circuit_and_of_a_pump(small: Engine, pump: Engine) -> None:
    for engine in (small, pump):
        found = audit(engine)
        assert found.missed == ()
        assert found.mean <= 1.3 * found.bound
        assert engine.known.left_out == ()
        # What cannot be told apart is a group, and every fault is in one.
        grouped = {number for group in found.groups for number in group}
        assert grouped >= set(range(1, len(engine.known.hypotheses)))


def test_what_the_engine_calls_alike_nothing_tells_apart(small: Engine) -> None:
    for group in audit(small).groups:
        rows = np.isin(small.known.of, group)
        assert all(one.bits < 0.6 for one in small.advice(rows))


@pytest.mark.parametrize("ohm", [60, 120, 900, 2000])
def test_a_joint_with_ohms_that_the_dictionary_does_not_hold_is_found(pump: Engine, ohm: int) -> None:
    wires = [w for w in FLOAT.conductors if w.a.terminal == "A1" or w.b.terminal == "A1"]
    found = left(pump, f"{wires[0].id}={ohm}ohm")
    assert any(words.startswith("A bad joint in the wire") and "K1:A1" in words for words in found), found


def test_readings_that_are_off_within_the_tolerance_of_a_meter_lead_to_the_same_fault(pump: Engine) -> None:
    """One per cent and three tenths of a volt to either side, by chance, on every reading."""
    chance = np.random.default_rng(7)
    known = pump.known
    for number in range(1, len(known.hypotheses), 7):
        row = int(np.flatnonzero(known.of == number)[0])
        possible, made = pump.everything.copy(), list[Observation]()
        while advices := pump.advice(possible, 1, made=made):
            what = advices[0].observation
            made.append(what)
            if what.kind is Kind.LOOK:
                outcome: float | tuple[str, ...] = known.looks[row][what.halt]
            else:
                true = known.volts[row, what.halt, what.spot] if what.kind is Kind.VOLTS else known.ohms[row, what.spot]
                outcome = float(abs(true * (1 + chance.uniform(-0.01, 0.01)) + chance.uniform(-0.3, 0.3)))
            possible = possible & pump.fits(what, outcome)
        assert number in pump.left(possible)


def test_what_no_fault_explains_leaves_nothing(pump: Engine) -> None:
    spot = next(n for n, s in enumerate(pump.known.spots) if s.red.terminal == "A1" and s.black.terminal == "A2")
    assert not (pump.everything & pump.fits(Observation(Kind.VOLTS, 0, spot), 4711.0)).any()


def test_joints_work_loose_more_often_than_contacts_weld() -> None:
    weights = {type(one.fault): one.weight for one in hypotheses(Assembly(lamp()))}
    assert weights[LooseTerminal] > weights[Open] > weights[HighResistance]


@pytest.mark.parametrize(
    ("text", "kind", "value"),
    [
        ("230 V", Kind.VOLTS, 230.0), ("230,5", Kind.VOLTS, 230.5), ("nothing", Kind.VOLTS, 0.0),
        ("1.2k", Kind.OHMS, 1200.0), ("OL", Kind.OHMS, math.inf), ("beeps", Kind.OHMS, 0.0),
        ("12 mV", Kind.VOLTS, 0.012),        ("2 M", Kind.OHMS, 2e6),
    ],
)  # fmt: skip
def test_readings_are_understood_as_people_write_them(text: str, kind: Kind, value: float) -> None:
    assert figure(1, "", text, kind) == pytest.approx(value)


@pytest.mark.parametrize(
    ("line", "error", "message"),
    [
        ("K1 is in", MalformedDocument, "Write 2: K1 = in"),
        ("99: H1 = lit", MalformedDocument, "There are 3 states"),
        ("1: S1:13,S1:14 = much", MalformedDocument, "is no reading"),
        ("1: X9 = lit", UnknownTarget, "of X9 nothing is seen"),
        ("1: S1:13,X9:1 = 0", UnknownTarget, "no device X9"),
        ("dead: H1 = lit", MalformedDocument, "only ohms"),
    ],
)
def test_a_line_that_cannot_be_understood_is_named(
    small: Engine, line: str, error: type[Exception], message: str
) -> None:
    with pytest.raises(error, match=message):
        told(small, Assembly(small.known.circuit), ["1: H1 = dark", line])


def command(tmp_path: Path, *more: str) -> dict[str, object]:
    file = tmp_path / "lamp.json"
    file.write_text(lamp().model_dump_json(), "utf-8")
    result = CliRunner().invoke(main, ["trace", str(file), *more, "--json"])
    assert result.exit_code == 0, result.output
    found: dict[str, object] = json.loads(result.output[result.output.index("{") :])
    return found


def test_the_shell_plays_the_advice_audits_and_takes_what_was_seen(tmp_path: Path) -> None:
    played = command(tmp_path, "--hidden", "w2=open")
    assert played["left"] == ["The wire 14 from S1:14 to H1:X1 is open"] or "S1:14 to H1:X1 is open" in str(
        played["left"]
    )
    audited = command(tmp_path, "--audit")
    assert audited["missed"] == []
    assert isinstance(audited["ratio"], float)
    assert audited["ratio"] <= 1.3
    seen = tmp_path / "seen.txt"
    seen.write_text("# dark, and the supply stands at the lamp\n2: H1 = dark\n2: H1:X1,H1:X2 = 230 V\n", "utf-8")
    advised = command(tmp_path, "--seen", str(seen))
    assert all("H1" in one["fault"] for one in advised["possible"] if one["fits"])  # type: ignore[attr-defined]
    assert advised["does_not_fit"] == []


def test_observations_that_do_not_fit_are_named_and_the_others_still_count(tmp_path: Path) -> None:
    seen = tmp_path / "seen.txt"
    seen.write_text("2: H1 = dark\n2: H1:X1,H1:X2 = 4711 V\n", "utf-8")
    advised = command(tmp_path, "--seen", str(seen))
    assert advised["does_not_fit"] == ["2. Hold S1: volts from H1:X1 to H1:X2"]
    assert advised["possible"]


def test_the_shell_names_what_it_cannot_do(tmp_path: Path) -> None:
    file = tmp_path / "lamp.json"
    file.write_text(lamp().model_dump_json(), "utf-8")
    for more, message in (
        ((), "Say one of --hidden"),
        (("--seen", "nowhere.txt"), "There is no file"),
        (("--hidden", "X9=stuck"), "X9"),
    ):
        result = CliRunner().invoke(main, ["trace", str(file), *more])
        assert result.exit_code == 2
        assert message in result.output


@pytest.mark.parametrize("name", library_names())
def test_an_instructor_is_told_how_to_set_every_fault_of_every_circuit(name: str) -> None:
    assembly = Assembly(library_circuit(name))
    for fault in possible_faults(assembly.circuit, assembly.devices):
        words = fault.how_to_set(assembly)
        assert words.endswith(".")
        assert "None" not in words


def test_a_fault_is_set_by_what_a_hand_can_do() -> None:
    assembly = Assembly(library_circuit("start-stop-overload-line"))
    told = {
        text: fault_from_text(assembly.circuit, text).how_to_set(assembly)
        for text in ("c3=open", "K1:A1=open", "K1/13-14=welded", "F2.dial_a=6.8", "M1=stuck", "K1/coil=short")
    }
    assert told == {
        "c3=open": "Lift the wire off S0:12 (the other end is at S1:13) and insulate its end.",
        "K1:A1=open": "Lift all wires off K1:A1; keep them together.",
        "K1/13-14=welded": "Bridge K1:13 and K1:14 with a wire.",
        "F2.dial_a=6.8": "Set dial of F2 to 6.8 A.",
        "M1=stuck": "Not on a board: a blocked M1 burns. Show it on the screen.",
        "K1/coil=short": "Not on a board: show it on the screen.",
    }


def test_a_circuit_in_which_nothing_is_joined_has_a_dictionary() -> None:
    """Not one unknown: every terminal stands by itself."""
    alone = circuit([device("h1", "lamp"), device("s1", "push_button")], [])
    assert dictionary(alone).left_out == ()
    assert dictionary(circuit([], [])).volts.shape[2] == 0


def test_other_weights_change_what_is_likely_and_nothing_that_fits(small: Engine) -> None:
    other = small.weighed({"short": 50.0})
    assert [type(other.known.hypotheses[n].fault).__name__ for n in other.left(other.everything)[:1]] == ["Short"]
    assert sorted(other.left(other.everything)) == sorted(small.left(small.everything))
    assert small.weights.sum() != other.weights.sum()


@pytest.mark.parametrize("text", ["hm", "turns", "in,", "=0"])
def test_what_no_device_does_is_refused_with_what_it_may_be(small: Engine, text: str) -> None:
    with pytest.raises(MalformedDocument, match=r"is nothing that this device is seen to do. It may be .*lit"):
        told(small, Assembly(small.known.circuit), [f"2: H1 = {text}"])


@pytest.mark.parametrize("text", ["dark", "Dark", "  lit ", "glows faintly", "sounds"])
def test_what_a_device_does_is_taken_by_its_words_or_its_code(small: Engine, text: str) -> None:
    assert len(told(small, Assembly(small.known.circuit), [f"2: H1 = {text}"])) == 1
