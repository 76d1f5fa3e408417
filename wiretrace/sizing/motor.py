"""Lines of the sheet for the motor itself: its currents and powers, and those of its windings."""

from collections.abc import Iterator

from wiretrace.sizing.line import Factor, Line, figure, product
from wiretrace.sizing.plate import ROOT3, Plate
from wiretrace.sizing.quantities import HP_KW
from wiretrace.sizing.sheet import Sheet


def motor_lines(sheet: Sheet) -> Iterator[Line]:
    """Currents and powers of the motor."""
    plate, root = sheet.plate, sheet.plate.root
    power = Factor(
        "power",
        plate.power_kw,
        instead=(
            ("horsepower were put in for kilowatts", plate.power_kw / HP_KW),
            ("watts for kilowatts", plate.power_kw / 1000),
        ),
        can_be_left_out=False,
    )
    factors = [
        Factor("the 1000 from kilowatts to watts", 1000.0),
        power,
        *([] if plate.single_phase else [Factor("root 3", root, -1)]),
        Factor(
            "the voltage",
            plate.voltage_v,
            -1,
            (("the phase voltage was put in for the line voltage", plate.voltage_v / ROOT3),),
            False,
        ),
        Factor("the power factor", plate.power_factor, -1),
        Factor("the efficiency", plate.efficiency, -1),
    ]
    calculated = product(
        "calculated",
        "Motor",
        "Full-load current, calculated",
        "I = P / (U cos φ η)" if plate.single_phase else "I = P / (√3 U cos φ η)",
        "A",
        factors,
        source="Textbook; IEC 60034-1 for the rated figures",
        estimated=bool({"power_factor", "efficiency"} & plate.estimated),
    )
    yield calculated
    given = (
        "The nameplate comes first." if plate.current_given else "No current on the plate: the calculated one is taken."
    )
    yield Line(
        "full_load",
        "Motor",
        "Full-load current, used",
        "I",
        figure(plate.current_a),
        plate.current_a,
        "A",
        figure(plate.current_a),
        given,
        estimated=not plate.current_given,
        factors=calculated.factors,
    )
    if sheet.american:
        yield _table_line(sheet)
    yield _input(plate)
    if not plate.single_phase:
        yield from _windings(plate)


def _table_line(sheet: Sheet) -> Line:
    """The full-load current that the code book has for a motor of this power and voltage."""
    horsepower, found = sheet.plate.power_kw / HP_KW, sheet.table_a
    clause = "430.248" if sheet.plate.single_phase else "430.250"
    return Line(
        "table_current",
        "Motor",
        "Full-load current of the code's tables",
        "I by horsepower and voltage",
        f"{figure(horsepower)} hp, {sheet.plate.voltage_v:g} V",
        found,
        "A",
        figure(found),
        "Conductors, breaker, fuse and contactor go by it; the overload relay by the nameplate."
        if found
        else "The tables have no such motor: the nameplate's current is taken.",
        f"NFPA 70 (2023), 430.6(A) and table {clause}",
    )


def _input(plate: Plate) -> Line:
    return product(
        "input",
        "Motor",
        "Power taken in",
        "P₁ = √3 U I cos φ" if not plate.single_phase else "P₁ = U I cos φ",
        "kW",
        [
            *([] if plate.single_phase else [Factor("root 3", ROOT3)]),
            Factor("the voltage", plate.voltage_v, can_be_left_out=False),
            Factor("the current", plate.current_a, can_be_left_out=False),
            Factor("the power factor", plate.power_factor),
            Factor("the 1000 from watts to kilowatts", 1000.0, -1),
        ],
        source="Textbook",
    )


def _windings(plate: Plate) -> Iterator[Line]:
    volts = plate.voltage_v / (1.0 if plate.in_delta else ROOT3)
    amps = plate.current_a / (ROOT3 if plate.in_delta else 1.0)
    how = "delta" if plate.in_delta else "star"
    root_v, root_a = ([], [Factor("root 3", ROOT3, -1)]) if plate.in_delta else ([Factor("root 3", ROOT3, -1)], [])
    yield product(
        "winding_v",
        "Motor",
        f"Voltage of a winding in {how}",
        "U_w = U" if plate.in_delta else "U_w = U / √3",
        "V",
        [Factor("the line voltage", plate.voltage_v, can_be_left_out=False), *root_v],
        source="Textbook",
    )
    yield product(
        "winding_a",
        "Motor",
        f"Current of a winding in {how}",
        "I_w = I / √3" if plate.in_delta else "I_w = I",
        "A",
        [Factor("the line current", plate.current_a, can_be_left_out=False), *root_a],
        source="Textbook",
    )
    other = "star" if plate.in_delta else "delta"
    line_v = volts * (ROOT3 if plate.in_delta else 1.0)
    line_a = amps * (1.0 if plate.in_delta else ROOT3)
    yield Line(
        "other_connection",
        "Motor",
        f"The same windings in {other}",
        "",
        f"{figure(volts)} V, {figure(amps)} A a winding",
        line_v,
        "",
        f"{figure(line_v)} V, {figure(line_a)} A",
        "The plate of a motor for both voltages says so: 230/400, 400/690.",
        "Textbook",
    )
