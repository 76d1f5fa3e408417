"""A latching relay, a flasher and a key switch: what they do, and that all else knows them without being told."""

import pytest

from tests.core.circuits import Bench, circuit, device, end, wire
from wiretrace.checks.check import check
from wiretrace.checks.finding import Outcome
from wiretrace.document.circuit import Circuit
from wiretrace.explain.reading import explain_reading
from wiretrace.faults.kinds.contacts import Welded
from wiretrace.faults.kinds.elements import Open, Short
from wiretrace.interchange.lists import circuit_from_wire_list, wire_list
from wiretrace.layout.tidy import tidy
from wiretrace.simulation.fault_readings import readings_under
from wiretrace.simulation.race import find_races
from wiretrace.simulation.state import Action


def bay(*wires: tuple[str, str]) -> Circuit:
    """A pump that a latching relay remembers, with a lamp that flashes once the key is turned."""
    devices = [
        *(device("g1", "supply_single_phase"), device("f1", "breaker")),
        *(device("s1", "push_button"), device("s2", "push_button"), device("s3", "key_switch")),
        *(device("k1", "latching_relay"), device("k2", "contactor"), device("k3", "flasher"), device("h1", "lamp")),
    ]
    rows = [
        *(("g1:L", "f1:1"), ("f1:2", "s1:13"), ("s1:13", "s2:13"), ("s2:13", "k1:11"), ("k1:11", "s3:13")),
        *(("s1:14", "k1:A1"), ("s2:14", "k1:B1"), ("k1:14", "k2:A1"), ("s3:14", "k3:A1"), ("k3:A1", "k3:15")),
        *(("k3:18", "h1:X1"), ("k1:A2", "k1:B2"), ("k1:B2", "k2:A2"), ("k2:A2", "k3:A2"), ("k3:A2", "h1:X2")),
        *(("h1:X2", "g1:N"), *wires),
    ]
    return circuit(devices, [wire(f"w{n}", a, b) for n, (a, b) in enumerate(rows)])


def test_a_pulse_sets_it_and_another_resets_it() -> None:
    made = Bench(bay())
    made.do("s1", "press", True, wait_s=0.3)
    assert [made.says(name) for name in ("k1", "k2")] == ["set", "in"]
    made.do("s1", "press", False, wait_s=0.3)
    assert [made.says(name) for name in ("k1", "k2")] == ["set", "in"]
    made.do("s2", "press", True, wait_s=0.3)
    assert [made.says(name) for name in ("k1", "k2")] == ["reset", "out"]


def test_it_remembers_without_supply_and_what_it_feeds_comes_back_with_it() -> None:
    made = Bench(bay())
    made.do("s1", "press", True, wait_s=0.3)
    made.do("s1", "press", False, wait_s=0.1)
    made.do("g1", "switch", False, wait_s=1)
    assert [made.says(name) for name in ("k1", "k2")] == ["set", "out"]
    made.do("g1", "switch", True, wait_s=1)
    assert [made.says(name) for name in ("k1", "k2")] == ["set", "in"]


def test_with_both_coils_fed_it_stays_where_it_is() -> None:
    made = Bench(bay())
    made.do("s1", "press", True, wait_s=0.3)
    made.do("s2", "press", True, wait_s=0.3)
    assert made.says("k1") == "set"
    made.do("s1", "press", False, wait_s=0.3)
    assert made.says("k1") == "reset"


def test_below_its_least_voltage_it_does_not_answer() -> None:
    weak = bay()
    weak = weak.model_copy(
        update={"devices": (device("g1", "supply_single_phase", voltage_v=180.0), *weak.devices[1:])}
    )
    made = Bench(weak)
    made.do("s1", "press", True, wait_s=0.3)  # 180 V are 78 % of 230 V; it answers from 80 %.
    assert made.says("k1") == "reset"


def test_the_flasher_goes_on_and_off_while_it_is_fed() -> None:
    made = Bench(bay())
    made.do("s3", "turn", True, wait_s=0.25)
    assert [made.says(name) for name in ("s3", "k3", "h1")] == ["1", "on", "lit"]
    made.wait(0.5)
    assert [made.says(name) for name in ("k3", "h1")] == ["off", "dark"]
    made.wait(0.5)
    assert [made.says(name) for name in ("k3", "h1")] == ["on", "lit"]
    made.do("s3", "turn", False, wait_s=0.25)
    assert [made.says(name) for name in ("s3", "k3", "h1")] == ["0", "at rest", "dark"]


