"""The sheet: every line of it, from the full-load current to the voltage at the motor, with its reason."""

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Final

from wiretrace.sizing import american
from wiretrace.sizing.curves import Start, start_of
from wiretrace.sizing.line import Factor, Line, figure, product
from wiretrace.sizing.plate import ROOT3, Plate
from wiretrace.sizing.quantities import HP_KW
from wiretrace.sizing.schools import QUESTIONS, SERVICE_LIMIT, dial_times
from wiretrace.sizing.series import Rows, chosen, next_up

FUSE_TIMES: Final[Mapping[str, float]] = {"iec": 1.6, "na": 1.75}
"""Of a gG link that carries a start (gates of IEC 60269-2), of a dual-element fuse at most (NFPA 70, 430.52)."""
STAR_LINE: Final = 1 / 3
DELTA_SHARE: Final = 1 / ROOT3
"""Share of the line current in the line and delta contactor of a star-delta starter; the star contactor has a third."""


@dataclass(frozen=True)
class Sheet:
    """What everything is worked out from: plate, schools by question, and the user's own series."""

    plate: Plate
    schools: Mapping[str, str]
    own: Mapping[str, Rows]

    @property
    def american(self) -> bool:
        return self.schools["sizes"] == "na"

    def series(self, name: str) -> Rows:
        """A series of the chosen convention, or one that both share."""
        both = {"overloads", "current-transformers", "control-transformers"}
        return chosen(name if name in both else f"{name}-{self.schools['sizes']}", self.own)

    def rule(self, question: str) -> float:
        return QUESTIONS[question].rules[self.schools[question]].value

    @cached_property
    def start(self) -> Start:
        return start_of(self.plate)

    @property
    def motor_a(self) -> float:
        return self.plate.current_a

    @cached_property
    def table_a(self) -> float | None:
        """Full-load current of the code's tables by North American practice; None where they have none, or for IEC."""
        plate = self.plate
        if not self.american:
            return None
        return american.full_load_a(plate.power_kw / HP_KW, plate.voltage_v, plate.single_phase)

    @property
    def branch_a(self) -> float:
        """What conductors, breaker, fuse and contactor go by, amperes: of the tables, or of the plate."""
        return self.motor_a if self.table_a is None else self.table_a

    @property
    def locked_a(self) -> float:
        """Direct start current, amperes."""
        return self.plate.locked_ratio * self.plate.current_a

    @property
    def start_a(self) -> float:
        """Start current in the line as it is started."""
        return self.locked_a * (STAR_LINE if self.plate.star_delta else 1.0)

    @property
    def relay_share(self) -> float:
        """Share of the line current that the overload relay carries: in star-delta it stands in the windings' lines."""
        return DELTA_SHARE if self.plate.star_delta else 1.0

    @cached_property
    def dial_a(self) -> float:
        """Where the relay is set: as somebody set it, else by the rule."""
        if self.plate.dial_a is not None:
            return self.plate.dial_a
        return dial_times(self.schools["dial"], self.plate.service_factor) * self.relay_share * self.motor_a

    @cached_property
    def range_a(self) -> tuple[float, float] | None:
        """The overload range in whose middle the dial stands best; None where none holds it."""
        holding = [(row[0], row[1]) for row in self.series("overloads") if row[0] <= self.dial_a <= row[1]]
        return min(holding, key=lambda row: abs(math.log(self.dial_a**2 / (row[0] * row[1]))), default=None)

    @cached_property
    def breaker_a(self) -> float | None:
        return next_up(self.series("breakers"), self.rule("breaker_multiple") * self.branch_a)

    @property
    def fuse_times(self) -> float:
        """A fuse's rating in full-load currents, before the next size."""
        return FUSE_TIMES[self.schools["sizes"]]

    @cached_property
    def fuse_a(self) -> float | None:
        return next_up(self.series("fuse-links"), self.fuse_times * self.branch_a)

    @property
    def curve(self) -> str:
        return self.schools["curve"]

    def contactor_a(self, share: float) -> float | None:
        by_current = next_up(self.series("contactors"), self.rule("contactor_multiple") * share * self.branch_a)
        size = self.contactor_size if share == 1.0 else None
        if by_current is None or size is None:
            return by_current
        return max(by_current, american.SIZE_A[american.SIZES.index(size)])

    @cached_property
    def contactor_size(self) -> str | None:
        """The size of a contactor that starts the motor across the line, by its horsepower; None for IEC."""
        plate = self.plate
        if not self.american or "contactors-na" in self.own:
            return None
        wanted = self.rule("contactor_multiple") * self.branch_a
        return american.contactor_size(plate.power_kw / HP_KW, plate.voltage_v, plate.single_phase, wanted)


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
    if plate.star_delta:
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
            choice="Volts and amperes of each winding fall to a root-3rd, those of the line and the torque to a third.",
            source="Textbook",
        )
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


def schools_in(sheet: Sheet) -> dict[str, str]:
    """The schools that are followed, in words."""
    return {question.title: question.rules[sheet.schools[name]].title for name, question in QUESTIONS.items()}


def service_note(sheet: Sheet) -> str:
    """What the service factor has to do with the dial."""
    enough = sheet.plate.service_factor >= SERVICE_LIMIT
    return f"Service factor {sheet.plate.service_factor:g}: {'125' if enough else '115'} %."
