"""The rules by which patterns are made."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Final

from wiretrace.document.circuit import Circuit
from wiretrace.layout.letters import relettered
from wiretrace.layout.tidy import tidy
from wiretrace.patterns.choices import Choices, ControlSupply, Mains, OverloadSide, Pattern
from wiretrace.patterns.draft import Draft

PHASES: Final = (("L1", "1", "2"), ("L2", "3", "4"), ("L3", "5", "6"))


@dataclass(frozen=True)
class _Ratings:
    """What devices are rated for on one mains, and the nameplates of two motors that run on it."""

    line_v: float
    hz: float
    phase_v: float
    transformed_v: float
    small: Mapping[str, float]
    large: Mapping[str, float]

    def supply(self) -> dict[str, float]:
        return {"line_voltage_v": self.line_v, "frequency_hz": self.hz}

    def control_v(self, choices: Choices) -> float:
        return self.transformed_v if choices.control is ControlSupply.TRANSFORMER else self.phase_v


_PLATE_480: Final = {"rated_voltage_v": 460.0, "rated_frequency_hz": 60.0}
_RATINGS: Final = {
    Mains.EUROPEAN: _Ratings(
        *(400.0, 50.0, 230.0, 110.0),
        {"rated_power_kw": 1.5, "rated_current_a": 3.4},
        {"rated_power_kw": 7.5, "rated_current_a": 15.5},
    ),
    Mains.AMERICAN: _Ratings(
        *(480.0, 60.0, 277.0, 120.0),
        {
            **_PLATE_480,
            "rated_power_kw": 1.49,
            "rated_current_a": 2.8,
            "rated_speed_rpm": 1740.0,
            "power_factor": 0.81,
            "efficiency_percent": 82.5,
        },
        {
            **_PLATE_480,
            "rated_power_kw": 7.46,
            "rated_current_a": 12.5,
            "rated_speed_rpm": 1755.0,
            "power_factor": 0.84,
            "efficiency_percent": 89.2,
        },
    ),
}


def make(title: str, choices: Choices) -> Circuit:
    """The circuit of these choices, on clean sheets."""
    draft = Draft(title)
    _RULES[choices.pattern](draft, choices)
    circuit = draft.circuit()
    return tidy(circuit if choices.convention == "iec" else relettered(circuit, choices.convention), choices.convention)


def _feed(draft: Draft, choices: Choices, breaker_a: float, dial_a: float) -> None:
    """Supply, isolator, motor breaker, overload relay, and the protected feed of the control circuit."""
    ratings = _RATINGS[choices.mains]
    draft.device("G1", "supply_three_phase", "Incoming supply", **ratings.supply())
    draft.device("Q1", "isolator", "Isolator")
    draft.device("Q2", "breaker", "Motor circuit", poles=3, rated_current_a=breaker_a, curve="D")
    draft.device("F2", "overload_relay", "Motor overload", dial_a=dial_a)
    for line, a, b in PHASES:
        draft.join(line, f"g1:{line}", f"q1:{a}")
        draft.join(f"1{line}", f"q1:{b}", f"q2:{a}")
        draft.join(f"2{line}", f"q2:{b}")
    if choices.control is ControlSupply.TRANSFORMER:
        draft.device("F3", "breaker", "Transformer primary", poles=2, rated_current_a=4.0, curve="D")
        volts = {"primary_voltage_v": ratings.line_v, "secondary_voltage_v": ratings.transformed_v}
        told = f"{ratings.line_v:g}/{ratings.transformed_v:g} V"
        draft.device("T1", "control_transformer", told, frequency_hz=ratings.hz, **volts)
        draft.device("F1", "fuses", "Control circuit", rated_current_a=4.0)
        draft.join("1L1", "f3:1")
        draft.join("1L2", "f3:3")
        draft.join("T1", "f3:2", "t1:1.1")
        draft.join("T2", "f3:4", "t1:1.2")
        draft.join("T3", "t1:2.1", "f1:1")
        draft.join(_common(choices), "g1:PE", "t1:2.2")
    else:
        draft.device("F1", "breaker", "Control circuit", rated_current_a=4.0)
        draft.join("1L1", "f1:1")
        draft.join(_common(choices), "g1:N")


def _common(choices: Choices) -> str:
    """The potential to which the control circuit returns; an earthed secondary returns to earth."""
    return "PE" if choices.control is ControlSupply.TRANSFORMER else "N"


def _stop_circuit(draft: Draft, choices: Choices) -> str:
    """Everything that must be closed for anything to run; the potential behind it."""
    net = draft.next_net()
    draft.join(net, "f1:2")
    steps: list[tuple[str, str]] = []
    if choices.phase_monitor:
        draft.device("K9", "phase_monitor", "Phase monitor", line_voltage_v=_RATINGS[choices.mains].line_v)
        for line, _, _ in PHASES:
            draft.join(f"1{line}", f"k9:{line}")
        steps.append(("k9:11", "k9:14"))
    if choices.overload is OverloadSide.LINE:
        steps.append(("f2:95", "f2:96"))
    if choices.emergency_stop:
        draft.device("S9", "emergency_stop", "Emergency stop")
        steps.append(("s9:11", "s9:12"))
    for name in _stations("S0", choices):
        stop = draft.device(name, "push_button", "Stop", contacts="NC", colour="red", role="stop")
        steps.append((f"{stop}:11", f"{stop}:12"))
    for a, b in steps:
        draft.join(net, a)
        net = draft.next_net()
        draft.join(net, b)
    return net


def _stations(label: str, choices: Choices) -> list[str]:
    many = choices.stations > 1 and choices.pattern in (Pattern.START_STOP, Pattern.REVERSING, Pattern.STAR_DELTA)
    return [f"{label}.{n}" for n in range(1, choices.stations + 1)] if many else [label]


def _return(draft: Draft, choices: Choices) -> str:
    """The potential on which loads end that the overload contact must switch."""
    if choices.overload is OverloadSide.LINE:
        return _common(choices)
    net = draft.next_net()
    draft.join(net, "f2:95")
    draft.join(_common(choices), "f2:96")
    return net


def _coil(choices: Choices) -> Mapping[str, float]:
    ratings = _RATINGS[choices.mains]
    return {"coil_voltage_v": ratings.control_v(choices), "coil_frequency_hz": ratings.hz}


def _lamp(draft: Draft, choices: Choices, label: str, function: str, colour: str, net: str, back: str) -> None:
    if choices.lamps:
        volts = _RATINGS[choices.mains].control_v(choices)
        lamp = draft.device(label, "lamp", function, colour=colour, rated_voltage_v=volts)
        draft.join(net, f"{lamp}:X1")
        draft.join(back, f"{lamp}:X2")


def _tripped_lamp(draft: Draft, choices: Choices) -> None:
    if choices.lamps:
        net = draft.next_net()
        draft.join("1", "f2:97")
        draft.join(net, "f2:98")
        _lamp(draft, choices, "H3", "Overload tripped", "yellow", net, _common(choices))


def _simple_motor(draft: Draft, choices: Choices, contactor: str, function: str) -> None:
    """One contactor, the overload relay, a motor of three leads."""
    draft.device("M1", "motor_three_phase", function, **_RATINGS[choices.mains].small)
    for (line, a, b), lead in zip(PHASES, "UVW", strict=True):
        draft.join(f"2{line}", f"{contactor}:{a}")
        draft.join(f"3{line}", f"{contactor}:{b}", f"f2:{a}")
        draft.join(lead, f"f2:{b}", f"m1:{lead}1")
    draft.join("PE", "g1:PE", "m1:PE") if "PE" not in draft.nets else draft.join("PE", "m1:PE")


def _one_contactor(draft: Draft, choices: Choices, function: str) -> tuple[str, str, str]:
    """Feed, stop circuit and contactor K1; the potentials before the start, at its coil, and behind it."""
    _feed(draft, choices, 10.0, _RATINGS[choices.mains].small["rated_current_a"])
    draft.device("K1", "contactor", function, **_coil(choices))
    _simple_motor(draft, choices, "k1", f"{function} 1.5 kW")
    before = _stop_circuit(draft, choices)
    at_coil, back = draft.next_net(), _return(draft, choices)
    draft.join(at_coil, "k1:A1")
    draft.join(back, "k1:A2")
    return before, at_coil, back


def _start_buttons(draft: Draft, choices: Choices, before: str, behind: str, label: str, function: str) -> None:
    for name in _stations(label, choices):
        start = draft.device(name, "push_button", function, contacts="NO", role="start")
        draft.join(before, f"{start}:13")
        draft.join(behind, f"{start}:14")


def _start_stop(draft: Draft, choices: Choices) -> None:
    before, coil, back = _one_contactor(draft, choices, "Motor")
    _start_buttons(draft, choices, before, coil, "S1", "Start")
    draft.join(before, "k1:13")
    draft.join(coil, "k1:14")
    _lamp(draft, choices, "H1", "Running", "green", coil, back)
    if choices.lamps:
        stopped = draft.next_net()
        draft.join("1", "k1:21")
        draft.join(stopped, "k1:22")
        _lamp(draft, choices, "H2", "Stopped", "red", stopped, _common(choices))
    _tripped_lamp(draft, choices)


def _two_wire(draft: Draft, choices: Choices) -> None:
    before, coil, back = _one_contactor(draft, choices, "Pump")
    draft.device("B1", "float_switch", "Level")
    draft.join(before, "b1:13")
    draft.join(coil, "b1:14")
    _lamp(draft, choices, "H1", "Running", "green", coil, back)
    _tripped_lamp(draft, choices)


def _hand_off_auto(draft: Draft, choices: Choices) -> None:
    before, coil, back = _one_contactor(draft, choices, "Pump")
    draft.device("S3", "hand_off_auto", "Mode")
    draft.device("S1", "push_button", "Start", contacts="NO", role="start")
    draft.device("B1", "float_switch", "Level")
    hand, auto = draft.next_net(), draft.next_net()
    draft.join(before, "s3:13", "s3:23")
    draft.join(hand, "s3:14", "s1:13", "k1:13")
    draft.join(auto, "s3:24", "b1:13")
    draft.join(coil, "s1:14", "k1:14", "b1:14")
    _lamp(draft, choices, "H1", "Running", "green", coil, back)
    _tripped_lamp(draft, choices)


def _jog(draft: Draft, choices: Choices) -> None:
    before, coil, back = _one_contactor(draft, choices, "Belt")
    draft.device("S1", "push_button", "Run", contacts="NO", role="start")
    draft.device("S2", "push_button", "Jog", contacts="NO_NC", colour="black", role="jog")
    seal = draft.next_net()
    draft.join(before, "s1:13", "s2:13", "s2:11")
    draft.join(seal, "s2:12", "k1:13")
    draft.join(coil, "s1:14", "s2:14", "k1:14")
    _lamp(draft, choices, "H1", "Running", "green", coil, back)
    _tripped_lamp(draft, choices)


def _reversing(draft: Draft, choices: Choices) -> None:
    """Each coil through the other button's and the other contactor's normally closed contact."""
    _feed(draft, choices, 10.0, _RATINGS[choices.mains].small["rated_current_a"])
    for label, way in (("K1", "Forward"), ("K2", "Backward")):
        draft.device(label, "contactor", way, **_coil(choices))
    _simple_motor(draft, choices, "k1", "Drive 1.5 kW")
    for line, a, _ in PHASES:
        draft.join(f"2{line}", f"k2:{a}")
    for line, terminal in (("L1", "6"), ("L2", "4"), ("L3", "2")):
        draft.join(f"3{line}", f"k2:{terminal}")
    before = _stop_circuit(draft, choices)
    back = _return(draft, choices)
    ways = (("k1", "k2", "S1", "S2", "Forward"), ("k2", "k1", "S2", "S1", "Backward"))
    for name in ("S1", "S2"):
        for station in _stations(name, choices):
            function = "Forward" if name == "S1" else "Backward"
            draft.device(station, "push_button", function, contacts="NO_NC", role="start")
    for number, (mine, other, start, against, function) in enumerate(ways, 1):
        net = before
        for station in _stations(against, choices):
            draft.join(net, f"{station.lower().replace('.', '-')}:11")
            net = draft.next_net()
            draft.join(net, f"{station.lower().replace('.', '-')}:12")
        sealed, coil = draft.next_net(), draft.next_net()
        for station in _stations(start, choices):
            draft.join(net, f"{station.lower().replace('.', '-')}:13")
            draft.join(sealed, f"{station.lower().replace('.', '-')}:14")
        draft.join(net, f"{mine}:13")
        draft.join(sealed, f"{mine}:14", f"{other}:21")
        draft.join(coil, f"{other}:22", f"{mine}:A1")
        draft.join(back, f"{mine}:A2")
        _lamp(draft, choices, f"H{number}", function, "white", coil, back)
    _tripped_lamp(draft, choices)


def _star_delta(draft: Draft, choices: Choices) -> None:
    """Star-delta timer, star and delta contactor each through the other's normally closed contact."""
    ratings = _RATINGS[choices.mains]
    _feed(draft, choices, 25.0, ratings.large["rated_current_a"])
    for label, function in (("K1", "Line"), ("K2", "Star"), ("K3", "Delta")):
        draft.device(label, "contactor", function, **_coil(choices))
    draft.device("K4", "timer_star_delta", "Star-delta timer", supply_voltage_v=ratings.control_v(choices))
    draft.device("M1", "motor_six_leads", "Motor 7.5 kW", **ratings.large)
    for (line, a, b), lead, end in zip(PHASES, "UVW", ("W2", "U2", "V2"), strict=True):
        draft.join(f"2{line}", f"f2:{a}")
        draft.join(f"3{line}", f"f2:{b}", f"k1:{a}", f"k3:{a}")
        draft.join(f"{lead}1", f"k1:{b}", f"m1:{lead}1")
        draft.join(end, f"m1:{end}", f"k3:{b}", f"k2:{a}")
        draft.join("Y", f"k2:{b}")
    draft.join("PE", "g1:PE", "m1:PE") if "PE" not in draft.nets else draft.join("PE", "m1:PE")
    before = _stop_circuit(draft, choices)
    on, back = draft.next_net(), _return(draft, choices)
    _start_buttons(draft, choices, before, on, "S1", "Start")
    draft.join(before, "k1:13")
    draft.join(on, "k1:14", "k1:A1", "k4:A1", "k4:17")
    for terminal, mine, other in (("18", "k2", "k3"), ("28", "k3", "k2")):
        waits, coil = draft.next_net(), draft.next_net()
        draft.join(waits, f"k4:{terminal}", f"{other}:21")
        draft.join(coil, f"{other}:22", f"{mine}:A1")
    draft.join(back, "k1:A2", "k4:A2", "k2:A2", "k3:A2")
    _lamp(draft, choices, "H1", "Running", "green", on, back)
    _tripped_lamp(draft, choices)


_RULES: Final[Mapping[Pattern, Callable[[Draft, Choices], None]]] = {
    Pattern.START_STOP: _start_stop,
    Pattern.TWO_WIRE: _two_wire,
    Pattern.HAND_OFF_AUTO: _hand_off_auto,
    Pattern.JOG: _jog,
    Pattern.REVERSING: _reversing,
    Pattern.STAR_DELTA: _star_delta,
}
