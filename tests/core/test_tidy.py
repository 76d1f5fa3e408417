"""Clean sheets for circuits without geometry."""

import pytest

from tests.core.circuits import circuit, device
from wiretrace.catalogue.registry import KINDS
from wiretrace.document.checked import check_circuit
from wiretrace.document.circuit import Circuit, Convention, Placement
from wiretrace.layout.letters import relettered
from wiretrace.layout.tidy import redrawn, tidy
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


def test_a_ladder_is_the_same_lying_down() -> None:
    upright = placed(tidy(library_circuit("start-stop-overload-line")), "control")
    ladder = placed(tidy(library_circuit("start-stop-overload-line"), "nema"), "control-nema")
    path = ["F1 poles", "F2 95-96", "S0 11-12", "S1 13-14", "K1 coil"]
    assert len({ladder[name].y for name in path}) == 1
    assert [ladder[name].x for name in path] == sorted(ladder[name].x for name in path)
    assert ladder["K1 13-14"].x == ladder["S1 13-14"].x
    assert ladder["K1 13-14"].y > ladder["S1 13-14"].y
    assert ladder.keys() == upright.keys()


def test_switching_keeps_the_sheets_of_both_conventions() -> None:
    iec = tidy(library_circuit("reversing-interlocked").model_copy(update={"sheets": ()}))
    both = redrawn(iec, "nema")
    assert both.convention == "nema"
    assert both.shown_sheets() == tidy(iec, "nema").shown_sheets()
    back = redrawn(both, "iec")
    assert back.shown_sheets() == iec.sheets
    assert redrawn(back, "nema").shown_sheets() == both.shown_sheets()
    assert (back.devices, back.conductors) == (iec.devices, iec.conductors)


@pytest.mark.parametrize("convention", ["iec", "nema"])
def test_what_was_drawn_in_one_convention_is_added_to_the_other_clear_of_what_stands_there(
    convention: Convention,
) -> None:
    other: Convention = "nema" if convention == "iec" else "iec"
    both = redrawn(tidy(library_circuit("two-wire-float"), convention), other)
    grown = both.model_copy(update={"devices": (*both.devices, device("x-h9", "lamp"), device("x-k9", "contactor"))})
    done = redrawn(grown, convention)
    check_circuit(done)
    old = {(s.device, s.part): s for sheet in both.sheets for s in sheet.symbols if sheet.convention == convention}
    new = {(s.device, s.part): s for sheet in done.shown_sheets() for s in sheet.symbols}
    assert {key: new[key] for key in old} == old
    assert {key[0] for key in new} - {key[0] for key in old} == {"x-h9", "x-k9"}
    for sheet in done.shown_sheets():
        spots = [(s.x, s.y) for s in sheet.symbols]
        assert len(set(spots)) == len(spots)


def test_a_contact_goes_where_the_layout_has_it_while_the_sheet_is_much_as_it_was() -> None:
    both = redrawn(library_circuit("reversing-interlocked"), "nema")
    guard = next(s for s in both.shown_sheets()[1].symbols if s.part == "21-22")
    bare = both.model_copy(
        update={
            "sheets": tuple(
                sheet.model_copy(update={"symbols": tuple(s for s in sheet.symbols if s != guard)})
                if sheet == both.shown_sheets()[1]
                else sheet
                for sheet in both.sheets
            )
        }
    )
    assert guard in redrawn(bare, "nema").shown_sheets()[1].symbols
    # On a sheet that somebody has arranged himself it goes to the edge.
    own = bare.shown_sheets()[1]
    moved = tuple(s.model_copy(update={"y": s.y + 3}) for s in own.symbols)
    arranged = bare.model_copy(
        update={"sheets": tuple(own.model_copy(update={"symbols": moved}) if s == own else s for s in bare.sheets)}
    )
    added = [s for s in redrawn(arranged, "nema").shown_sheets()[1].symbols if s not in moved]
    assert [(s.device, s.part) for s in added] == [(guard.device, guard.part)]
    assert added[0].y > max(s.y for s in moved)


def test_terminals_of_the_motor_stand_on_the_power_sheet_each_under_its_pole() -> None:
    power = placed(tidy(library_circuit("start-stop-overload-line")), "power")
    xs = [power[f"X1.{n} terminal"].x - power["F2 heaters"].x for n in (1, 2, 3)]
    assert xs == [0, 4, 8]
    assert power["F2 heaters"].y < power["X1.1 terminal"].y < power["M1 motor"].y


