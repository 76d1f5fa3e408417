"""Lines of the sheet for cable, voltage at the motor, fault current, meters, control transformer and unbalance."""

import math
from collections.abc import Iterator
from itertools import pairwise
from typing import Final

from wiretrace.simulation.graph import COPPER_OHM_MM2_PER_M
from wiretrace.sizing.ampacity import Laid
from wiretrace.sizing.cable import REACTANCE, RHO, RHO_COLD, START_DROP, cable_laid, drop_v, motor_start_a
from wiretrace.sizing.line import Factor, Line, figure
from wiretrace.sizing.plate import LOCKED_FACTOR, SOURCE_FACTOR, Plate
from wiretrace.sizing.series import next_up
from wiretrace.sizing.sheet import Sheet

VOLTAGE_ZONE: Final = 5.0
"""Per cent about the rated voltage in which a motor gives its rated torque (IEC 60034-1, zone A)."""
DERATING: Final = ((0.0, 1.0), (1.0, 1.0), (2.0, 0.95), (3.0, 0.88), (4.0, 0.82), (5.0, 0.75))
"""NEMA MG 1, figure 14-1."""


def source_ohm(plate: Plate) -> complex:
    """What lies before the motor's circuit, ohm a phase; of a single phase the whole loop."""
    size = plate.supply_v / (plate.root * 1000 * plate.fault_ka)
    return complex(SOURCE_FACTOR * size, math.sqrt(1 - SOURCE_FACTOR**2) * size)


def cable_ohm(plate: Plate, own: Laid, rho: float) -> complex:
    return complex(rho * plate.length_m / own.area_mm2, REACTANCE * plate.length_m) / own.sets


def at_motor_v(sheet: Sheet, slip: float) -> float | None:
    """Line voltage at the motor's terminals at a slip, volts, by the machine of the simulation; None without one."""
    machine, own, plate = sheet.plate.machine, cable_laid(sheet), sheet.plate
    if machine is None or own is None:
        return None
    winding = machine.impedance_ohm(slip)
    # In delta three windings are a star of a third each; as it is started the line sees so much more.
    motor = winding / 3 if plate.in_delta else winding
    if slip > 0.5:
        motor /= sheet.way.line(plate)
    # The cable as the simulation has it: its resistance, copper at 20 degC.
    rho = COPPER_OHM_MM2_PER_M * RHO[plate.material] / RHO["copper"]
    before = source_ohm(plate) + rho * plate.length_m / own.total_mm2
    return plate.supply_v * abs(motor / (motor + before))


def supply_lines(sheet: Sheet) -> Iterator[Line]:
    """Voltage at the motor, fault current there, unbalance. A converter makes the former and bounds the latter."""
    plate, own = sheet.plate, cable_laid(sheet)
    machine = plate.machine
    if machine is None:
        yield Line(
            "motor_v",
            "Supply",
            "Voltage at the motor",
            "",
            "",
            None,
            "V",
            "none",
            warning="Nameplate figures that cannot all be true: no machine can be made of them.",
        )
    elif own is not None and not plate.single_phase and sheet.converter_a is None:
        running, starting = at_motor_v(sheet, machine.plate.slip) or 0.0, at_motor_v(sheet, 1.0) or 0.0
        off = 100 * (running / plate.voltage_v - 1)
        yield Line(
            "motor_v",
            "Supply",
            "Voltage at the motor, running",
            "U Z / (Z + Z_cable + Z_source)",
            f"{plate.fault_ka:g} kA at the supply",
            running,
            "V",
            figure(running),
            f"{off:+.1f} % of its rated voltage.",
            "The machine of the simulation; IEC 60034-1, zone A ±5 %",
            "" if abs(off) <= VOLTAGE_ZONE else f"Outside ±{VOLTAGE_ZONE:g} %.",
            estimated="fault_current" in plate.estimated,
        )
        dip = 100 * (1 - starting / plate.supply_v)
        yield Line(
            "start_v",
            "Supply",
            "Voltage at the motor, at the moment of the start",
            "U Z / (Z + Z_cable + Z_source)",
            "rotor locked",
            starting,
            "V",
            figure(starting),
            f"A dip of {dip:.1f} %."
            + (
                " Direct start is usual up to about 5 kW, where the supply can stand it."
                if sheet.way.across_the_line and plate.power_kw > 5
                else ""
            ),
            "The machine of the simulation",
            "" if dip <= START_DROP else f"A dip of more than {START_DROP:g} %: contactors may drop.",
            estimated="fault_current" in plate.estimated,
        )
    if own is not None and plate.single_phase:
        yield from _single_phase_v(sheet, own)
    if own is not None and sheet.converter_a is None:
        yield _fault(sheet, own)
    if plate.measured_v is not None:
        yield from _unbalance(sheet, plate.measured_v)


