"""Clean sheets for circuits without geometry."""

import pytest

from tests.core.circuits import circuit, device
from wiretrace.catalogue.registry import KINDS
from wiretrace.circuit.checked import check_circuit
from wiretrace.circuit.document import Circuit, Placement
from wiretrace.layout.tidy import tidy
from wiretrace.library import library_circuit, library_names


def placed(of: Circuit, sheet: str) -> dict[str, Placement]:
    """Places by "label part" on one sheet."""
    labels = {item.id: item.label for item in of.devices}
    found = next(s for s in of.sheets if s.id == sheet)
    return {f"{labels[p.device]} {p.part}": p for p in found.symbols}


@pytest.mark.parametrize("name", library_names())
def test_every_part_with_a_wire_is_placed_once_and_no_two_on_one_spot(name: str) -> None:
    bare = library_circuit(name).model_copy(update={"sheets": ()})
    done = tidy(bare)
    check_circuit(done)
    assert (done.devices, done.conductors) == (bare.devices, bare.conductors)
    used = {(end.device, end.terminal) for wire in bare.conductors for end in (wire.a, wire.b)}
    wanted = set()
    for item in bare.devices:
        parts = KINDS[item.kind].structure(KINDS[item.kind].defaults() | item.params).parts
        wired = [p for p in parts if any((item.id, t) in used for t in p.terminals)]
        wanted |= {(item.id, part.name) for part in wired or parts[:1]}
    symbols = [symbol for sheet in done.sheets for symbol in sheet.symbols]
    assert {(s.device, s.part) for s in symbols} == wanted
    assert len(symbols) == len(wanted)
    for sheet in done.sheets:
        spots = [(s.x, s.y) for s in sheet.symbols]
        assert len(set(spots)) == len(spots)


def test_series_goes_down_parallel_goes_aside_and_loads_stand_in_one_row() -> None:
    control = placed(tidy(library_circuit("start-stop-overload-line")), "control")
    path = ["F1 poles", "F2 95-96", "S0 11-12", "S1 13-14", "K1 coil"]
    assert [control[name].y for name in path] == sorted(control[name].y for name in path)
    assert len({control[name].x for name in path}) == 1
    assert control["K1 13-14"].y == control["S1 13-14"].y
    assert control["K1 13-14"].x > control["S1 13-14"].x
    assert len({control[f"H{n} lamp"].y for n in (1, 2, 3)} | {control["K1 coil"].y}) == 1


def test_what_lies_on_the_neutral_side_stands_under_its_load() -> None:
    control = placed(tidy(library_circuit("start-stop-overload-neutral")), "control")
    assert control["F2 95-96"].y > control["K1 coil"].y


def test_power_goes_from_supply_to_motor_and_contactors_stand_side_by_side() -> None:
    power = placed(tidy(library_circuit("reversing-interlocked")), "power")
    path = ["G1 supply", "Q1 poles", "Q2 poles", "K1 poles", "F2 heaters", "M1 motor"]
    assert [power[name].y for name in path] == sorted(power[name].y for name in path)
    assert power["K2 poles"].y == power["K1 poles"].y


def test_devices_without_a_wire_are_not_lost() -> None:
    done = tidy(circuit([device("h1", "lamp"), device("k1", "contactor")], []))
    assert sum(len(sheet.symbols) for sheet in done.sheets) == 2


def test_tidying_twice_changes_nothing_more() -> None:
    once = tidy(library_circuit("star-delta-plc"))
    assert tidy(once) == once
