"""Chatter: found, named, followed for as long as it lasts, and the same wherever the run is cut."""

import random

import pytest

from scripts.adversary import anything, attacked
from tests.core.circuits import SECOND, Bench, chattering, circuit, device, wire
from wiretrace.document.circuit import Circuit
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.chatter import _steady, grown
from wiretrace.simulation.engine import Trajectory, initial_state, run
from wiretrace.simulation.state import Action, State


def test_chatter_is_found_named_and_does_not_hang() -> None:
    """Its coil takes 56 times its rated heat for 14.4 of 16.8 ms, and burns after 900 s ln(48.2 / 43.7) = 88 s."""
    bench = Bench(chattering())
    bench.wait(3600.0)
    assert bench.says("k1") == "coil burnt"
    (chatter,) = bench.trajectory.chatters
    assert chatter.devices == ("k1",)
    # 14.4 ms until the contact opens, 2.4 ms for the armature to fall back from there.
    assert chatter.period_us == 16_800
    assert chatter.until_us / SECOND == pytest.approx(88.0, abs=1.0)
    assert len(bench.trajectory.frames) < 200
    assert bench.state.time_us == 3600 * SECOND


def with_a_chattering_relay(base: Circuit) -> Circuit:
    return base.model_copy(
        update={
            "devices": (*base.devices, device("k9", "control_relay")),
            "conductors": (
                *base.conductors,
                *(wire("x1", "supply:L1", "k9:11"), wire("x2", "k9:12", "k9:A1"), wire("x3", "k9:A2", "supply:N")),
            ),
        }
    )


def test_what_heats_beside_a_chattering_relay_heats_while_chatter_is_skipped() -> None:
    """The overload relay of a steady motor comes to the same heat with a relay chattering beside it as without."""
    base = library_circuit("start-stop-overload-line")
    beside = with_a_chattering_relay(base)
    heats = []
    for one in (base, beside):
        bench = Bench(one)
        bench.do("start", "press")
        bench.do("start", "press", False)
        bench.wait(120)
        assert bench.says("contactor") == "in"
        heats.append(float(bench.frame.state.devices["overload"]["heat_1"]))
    assert bench.trajectory.chatters
    assert heats[0] > 0.3
    assert heats[1] == pytest.approx(heats[0], rel=0.01)


def test_a_motor_that_coasts_beside_a_chattering_relay_coasts_as_without() -> None:
    """Its speed falls less and less each period, so carrying on the last change would stop it too early or too late."""
    speeds = []
    for one in (library_circuit("two-speed-fan"), with_a_chattering_relay(library_circuit("two-speed-fan"))):
        bench = Bench(one)
        bench.do("slow", "press", wait_s=3.0)
        bench.do("slow", "press", False)
        bench.do("stop", "press", wait_s=1.0)
        speeds.append([])
        for _ in range(6):
            bench.wait(1.0)
            speeds[-1].append(float(bench.state.devices["motor"]["speed"]))
    assert speeds[0][0] > 0.2 > speeds[0][-1]
    assert speeds[1] == pytest.approx(speeds[0], rel=1e-3, abs=1e-4)


def test_chatter_ends_with_its_cause() -> None:
    bench = Bench(chattering())
    start = bench.state.time_us
    actions = [Action(start + 2 * SECOND, "g1", "switch", False)]
    bench.trajectory = run(bench.assembly, bench.state, actions, start + 5 * SECOND)
    (chatter,) = bench.trajectory.chatters
    assert chatter.until_us == start + 2 * SECOND
    assert bench.trajectory.frames[-1].views["k1"].says == "out"


def hunting(dial_a: float = 3.4, **motor: float | str) -> Circuit:
    """A contactor that pulls in a relay that drops it out: to and fro every 43.6 ms, with a motor behind it."""
    parts = [
        device("g1", "supply_three_phase"),
        device("k1", "contactor"),
        device("k2", "control_relay"),
        device("f2", "overload_relay", dial_a=dial_a),
        device("m1", "motor_three_phase", **motor),
        device("k3", "timer_relay", delay_s=7.3),
        device("h1", "lamp"),
    ]
    ways = [("g1:L1", "f2:95"), ("f2:96", "k2:11"), ("k2:12", "k1:A1"), ("k1:A2", "g1:N"), ("f2:96", "k1:13")]
    ways += [("k1:14", "k2:A1"), ("k2:A2", "g1:N"), ("f2:96", "k3:A1"), ("k3:A2", "g1:N")]
    ways += [("f2:96", "k3:15"), ("k3:18", "h1:X1"), ("h1:X2", "g1:N")]
    for phase, (a, b, lead) in enumerate((("1", "2", "U1"), ("3", "4", "V1"), ("5", "6", "W1")), 1):
        ways += [(f"g1:L{phase}", f"k1:{a}"), (f"k1:{b}", f"f2:{a}"), (f"f2:{b}", f"m1:{lead}")]
    return circuit(parts, [wire(f"w{n}", a, b) for n, (a, b) in enumerate(ways)])


def says_from(trajectory: Trajectory, device_id: str, word: str) -> int | None:
    """When a device first says this, microseconds."""
    return next((f.state.time_us for f in trajectory.frames if f.views[device_id].says == word), None)


def in_pieces(assembly: Assembly, cuts_us: list[int]) -> State:
    state = initial_state(assembly)
    for cut_us in cuts_us:
        state = run(assembly, state, [], cut_us).end
    return state


