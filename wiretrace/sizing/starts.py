"""Lines of the sheet for the start: what it takes from the line, how long it lasts, and what each way needs besides."""

import math
from collections.abc import Callable, Iterator, Mapping
from typing import Final

from wiretrace.sizing.line import Factor, Line, figure, product
from wiretrace.sizing.plate import ROOT3, Plate
from wiretrace.sizing.series import next_up
from wiretrace.sizing.sheet import CONVERTER_EFFICIENCY, CONVERTER_FACTOR, Sheet


def start_lines(sheet: Sheet) -> Iterator[Line]:
    """How it starts: its current, direct and in star, and how long it takes."""
    plate = sheet.plate
    yield product(
        "locked",
        "Start",
        "Start current, direct",
        "I_start = ratio × I",
        "A",
        [
            Factor("the locked-rotor ratio", plate.locked_ratio),
            Factor("the full-load current", plate.current_a, can_be_left_out=False),
        ],
        source="Nameplate; code letter: NEMA MG 1, 10.37.2",
        estimated="locked_ratio" in plate.estimated,
    )
    yield from _by_its_way(sheet)
    if not plate.single_phase:
        yield _fit_for_star(plate)
    seconds = sheet.start.seconds
    shown = "never" if seconds is None else figure(seconds)
    yield Line(
        "start_time",
        "Start",
        "Time of the start",
        "as simulated" if plate.start_s is None else "as given",
        f"{plate.inertia_kgm2:.3g} kg m², a fan at 90 %",
        seconds,
        "" if seconds is None else "s",
        shown,
        "" if seconds is not None else "With this load it does not come up to speed.",
        "The motor and load of the simulation",
        "" if seconds is not None else "The motor does not start.",
        estimated=plate.start_s is None,
    )


def _by_its_way(sheet: Sheet) -> Iterator[Line]:
    """What the way of starting itself asks for."""
    lines = _WAYS.get(sheet.plate.start)
    if lines is not None:
        yield from lines(sheet)
    if sheet.plate.start in ("by_tap", "soft_start") and not sheet.plate.single_phase:
        yield _torque(sheet)


def _limited(sheet: Sheet, who: str) -> Line:
    """Start current that something holds to so many full-load currents."""
    plate = sheet.plate
    return product(
        "limited_start",
        "Start",
        f"Start current, held by the {who}",
        "I_s = limit × I",
        "A",
        [
            Factor("the limit", min(plate.start_limit, plate.locked_ratio)),
            Factor("the full-load current", plate.current_a, can_be_left_out=False),
        ],
        choice=sheet.way.says,
        source="Textbook",
        estimated="start_limit" in plate.estimated,
    )


def _torque(sheet: Sheet) -> Line:
    """What is left of the torque that the motor starts with."""
    plate = sheet.plate
    share = sheet.way.torque(plate)
    return Line(
        "start_torque",
        "Start",
        "Torque at the first moment, of that of a direct start",
        "T = (I_motor / I_start)²",
        f"({figure(math.sqrt(share))})²",
        100 * share,
        "%",
        figure(100 * share),
        "A load that asks for its torque at once, as a loaded conveyor does, may not move.",
        "Textbook",
    )


def _autotransformer(sheet: Sheet) -> Iterator[Line]:
    plate = sheet.plate
    tap = Factor("the tap, squared", plate.tap, 2, (("the tap was taken once, not squared", math.sqrt(plate.tap)),))
    start_a = Factor("the direct start current", sheet.locked_a, can_be_left_out=False)
    estimated = "tap" in plate.estimated
    yield product(
        "tapped_start",
        "Start",
        "Start current in the line, at the tap",
        "I_s = k² I_start",
        "A",
        [tap, start_a],
        choice=sheet.way.says,
        source="Textbook",
        estimated=estimated,
    )
    yield product(
        "tapped_kva",
        "Start",
        "Autotransformer, through the start",
        "S = √3 U k² I_start",
        "kVA",
        [
            Factor("root 3", ROOT3),
            Factor("the voltage", plate.supply_v, can_be_left_out=False),
            tap,
            start_a,
            Factor("the 1000 from volt-amperes", 1000.0, -1),
        ],
        choice="For as long as a start takes, so many times an hour: ask for that, and for taps of 50, 65 and 80 %.",
        source="Textbook",
        estimated=estimated,
    )


def _soft_starter(sheet: Sheet) -> Iterator[Line]:
    yield _limited(sheet, "soft starter")
    yield Line(
        "soft_rating",
        "Start",
        "Soft starter, rated for",
        "I_e ≥ I",
        figure(sheet.feed_a),
        sheet.feed_a,
        "A",
        figure(sheet.feed_a),
        "At this start current, time and number an hour (AC-53a; with a bypass AC-53b). Its fuses are the maker's.",
        "IEC 60947-4-2:2020, 5.4",
    )


