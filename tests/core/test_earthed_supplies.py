"""Centre-tapped and corner-earthed supplies: what a meter reads there, and what is checked about them."""

import pytest

from tests.core.circuits import Bench, device, end
from tests.core.test_protection_relays import bench, resistance
from wiretrace.checks.check import check
from wiretrace.instruments.voltmeter import read_voltage


def volts(made: Bench, red: str, black: str) -> float:
    return abs(read_voltage(made.assembly, made.frame.point, end(red), end(black)).voltage_v)


def halves(**params: object) -> Bench:
    """240 ohm on one half, 60 ohm on the other."""
    return bench(
        [
            device("g1", "supply_centre_tapped", source_resistance_ohm=1e-6, **params),  # type: ignore[arg-type]
            resistance("r1", 240.0),
            resistance("r2", 60.0),
            device("x1", "terminal"),
        ],
        ("g1:L1", "r1:X1"),
        ("r1:X2", "x1:a"),
        ("g1:L2", "r2:X1"),
        ("r2:X2", "x1:a"),
        ("x1:b", "g1:N"),
    )


def test_each_half_has_half_the_voltage() -> None:
    made = halves()
    read = [
        volts(made, *pair) for pair in (("g1:L1", "g1:L2"), ("g1:L1", "g1:N"), ("g1:L2", "g1:N"), ("g1:L1", "g1:PE"))
    ]
    assert read == pytest.approx([240.0, 120.0, 120.0, 120.0], rel=1e-3)


def test_without_the_neutral_the_smaller_load_gets_the_larger_voltage() -> None:
    """240 and 60 ohm in series across 240 V: 192 and 48 V."""
    made = halves()
    made.do("g1", "neutral", False)
    assert volts(made, "r1:X1", "r1:X2") == pytest.approx(192.0, rel=2e-3)
    assert volts(made, "r2:X1", "r2:X2") == pytest.approx(48.0, rel=2e-3)
    assert made.says("g1") == "without N"
    made.do("g1", "neutral", True)
    assert volts(made, "r1:X1", "r1:X2") == pytest.approx(120.0, rel=2e-3)


def test_the_earthed_corner_reads_nothing_to_earth_and_the_others_the_line_voltage() -> None:
    made = bench([device("g1", "supply_corner_earthed"), device("x1", "terminal")], ("g1:L1", "x1:a"))
    read = {name: volts(made, f"g1:{name}", "g1:PE") for name in ("L1", "L2", "L3")}
    assert read == pytest.approx({"L1": 240.0, "L2": 0.0, "L3": 240.0}, abs=0.1)
    assert volts(made, "g1:L1", "g1:L3") == pytest.approx(240.0, rel=1e-3)


def test_an_earth_fault_of_the_earthed_corner_carries_nothing_and_of_another_phase_trips() -> None:
    made = bench(
        [device("g1", "supply_corner_earthed"), device("f1", "breaker", poles=3), device("m1", "motor_three_phase")],
        *[(f"g1:L{n}", f"f1:{2 * n - 1}") for n in (1, 2, 3)],
        *[(f"f1:{2 * n}", f"m1:{lead}") for n, lead in ((1, "U1"), (2, "V1"), (3, "W1"))],
        ("m1:PE", "g1:PE"),
    )
    made.fail("M1:V1=to M1:PE")
    made.wait(1.0)
    assert made.says("f1") == "on"
    made.fail("M1:U1=to M1:PE")
    made.wait(0.5)
    assert made.says("f1") == "tripped"


def opened_alone(kind: str, **params: object) -> list[str]:
    poles = 2 if params.get("poles") == 2 else 1
    made = bench(
        [
            device("g1", "supply_centre_tapped"),
            device("f1", kind, **params),  # type: ignore[arg-type]
            device("f2", "breaker", poles=1),
            device("h1", "lamp"),
        ],
        ("g1:L1", "f2:1" if poles == 1 else "f1:3"),
        ("f2:2" if poles == 1 else "f1:4", "h1:X1"),
        ("h1:X2", "f1:2"),
        ("f1:1", "g1:N"),
    )
    rule = next(one for one in check(made.assembly.circuit) if one.rule == "earthed_conductor")
    return [one.message for one in rule.findings]


def test_a_fuse_or_a_pole_by_itself_in_the_neutral_is_found_and_one_that_opens_both_is_not() -> None:
    assert opened_alone("fuses", poles=1) == ["F1 lies in N of G1, which is earthed, and can open it alone."]
    assert len(opened_alone("breaker", poles=1)) == 1
    assert opened_alone("breaker", poles=2) == []
    assert len(opened_alone("fuses", poles=2)) == 1