@pytest.mark.parametrize("motor", [{}, {"load": "constant", "load_percent": 100.0}, {"load_percent": 60.0}])
def test_a_motor_behind_a_chattering_contactor_turns_and_heats_the_same_in_one_run_and_in_pieces(
    motor: dict[str, float | str],
) -> None:
    assembly = Assembly(hunting(2.0, **motor))
    end_us = 120 * SECOND
    whole = run(assembly, initial_state(assembly), [], end_us)
    assert whole.chatters[0].period_us == 43_600
    chance = random.Random(7)
    for _ in range(3):
        cuts = sorted(chance.randint(0, end_us) for _ in range(5))
        end = in_pieces(assembly, [*cuts, end_us])
        for device_id, state in whole.end.devices.items():
            for name, value in state.items():
                if isinstance(value, float):
                    assert end.devices[device_id][name] == pytest.approx(value, rel=1e-3, abs=1e-3), name
                elif not name.endswith("_us"):
                    assert end.devices[device_id][name] == value, name


def test_the_overload_behind_a_chattering_contactor_heats_and_trips() -> None:
    """Cut into steps so short that nothing is leapt, it trips at the same time to a period."""
    assembly = Assembly(hunting(2.0, load="constant", load_percent=100.0))
    leapt = run(assembly, initial_state(assembly), [], 60 * SECOND)
    trips_us = says_from(leapt, "f2", "tripped")
    assert trips_us is not None
    state, stepped_us = initial_state(assembly), None
    while stepped_us is None:
        part = run(assembly, state, [], state.time_us + 100_000)
        assert not part.chatters
        state, stepped_us = part.end, says_from(part, "f2", "tripped")
    assert abs(trips_us - stepped_us) <= 43_600


def test_a_timer_beside_a_chattering_contactor_runs_out_in_its_time() -> None:
    assembly = Assembly(hunting(6.0))
    lit_us = says_from(run(assembly, initial_state(assembly), [], 10 * SECOND), "h1", "lit")
    assert lit_us == 7_300_000


def wrong_at(seed: int) -> list[str]:
    """All but the time: a machine that does something else beside takes longer, which is no error of the core."""
    return [wrong for wrong in attacked(anything(seed), seed) if not wrong.startswith("took")]


def test_circuits_that_nobody_drew_have_no_error_without_a_name_and_end_the_same_wherever_they_are_cut() -> None:
    found = {seed: wrong for seed in range(60) if (wrong := wrong_at(seed))}
    assert found == {}


@pytest.mark.alone
def test_circuits_that_nobody_drew_take_no_longer_than_a_person_waits() -> None:
    slow = {seed: wrong for seed in (3, 11, 29, 42, 1791, 2496) if (wrong := list(attacked(anything(seed), seed)))}
    assert slow == {}


# A two-wire sensor across less than its drop; a converter behind bad joints; rectifier without voltage; motor that
# coasts beside chatter; changes as small as rounding; rectifier joined to itself; iron all but saturated.
ONCE_WRONG = (2033, 42464, 44280, 48168, 62385, 71696, 105162)


@pytest.mark.parametrize("seed", ONCE_WRONG)
def test_circuits_that_were_once_wrong_are_right(seed: int) -> None:
    assert wrong_at(seed) == []


def test_the_circuits_that_nobody_drew_are_worth_something() -> None:
    chatters = frames = 0
    for seed in range(20, 90):
        case = anything(seed)
        assembly = Assembly(case.circuit, case.faults)
        trajectory = run(
            assembly, initial_state(assembly), [h for h in case.hands if isinstance(h, Action)], case.end_us
        )
        chatters, frames = chatters + len(trajectory.chatters), frames + len(trajectory.frames)
    assert frames > 400
    assert chatters > 0


def test_what_changes_by_no_more_than_rounding_stays_where_it_is() -> None:
    """Changes of 10^-17 with a ratio of 1.35 came to 10^13 after 222 periods: a piston stood far above its trip."""
    values = [1.2486461326032086e-06, 1.248646132657794e-06, 1.2486461327097512e-06, 1.2486461327797642e-06]
    assert grown(values, 222) == pytest.approx(values[-1], abs=1e-9)
    # A change that really grows, and one that dies away: 1 + 1.1 + 1.1^2, and 0.5 + 0.25.
    assert grown([0.0, 1.0, 2.0, 3.0], 3) == pytest.approx(6.0)
    assert grown([0.0, 1 / 1.21, 1 / 1.21 + 1 / 1.1, 1 / 1.21 + 1 / 1.1 + 1], 3) == pytest.approx(
        1 / 1.21 + 1 / 1.1 + 1 + 1.1 + 1.21 + 1.331
    )
    assert grown([0.0, 4.0, 6.0, 7.0], 2) == pytest.approx(7.75)


def test_a_leap_is_as_long_as_its_change_is_known_to_a_hundredth() -> None:
    """Ratios of 0.9 and 0.8999: one that drifts by 1e-4 each period is off by a hundredth after sqrt(200) = 14."""
    assert _steady([0.0, 1.0, 1.9, 1.9 + 0.9 * 0.8999], 10**6) == 14
    # Steady to the last digit it goes on as long as it may, and where nothing changes too.
    assert _steady([0.0, 1.0, 1.5, 1.75], 77) == 77
    assert _steady([3.0, 3.0, 3.0, 3.0], 55) == 55
