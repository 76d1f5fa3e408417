"""Why a reading is what it is."""

import pytest

from tests.core.circuits import Bench, end
from wiretrace.document.circuit import End, Stray
from wiretrace.errors import UnknownTarget
from wiretrace.explain.reading import Explanation, explain_reading
from wiretrace.faults.text import fault_from_text
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.reach import Standing


@pytest.fixture
def bench() -> Bench:
    return Bench(library_circuit("start-stop-overload-line"))


def why(bench: Bench, red: str, black: str) -> Explanation:
    return explain_reading(bench.assembly, bench.frame, end(red), end(black))


def names(bench: Bench, ends: tuple[End, ...]) -> list[str]:
    return [f"{bench.assembly.devices[e.device].label}:{e.terminal}" for e in ends]


def test_across_an_open_start_the_load_carries_the_neutral(bench: Bench) -> None:
    told = why(bench, "start:13", "start:14")
    assert told.reading.display == "230.9"
    assert (told.red.standing, told.black.standing) == (Standing.LIVE, Standing.LOAD)
    assert names(bench, told.red.terminals) == [
        "S1:13", "S0:12", "S0:11", "F2:96", "F2:95", "F1:2", "F1:1", "Q1:2", "Q1:1", "G1:L1",
    ]  # fmt: skip
    assert told.red.contacts == (
        ("stop", "11-12"),
        ("overload", "95-96"),
        ("control-breaker", "1-2"),
        ("isolator", "1-2"),
    )
    (load,) = told.black.loads
    assert (load.device, load.branch) == ("contactor", "coil")
    assert load.voltage_v == pytest.approx(230.9 * 856 / 10e6, rel=0.002)  # coil and lamp in parallel
    assert told.meter_completes
    assert "only the meter's own small current flows there" in told.sentences[1]


def test_in_a_row_of_loads_each_has_its_share(bench: Bench) -> None:
    """Running, the coil stands between live and neutral; the whole voltage is across it."""
    bench.do("start", "press")
    bench.do("start", "press", False)
    told = why(bench, "contactor:A1", "contactor:A2")
    assert (told.red.standing, told.black.standing) == (Standing.LIVE, Standing.NEUTRAL)
    assert told.red.contacts[0] == ("contactor", "13-14")
    assert told.reading.display == "230.7"
    assert not told.meter_completes
    assert {bench.assembly.devices[i.device].label for i in told.influences} == {"Q1", "F1", "F2", "S0", "K1"}


def test_what_hangs_on_nothing_is_told(bench: Bench) -> None:
    bench.do("stop", "press")
    told = why(bench, "stop:12", "contactor:A2")
    assert told.red.standing is Standing.NONE
    assert told.red.pole is None
    assert told.sentences == (
        "Red, on S0:12 (wire 3), is joined to nothing.",
        "Black, on K1:A2 (wire N), is joined to N by wire alone: "
        "with no return path between the probes the meter shows 0.000 V.",
    )


def test_both_probes_on_one_terminal(bench: Bench) -> None:
    told = why(bench, "start:13", "start:13")
    assert told.reading.voltage_v == 0
    assert "both probes stand on one terminal" in told.sentences[1]


def test_a_closed_contact_reads_its_drop(bench: Bench) -> None:
    told = why(bench, "stop:11", "stop:12")
    assert told.reading.voltage_v < 0.01
    assert "both stand on the same pole" in told.sentences[1]


def test_across_a_load_without_current_and_across_one_in_a_row_of_loads(bench: Bench) -> None:
    idle = why(bench, "contactor:A1", "contactor:A2")
    assert idle.sentences[1].endswith("no current flows, so both have the same potential and the meter shows 0.000 V.")
    star = Bench(library_circuit("star-delta-timer-first-closure"))
    star.do("start", "press", wait_s=3.0)
    told = why(star, "motor:U1", "motor:U2")
    assert told.reading.display == "227.2"
    assert told.sentences[1].endswith("the line voltage over root three, 58 % of it: the meter shows 227.2 V.")


