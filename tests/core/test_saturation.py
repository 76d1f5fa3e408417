"""Coils whose iron saturates: what stands across them and the iron that this leaves agree."""

import pytest

from tests.core.circuits import Bench, circuit, device, end, wire
from tests.core.played import played
from wiretrace.catalogue.machinery import coils
from wiretrace.document.circuit import Stray
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state, run
from wiretrace.simulation.state import Action


def held(nanofarad: float, *coils_at: str) -> Bench:
    """Contactors, pushed in, that a capacitance alone feeds from a line."""
    return Bench(
        circuit(
            [device("g1", "supply_three_phase"), *(device(name, "contactor") for name in coils_at)],
            [
                *(wire(f"w{name}", f"{name}:A2", "g1:N") for name in coils_at),
                *(wire(f"v{name}", f"{coils_at[0]}:A1", f"{name}:A1") for name in coils_at[1:]),
            ],
            [Stray(id="x1", a=end("g1:L1"), b=end(f"{coils_at[0]}:A1"), capacitance_nf=nanofarad)],
        )
    )


def iron_of(volts: float) -> float:
    """What a flux leaves of the iron, by the law of the coil: whole up to 1.2 times the rated one, none from 2 on."""
    return min(1.0, max(0.0, (2.0 - volts / 230.0) / 0.8))


@pytest.mark.parametrize(
    ("nanofarad", "volts"),
    [(200, 157), (300, 288), (400, 322), (500, 344), (600, 358), (800, 376), (1000, 385), (1500, 387)],
)
def test_a_contactor_held_through_a_capacitance_stands_where_its_law_says(nanofarad: float, volts: float) -> None:
    bench = held(nanofarad, "k1")
    bench.do("k1", "push", wait_s=0.3)
    across = abs(bench.frame.signals["k1"]["coil"].voltage_v)
    assert across == pytest.approx(volts, rel=0.003)
    assert bench.frame.state.devices["k1"]["iron"] == pytest.approx(iron_of(across), abs=0.003)


@pytest.mark.parametrize("nanofarad", [300, 700, 1100, 2300])
def test_two_coils_behind_one_capacitance_agree_as_well(nanofarad: float) -> None:
    bench = held(nanofarad, "k1", "k2")
    bench.do("k1", "push")
    bench.do("k2", "push", wait_s=0.3)
    for name in ("k1", "k2"):
        across = abs(bench.frame.signals[name]["coil"].voltage_v)
        assert bench.frame.state.devices[name]["iron"] == pytest.approx(iron_of(across), abs=0.005)


@pytest.mark.parametrize("name", library_names())
def test_in_the_library_every_coil_agrees_with_what_stands_across_it(name: str) -> None:
    assembly = Assembly(library_circuit(name))
    for step in played(name):
        frame = step.frames[-1]
        params = assembly.values.params(frame.state.time_us)
        for item in assembly.devices.values():
            state = frame.state.devices[item.id]
            if "iron" in state:
                again = coils.saturated(params[item.id], state, frame.signals[item.id]["coil"])
                assert again["iron"] == pytest.approx(state["iron"], abs=0.005), item.label


@pytest.mark.parametrize("suppressed_by", ["none", "diode"])
def test_a_coil_that_has_burnt_looks_for_no_iron_however_its_run_is_cut(suppressed_by: str) -> None:
    """A coil for 150 V on 230 V that is burnt, or bridged by a diode: nothing of it depends on the iron."""
    contactor = device("k1", "contactor", coil_voltage_v=150.0, suppressed_by=suppressed_by)
    parts = [device("g1", "supply_single_phase"), contactor, device("s1", "selector_two")]
    wires = [wire("a", "g1:L", "s1:13"), wire("b", "s1:14", "k1:A1"), wire("c", "k1:A2", "g1:N")]
    assembly = Assembly(circuit(parts, wires))
    hands = [Action(100_000, "s1", "turn", True)]
    whole = run(assembly, initial_state(assembly), hands, 4_000_000_000).end
    cut = initial_state(assembly)
    for number, until_us in enumerate((2_000_000, 3_000_000, 1_000_000_000, 3_900_000_000, 4_000_000_000)):
        cut = run(assembly, cut, [] if number else hands, until_us).end
    assert whole.devices["k1"]["burnt"]
    assert whole.devices["k1"]["iron"] == cut.devices["k1"]["iron"]