def test_designations_follow_the_convention_and_what_names_them_follows_too() -> None:
    old = library_circuit("reversing-mechanical-interlock")
    nema = relettered(old, "nema")
    assert {"M1", "M2", "MTR1", "PB0", "PB1", "PB2", "OL2", "DISC1"} <= {d.label for d in nema.devices}
    lock = next(item for item in check_circuit(nema) if item.kind.name == "mechanical_interlock")
    assert lock.kind.locks(lock.params) == ("M1", "M2")
    assert [d.id for d in nema.devices] == [d.id for d in old.devices]
    assert len({d.label for d in nema.devices}) == len(nema.devices)


def test_designations_that_somebody_chose_stay_as_they_are() -> None:
    own = circuit([device(label, "lamp") for label in ("tower", "h2", "lt2")], [])
    assert [d.label for d in relettered(own, "nema").devices] == ["TOWER", "LT2", "LT1"]


def test_what_hangs_on_slip_rings_stands_below_the_motor() -> None:
    bare = library_circuit("wound-rotor-starter").model_copy(update={"sheets": ()})
    sheet = next(s for s in tidy(bare, "iec").sheets if s.kind == "power")
    y = {symbol.device: symbol.y for symbol in sheet.symbols}
    assert y["overload"] < y["motor"] < y["inner"] == y["rings"] < y["outer"] == y["step"]


def test_each_level_of_voltage_has_a_sheet_of_its_own_with_its_supply_at_the_head() -> None:
    done = tidy(library_circuit("dc-control-pnp").model_copy(update={"sheets": ()}))
    assert [sheet.title for sheet in done.sheets] == ["Power", "Control", "Control from T2"]
    first, second = placed(done, "control"), placed(done, "control-2")
    assert {"F1 poles", "K5 11-12-14", "K1 coil"} <= first.keys()
    assert second.keys() == {"T2 supply", "K5 coil", "B1 sensor"}
    assert min(second, key=lambda name: (second[name].y, second[name].x)) == "T2 supply"


@pytest.mark.parametrize("name", ["control-transformer-earthed", "hoist-brake-rectifier"])
def test_a_supply_stays_where_nothing_else_stands_before_it_or_one_part_behind(name: str) -> None:
    done = tidy(library_circuit(name).model_copy(update={"sheets": ()}))
    assert [sheet.title for sheet in done.sheets] == ["Power", "Control"]


def test_a_seal_stands_beside_its_button_and_what_hangs_from_the_feed_alone_outermost() -> None:
    control = placed(tidy(library_circuit("thermistor-relay").model_copy(update={"sheets": ()})), "control")
    assert control["K1 13-14"].x - control["S1 13-14"].x == 11
    path = ["F1 poles", "F2 95-96", "K5 11-12-14", "S0 11-12", "S1 13-14", "K1 coil"]
    assert len({control[part].x for part in path}) == 1
    assert control["K1 coil"].x < control["H3 lamp"].x < control["K5 supply"].x


def test_what_lies_between_two_power_parts_stands_between_them() -> None:
    power = placed(tidy(library_circuit("capacitor-motor-rc-mistake").model_copy(update={"sheets": ()})), "power")
    assert [power[name].y for name in ("F1 poles", "K1 poles", "F2 disc", "M1 motor")] == sorted(
        power[name].y for name in ("F1 poles", "K1 poles", "F2 disc", "M1 motor")
    )


def test_inputs_stand_above_the_terminals_of_the_box_that_they_lead_to() -> None:
    done = tidy(library_circuit("star-delta-plc").model_copy(update={"sheets": ()}))
    inputs = placed(done, "control-2")
    assert inputs["S1 13-14"].x < inputs["S0 11-12"].x < inputs["F2 95-96"].x


def test_a_part_missing_on_one_of_two_control_sheets_is_added_to_that_one() -> None:
    whole = tidy(library_circuit("dc-control-pnp").model_copy(update={"sheets": ()}))
    lost = whole.model_copy(
        update={
            "sheets": tuple(
                sheet.model_copy(update={"symbols": tuple(s for s in sheet.symbols if s.device != "sensor")})
                for sheet in whole.sheets
            )
        }
    )
    assert redrawn(lost, "iec").sheets[2].symbols[-1].device == "sensor"