def test_the_star_point_is_named_and_stands_near_the_neutral() -> None:
    """In star: U2, V2 and W2 are joined by K2; with a phase lost it stands in no middle, and nothing says so."""
    star = Bench(library_circuit("star-delta-timer-first-closure"))
    star.do("start", "press", wait_s=3.0)
    told = why(star, "motor:U2", "supply:N")
    assert told.sentences[0].endswith("stands on the star point of M1, where its three windings meet.")
    assert "in the middle of the three phases, near the neutral: the meter shows" in told.sentences[1]
    assert told.reading.voltage_v < 5
    both = why(star, "motor:U2", "motor:V2")
    assert both.sentences[1].endswith("the drop along the way.")
    star.do("supply", "l2", False, wait_s=0.2)
    assert "star point" not in " ".join(why(star, "motor:U2", "supply:N").sentences)
    # In delta the same terminals lie on lines.
    delta = Bench(library_circuit("star-delta-timer-first-closure"))
    delta.do("start", "press", wait_s=0.5)
    delta.do("start", "press", False, wait_s=20.0)
    assert "star point" not in " ".join(why(delta, "motor:U1", "motor:U2").sentences)


def test_with_the_supply_off_nothing_is_live(bench: Bench) -> None:
    bench.do("supply", "switch", False)
    told = why(bench, "isolator:1", "contactor:A2")
    assert told.red.standing is not Standing.LIVE
    assert told.reading.voltage_v == 0


def test_a_probe_on_nothing_is_named(bench: Bench) -> None:
    for red in ("start:99", "ghost:1", "motor:star"):
        with pytest.raises(UnknownTarget):
            why(bench, red, "start:14")


def test_a_load_that_carries_more_than_the_meters_own_current_is_not_said_to_carry_only_that(bench: Bench) -> None:
    """Across the coil while it is in: the current that flows is the coil's."""
    bench.do("start", "press")
    told = why(bench, "contactor:A1", "supply:N")
    assert not told.meter_completes
    assert "meter's own" not in " ".join(told.sentences)


def test_a_way_over_a_stray_path_or_a_fault_bridge_is_told() -> None:
    """5 kilohm from the coil's terminal to the frame: a stray that nobody laid, and a fault that somebody made."""
    base = library_circuit("start-stop-overload-line")
    leak = Stray(id="leak", a=end("contactor:A1"), b=end("supply:PE"), resistance_ohm=5000.0)
    strayed = Bench(base.model_copy(update={"strays": (leak,)}))
    bridged = Bench(base)
    bridged.fail("K1:14=to G1:PE 5kohm")
    bridged.wait(0.1)
    for bench, told in ((strayed, "the leakage from K1:A1 to G1:PE"), (bridged, "a bridge at K1")):
        lamp_out = [fault_from_text(base, text) for text in ("K1/coil=open", "H1/lamp=open")]
        bench.assembly = Assembly(bench.assembly.circuit, (*bench.assembly.faults, *lamp_out))
        said = explain_reading(bench.assembly, bench.frame, end("contactor:A1"), end("supply:N"))
        assert told in " ".join(said.sentences)


def test_every_reason_can_be_given_under_every_bridge_and_stray() -> None:
    """No pair of terminals leads to an error that has no name."""
    base = library_circuit("start-stop-overload-line")
    for text in ("K1:A1=to M1:PE 5kohm", "F1:2=to G1:PE 2kohm", "M1:U1=to M1:V1 40ohm"):
        bench = Bench(base)
        bench.fail(text)
        bench.wait(0.1)
        ends = [
            End(device=item.id, terminal=terminal.name)
            for item in bench.assembly.devices.values()
            for terminal in item.structure.terminals
        ]
        for red in ends[::3]:
            for black in ends[::4]:
                assert explain_reading(bench.assembly, bench.frame, red, black).sentences