def _single_phase_v(sheet: Sheet, own: Laid) -> Iterator[Line]:
    """Voltage at a motor of one phase, running and at the moment of the start, by what the loop before it drops."""
    plate = sheet.plate
    for key, when, amperes, factor in (
        ("motor_v", "running", sheet.motor_a, plate.power_factor),
        ("start_v", "at the moment of the start", motor_start_a(sheet), LOCKED_FACTOR),
    ):
        before = source_ohm(plate)
        source_v = amperes * (before.real * factor + before.imag * math.sqrt(1 - factor**2))
        volts = plate.supply_v - source_v - drop_v(plate, own.area_mm2, amperes / own.sets, factor)
        off, dip = 100 * (volts / plate.voltage_v - 1), 100 * (1 - volts / plate.supply_v)
        running = key == "motor_v"
        wrong = f"Outside ±{VOLTAGE_ZONE:g} %." if running else f"A dip of more than {START_DROP:g} %."
        yield Line(
            key,
            "Supply",
            f"Voltage at the motor, {when}",
            "U - I (R cos φ + X sin φ) of the loop",
            f"{figure(amperes)} A",
            volts,
            "V",
            figure(volts),
            f"{off:+.1f} % of its rated voltage." if running else f"A dip of {dip:.1f} %.",
            "IEC 60364-5-52, annex G",
            wrong if (abs(off) > VOLTAGE_ZONE if running else dip > START_DROP) else "",
            estimated="fault_current" in plate.estimated,
        )


def fault_a(sheet: Sheet, own: Laid) -> tuple[float, float]:
    """Fault currents at the motor, amperes: the largest, with a cold cable, and the least, with a hot one.

    Largest of three phases, least of two (IEC 60909-0); of a single phase what flows goes there and back.
    """
    plate = sheet.plate
    ways = 2.0 if plate.single_phase else 1.0
    cold, hot = (
        source_ohm(plate) + ways * cable_ohm(plate, own, times * RHO_COLD[plate.material]) for times in (1.0, 1.5)
    )
    return plate.supply_v / (plate.root * abs(cold)), plate.supply_v / ((1.0 if plate.single_phase else 2.0) * abs(hot))


def _fault(sheet: Sheet, own: Laid) -> Line:
    plate = sheet.plate
    amperes, least = fault_a(sheet, own)
    root = "" if plate.single_phase else "1.732 × "
    breaker = sheet.breaker_a
    at_once = least >= sheet.at_once_a
    says = "The breaker opens at once." if at_once else "The breaker opens late, by its heat."
    return Line(
        "fault",
        "Supply",
        "Fault current at the motor",
        "U / Z of the loop" if plate.single_phase else "U / (√3 Z)",
        f"{plate.supply_v:g} / ({root}{plate.supply_v / plate.root / amperes:.3g})",
        amperes,
        "A",
        figure(amperes),
        f"{says} The least, {'' if plate.single_phase else 'two phases and '}a hot cable: {figure(least)} A.",
        "IEC 60909-0" + ("" if plate.single_phase else "; two phases √3/2"),
        "" if at_once or breaker is None else "A fault at the motor is not cleared at once.",
        estimated="fault_current" in plate.estimated,
    )