def _wound_rotor(sheet: Sheet) -> Iterator[Line]:
    plate = sheet.plate
    yield _limited(sheet, "resistors of the rotor")
    if plate.rotor_v is None or plate.rotor_a is None:
        return
    yield product(
        "rotor_ohm",
        "Start",
        "Resistance of the first step, each phase",
        "R = U_2 / (√3 limit I_2)",
        "ohm",
        [
            Factor("the rotor's voltage", plate.rotor_v, can_be_left_out=False),
            Factor("root 3", ROOT3, -1),
            Factor("the limit", plate.start_limit, -1),
            Factor("the rotor's current", plate.rotor_a, -1, can_be_left_out=False),
        ],
        choice="The rotor's own resistance is part of it; the steps are cut out as the motor comes up.",
        source="Textbook",
    )
    rotor = next_up(sheet.series("contactors"), plate.rotor_a / ROOT3)
    yield Line(
        "contactor_rotor",
        "Start",
        "Contactor that shorts the rotor, its poles joined in delta",
        "I ≥ I_2 / √3",
        f"{figure(plate.rotor_a)} / 1.732",
        rotor,
        "A",
        figure(rotor),
        f"AC-1; its voltage must allow the rotor's {figure(plate.rotor_v)} V.",
        "IEC 60947-4-1, AC-1",
    )


def _two_speed(sheet: Sheet) -> Iterator[Line]:
    plate = sheet.plate
    low_a = plate.low_share * plate.current_a
    yield Line(
        "low_current",
        "Start",
        "Full-load current at the low speed",
        "I_low",
        figure(low_a),
        low_a,
        "A",
        figure(low_a),
        "" if plate.low_kw is None else f"At {figure(plate.low_kw)} kW.",
        "Nameplate",
        estimated="low_current" in plate.estimated,
    )
    times = sheet.dial_a / sheet.motor_a
    yield product(
        "dial_low",
        "Start",
        "Dial of the relay of the low speed",
        "I_dial = rule × I_low",
        "A",
        [Factor("the low speed's current", low_a, can_be_left_out=False), Factor("the dial's rule", times)],
        choice="A relay for each speed: that of the high speed protects nothing at the low one.",
        source="IEC 60947-4-1, 8.2.1.5",
        estimated="low_current" in plate.estimated,
    )


def _converter(sheet: Sheet) -> Iterator[Line]:
    plate = sheet.plate
    yield _limited(sheet, "converter")
    yield product(
        "converter_in",
        "Start",
        "What the converter takes from the line at full load",
        "I_1 = √3 U I cos φ / (√3 U_1 λ η)",
        "A",
        [
            Factor("the motor's current", plate.current_a, can_be_left_out=False),
            Factor("the power factor of the motor", plate.power_factor),
            Factor("the motor's voltage", plate.voltage_v, can_be_left_out=False),
            Factor("the voltage of the supply", plate.supply_v, -1, can_be_left_out=False),
            Factor("the converter's power factor", CONVERTER_FACTOR, -1),
            Factor("its efficiency", CONVERTER_EFFICIENCY, -1),
        ],
        choice="Breaker, fuses and contactor go by it; the maker's figure comes first. No contactor between converter"
        " and motor is switched while it runs.",
        source="Textbook; IEC 61800-2:2015; NFPA 70 (2023), 430.122",
        estimated=True,
    )


def _star_delta(sheet: Sheet) -> Iterator[Line]:
    yield product(
        "star_start",
        "Start",
        "Start current in the line, star-delta",
        "I_Y = I_start / 3",
        "A",
        [
            Factor("the direct start current", sheet.locked_a, can_be_left_out=False),
            Factor("the 3", 3.0, -1, (("root 3 was put in for 3", ROOT3),)),
        ],
        choice=sheet.way.says,
        source="Textbook",
    )


_WAYS: Final[Mapping[str, Callable[[Sheet], Iterator[Line]]]] = {
    "star_delta": _star_delta,
    "by_tap": _autotransformer,
    "soft_start": _soft_starter,
    "wound_rotor": _wound_rotor,
    "two_speed": _two_speed,
    "converter": _converter,
}


def _fit_for_star(plate: Plate) -> Line:
    volts = plate.voltage_v / (1.0 if plate.in_delta else ROOT3)
    suits = plate.in_delta and abs(plate.supply_v / plate.voltage_v - 1) < 0.1
    words = (
        f"In delta each winding gets the {plate.supply_v:g} V that it is made for."
        if suits
        else f"In delta each winding would get {plate.supply_v:g} V and is made for {figure(volts)} V."
    )
    assumed = "connection" in plate.estimated
    if assumed:
        words = f"The connection is not given; taken as {'delta' if plate.in_delta else 'star'}. {words}"
    return Line(
        "star_delta",
        "Start",
        "Fit for star-delta on this supply?",
        "U_w = U of the supply",
        "",
        None,
        "",
        ("if it is wound so" if assumed else "yes") if suits else "no",
        words,
        "Textbook",
        "Its windings burn in delta." if plate.star_delta and not suits else "",
        estimated=assumed,
    )
