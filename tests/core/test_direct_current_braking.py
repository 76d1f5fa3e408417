"""Direct current in the windings of a motor that turns: it brakes, as much as a hand calculation says."""

import math

import pytest

from tests.core.circuits import Bench, circuit, device, wire
from wiretrace.catalogue.machinery.status import tells


def braked(volts: float = 24.0) -> Bench:
    """A motor behind a contactor; a second contactor puts a battery between two of its leads."""
    lines = [
        wire(f"{end}{n}", *ways)
        for n in (1, 2, 3)
        for end, ways in (("a", (f"g1:L{n}", f"k1:{2 * n - 1}")), ("b", (f"k1:{2 * n}", f"m1:{'UVW'[n - 1]}1")))
    ]
    return Bench(
        circuit(
            [
                device("g1", "supply_three_phase"),
                device("g2", "supply_dc", voltage_v=volts, negative_earthed=False),
                device("k1", "contactor"),
                device("k2", "contactor"),
                device("m1", "motor_three_phase"),
            ],
            [
                *lines,
                wire("d1", "g2:L+", "k2:1"),
                wire("d2", "k2:2", "m1:U1"),
                wire("d3", "m1:V1", "k2:4"),
                wire("d4", "k2:3", "g2:L-"),
            ],
        )
    )


def test_the_torque_that_brakes_is_shown_and_is_what_slows_it() -> None:
    """What it loses in a tenth of a second times its inertia, less what load and friction take."""
    bench = braked(96.0)
    bench.do("k1", "push", wait_s=3.0)
    bench.do("k1", "push", False, wait_s=0.1)
    bench.do("k2", "push", wait_s=0.1)
    figures = [{one.title: one.value for one in bench.frame.views["m1"].figures}]
    bench.wait(0.02)
    figures.append({one.title: one.value for one in bench.frame.views["m1"].figures})
    motor = bench.assembly.devices["m1"]
    slows = (figures[0]["Speed"] - figures[1]["Speed"]) * math.pi / 30 / 0.02
    rated_nm = 1500 / (1430 * math.pi / 30)
    share = (figures[0]["Speed"] / 1430) ** 2
    friction = 0.02 * rated_nm
    load_nm = friction + (float(motor.params["load_percent"]) / 100 * rated_nm - friction) * share
    mean_nm = (figures[0]["Torque"] + figures[1]["Torque"]) / 2
    assert -mean_nm == pytest.approx(slows * float(motor.params["inertia_kgm2"]) - load_nm, rel=0.05)
    assert figures[0]["Torque"] < -2.0


def stops_after_s(volts: float) -> float:
    """Seconds from switching off until it stands, with so many volts put between two leads at once."""
    bench = braked(volts or 24.0)
    bench.do("k1", "push", wait_s=3.0)
    assert tells(bench.frame.views["m1"].status, "turns_forward")
    bench.do("k1", "push", False, wait_s=0.1)
    if volts:
        bench.do("k2", "push", wait_s=0.0)
    began = bench.state.time_us
    bench.wait(60.0)
    still = [frame.state.time_us for frame in bench.trajectory.frames if frame.views["m1"].status == "still"]
    return (still[0] - began) / 1e6 if still else math.inf


def test_the_more_direct_current_the_sooner_it_stands() -> None:
    free, little, much = stops_after_s(0.0), stops_after_s(12.0), stops_after_s(48.0)
    assert much < 0.5 * little < 0.5 * free
    assert much < 1.5


def test_it_is_said_to_be_braked_and_carries_what_ohm_says() -> None:
    bench = braked(24.0)
    bench.do("k1", "push", wait_s=3.0)
    bench.do("k1", "push", False, wait_s=0.05)
    bench.do("k2", "push", wait_s=0.05)
    assert bench.frame.views["m1"].status == "coasts_forward+braked_by_direct_current"
    kind, params = bench.assembly.devices["m1"].kind, bench.assembly.devices["m1"].params
    stator = kind.equivalent(params).machine.stator_ohm.real  # type: ignore[attr-defined]
    # Two windings of a star in series.
    assert abs(bench.frame.signals["m1"]["U1"].dc_a) == pytest.approx(24.0 / (2 * stator), rel=0.05)


@pytest.mark.parametrize("speed", [1.0, 0.5, 0.1])
def test_the_torque_is_that_of_a_standing_field(speed: float) -> None:
    """A field that stands still: the rotor sees it at a slip as large as its speed; torque is rotor loss over speed."""
    bench = braked()
    kind, params = bench.assembly.devices["m1"].kind, bench.assembly.devices["m1"].params
    machine = kind.equivalent(params).machine  # type: ignore[attr-defined]
    rotor = machine.rotor_ohm(speed)
    reactance = machine.magnetising_ohm.imag + rotor.imag
    loss_resistance = machine.magnetising_ohm.real
    current = abs(machine.magnetising_ohm) / abs(complex(rotor.real / speed + loss_resistance, reactance))
    rotor_w = 3 * current**2 * rotor.real
    mechanical = rotor_w / speed / (machine.plate.sync_rpm * math.pi / 30)
    assert machine.brake_nm_per_a2(speed) == pytest.approx(mechanical, rel=1e-6)
    assert machine.brake_nm_per_a2(-speed) == machine.brake_nm_per_a2(speed)
