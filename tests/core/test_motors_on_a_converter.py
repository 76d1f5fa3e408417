"""Motors with slip rings and with two speeds follow the frequency of a converter as cage motors do."""

from pathlib import Path

import pytest

from scripts.ngspice import judged
from tests.core.circuits import Bench, device, end, wire
from tests.core.test_frequency_converter import made, volts
from wiretrace.instruments.voltmeter import read_voltage
from wiretrace.simulation.fading import metered

LOW = ("1U", "1V", "1W")
HIGH = ("2U", "2V", "2W")
KINDS = [
    ("motor_wound_rotor", ("U1", "V1", "W1"), (("m1:K", "m1:L"), ("m1:L", "m1:M")), 2),
    ("motor_two_speed", LOW, (), 4),
    ("motor_two_speed", HIGH, (), 2),
    ("motor_tapped_winding", LOW, (), 4),
    ("motor_tapped_winding", HIGH, (("m1:1U", "m1:1V"), ("m1:1V", "m1:1W")), 2),
]


@pytest.mark.parametrize("hertz", [20.0, 50.0])
@pytest.mark.parametrize(("kind", "leads", "joined", "pairs"), KINDS, ids=[f"{k[0]}-{k[1][0]}" for k in KINDS])
def test_it_turns_with_the_frequency_and_coasts_with_that_of_its_rotor(
    kind: str,
    leads: tuple[str, str, str],
    joined: tuple[tuple[str, str], ...],
    pairs: int,
    hertz: float,
    tmp_path: Path,
) -> None:
    output = tuple((f"t1:{name}", f"m1:{lead}") for name, lead in zip("UVW", leads, strict=True))
    base = made(output=output, first_hz=hertz, stops="coasting", rated_current_a=40.0, motor_current_a=23.0)
    parts = [device("m1", kind) if one.id == "m1" else one for one in base.devices]
    links = [wire(f"z{n}", a, b) for n, (a, b) in enumerate(joined)]
    bench = Bench(base.model_copy(update={"devices": tuple(parts), "conductors": (*base.conductors, *links)}))
    bench.wait(0.5)
    bench.do("s1", "turn", wait_s=6)
    assert bench.says("t1") == "runs forward"
    sync_rpm = 60 * hertz / pairs
    turns_rpm = bench.frame.views["m1"].figures[0].value
    assert sync_rpm - 70 < turns_rpm < sync_rpm
    assert list(judged([(bench.assembly, bench.frame)], tmp_path)) == []
    fed_v = volts(bench, f"m1:{leads[0]}", f"m1:{leads[1]}")
    bench.do("s1", "turn", value=False, wait_s=0.05)
    frame = metered(bench.assembly, bench.frame)
    left = read_voltage(bench.assembly, frame.point, end(f"m1:{leads[0]}"), end(f"m1:{leads[1]}"))
    assert 0.05 * fed_v < left.voltage_v < fed_v
    turns_rpm = bench.frame.views["m1"].figures[0].value
    assert left.frequency_hz == pytest.approx(turns_rpm * pairs / 60, rel=0.01)