def _unbalance(sheet: Sheet, volts: tuple[float, float, float]) -> Iterator[Line]:
    mean = sum(volts) / 3
    most = max(abs(one - mean) for one in volts)
    percent = 100 * most / mean
    limit = sheet.rule("unbalance")
    put = f"100 × {figure(most)} / {figure(mean)}"
    factors = (
        Factor("the 100 of per cent", 100.0),
        Factor(
            "the largest deviation",
            most,
            1,
            (("the largest difference between two was taken", max(volts) - min(volts)),),
            False,
        ),
        Factor("the mean", mean, -1, (("the rated voltage was put in for the mean", sheet.plate.voltage_v),), False),
    )
    yield Line(
        "unbalance",
        "Supply",
        "Unbalance of the voltages",
        "largest deviation from the mean / mean",
        put,
        percent,
        "%",
        figure(percent),
        "",
        "NEMA MG 1, 12.45",
        "" if percent <= limit else f"More than {limit:g} %.",
        factors=factors,
    )
    share = derating(percent)
    yield Line(
        "derating",
        "Supply",
        "What the motor may give",
        "by the unbalance",
        figure(percent),
        100 * share,
        "%",
        figure(100 * share),
        f"{figure(share * sheet.plate.power_kw)} kW." if share else "It should not run.",
        "NEMA MG 1, figure 14-1",
        "" if share else "Above 5 % it should not run.",
    )


def derating(percent: float) -> float:
    """Share of its rated power that a motor may give at an unbalance; 0 beyond the curve."""
    for (low, one), (high, other) in pairwise(DERATING):
        if percent <= high:
            return one + (other - one) * (percent - low) / (high - low)
    return 0.0


def meter_lines(sheet: Sheet) -> Iterator[Line]:
    """Current transformer, and where the pointer stands; the control transformer."""
    wanted = 1.25 * sheet.motor_a
    rows = sheet.series("current-transformers")
    ratio = next_up(rows, wanted)
    warning = "" if ratio else f"No ratio is large enough: they end at {rows[-1][0]:g} A."
    said = ""
    if ratio:
        full, start = (100 * amperes / ratio for amperes in (sheet.motor_a, sheet.start_a))
        said = f"At full load the pointer stands at {full:.0f} % of the scale, at the start at {start:.0f} %."
    yield Line(
        "ct",
        "Meters",
        "Current transformer",
        "primary ≥ 1.25 × I",
        f"≥ {figure(wanted)}",
        ratio,
        "A",
        f"{ratio:g}/5" if ratio else "none",
        said,
        "IEC 61869-2, standard ratios",
        warning,
        sizes=tuple(row[0] for row in rows),
        wanted=wanted,
        factors=(Factor("1.25", 1.25), Factor("the full-load current", sheet.motor_a, can_be_left_out=False)),
    )
    sealed, inrush = sheet.plate.coil_sealed_va, sheet.plate.coil_inrush_va
    if sealed is None or inrush is None:
        return
    need = max(sealed, 0.8 * (sealed + inrush))
    rating = next_up(sheet.series("control-transformers"), need)
    yield Line(
        "transformer_rating",
        "Control",
        "Control transformer",
        "S ≥ 0.8 (sealed + inrush)",
        f"0.8 × ({figure(sealed)} + {figure(inrush)})",
        rating,
        "VA",
        figure(rating),
        f"{figure(need)} VA are asked for, so that the voltage holds while the largest coil pulls in.",
        "Usual rule for control transformers (IEC 61558-2-2)",
        "" if rating else "No standard size is large enough.",
        sizes=tuple(row[0] for row in sheet.series("control-transformers")),
        wanted=need,
        factors=(
            Factor("the 0.8", 0.8),
            Factor(
                "sealed and inrush together",
                sealed + inrush,
                1,
                (("the sealed VA were left out", inrush), ("the inrush VA were left out", sealed)),
                False,
            ),
        ),
    )