def test_the_checks_judge_them() -> None:
    results = {result.rule: result for result in check(bay())}
    assert all(result.outcome is not Outcome.CANNOT_TELL for result in results.values())
    assert results["coil_fed"].outcome is Outcome.CLEAR
    small = bay().model_copy(
        update={
            "devices": tuple(
                device(d.id, d.kind, **({"coil_voltage_v": 24.0} if d.id == "k1" else {})) for d in bay().devices
            )
        }
    )
    told = [finding.message for result in check(small) for finding in result.findings if result.rule == "coil_voltage"]
    assert [message.partition(";")[0] for message in told] == ["The coil K1 is made for 24 V"] * 2


def test_a_latching_relay_is_no_protection_against_a_start_by_itself() -> None:
    """What it has switched on comes back with the supply: its contact counts as one that stays."""
    pump = [
        device("m1", "motor_three_phase"),
        device("g2", "supply_three_phase"),
    ]
    wires = [wire(f"m{n}", f"g2:L{n}", f"k2:{2 * n - 1}") for n in (1, 2, 3)]
    wires += [wire(f"n{n}", f"k2:{2 * n}", f"m1:{lead}") for n, lead in enumerate(("U1", "V1", "W1"), 1)]
    base = bay()
    grown = base.model_copy(update={"devices": (*base.devices, *pump), "conductors": (*base.conductors, *wires)})
    found = {result.rule: [f.device for f in result.findings] for result in check(grown)}
    assert found["automatic_restart"] == ["k2"]


def test_two_latching_relays_that_race_are_found() -> None:
    """Each is set through the other's contact that is closed at rest."""
    devices = [device("g1", "supply_single_phase"), device("s1", "key_switch")]
    devices += [device(name, "latching_relay") for name in ("k1", "k2")]
    pairs = [("g1:L", "s1:13"), ("s1:14", "k1:11"), ("k1:11", "k2:11"), ("k2:12", "k1:A1"), ("k1:12", "k2:A1")]
    pairs += [("k1:A2", "g1:N"), ("k2:A2", "k1:A2")]
    made = Bench(circuit(devices, [wire(f"w{n}", a, b) for n, (a, b) in enumerate(pairs)]))
    hands = [Action(made.state.time_us, "s1", "turn")]
    found = find_races(made.assembly, made.state, hands, made.state.time_us + 500_000)
    assert [race.devices for race in found] == [("k1", "k2")]


@pytest.mark.parametrize("convention", ["iec", "nema"])
def test_they_are_laid_out_on_the_control_sheet(convention: str) -> None:
    sheets = tidy(bay(), convention).sheets  # type: ignore[arg-type]
    control = next(sheet for sheet in sheets if sheet.kind == "control")
    places = {(symbol.device, symbol.part) for symbol in control.symbols}
    assert {("k1", "set"), ("k1", "reset"), ("k1", "11-12-14"), ("k3", "coil"), ("s3", "13-14")} <= places


def test_a_list_of_wires_brings_them_back() -> None:
    base = bay()
    read = circuit_from_wire_list(wire_list(base), "again", base.devices)
    assert (read.problems, len(read.circuit.conductors)) == ((), len(base.conductors))
    latch = next(d for d in read.circuit.devices if d.label == "K1")
    assert latch.kind == "latching_relay"


def test_faults_and_reasons_know_them() -> None:
    stuck = Bench(bay())
    stuck.fail("K1=stuck")
    stuck.do("s1", "press", True, wait_s=0.3)
    assert stuck.says("k1") == "reset"
    made = Bench(bay())
    faults = [
        Open("k1", "set"),
        Welded("k1", "11-14"),
        Short("k3", "coil"),
    ]
    assert len(list(readings_under(made.assembly, made.frame, faults))) == 3
    said = explain_reading(made.assembly, made.frame, end("k1:14"), end("g1:N"))
    assert "K2" in " ".join(said.sentences)
    assert abs(said.reading.voltage_v) < 0.01
