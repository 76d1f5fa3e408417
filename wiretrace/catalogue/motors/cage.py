"""Three-phase cage motors with three or six leads."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.purpose import Does, Windings
from wiretrace.catalogue.machinery.structure import (
    Branch,
    Param,
    Part,
    Role,
    Terminal,
    When,
)
from wiretrace.catalogue.machinery.temperature_sensors import SENSORS, TITLES
from wiretrace.catalogue.motors.shaft_brake import BrakedMotor


def plate_params(power_kw: float, current_a: float, voltage: str, *more: float) -> tuple[Param, ...]:
    """What stands on the nameplate, and what the motor drives."""
    efficiency, speed, locked, locked_factor, inertia = more
    return (
        Param("rated_power_kw", "Rated power", power_kw, "kW", 0.05, 500.0, sized="power_kw"),
        Param("rated_voltage_v", voltage, 400.0, "V", 24.0, 1000.0, sized="voltage_v"),
        Param("rated_current_a", "Rated line current", current_a, "A", 0.05, 1000.0, sized="current_a"),
        Param("power_factor", "Power factor", 0.81, "", 0.05, 1.0, sized="power_factor"),
        Param("efficiency_percent", "Efficiency", efficiency, "%", 20.0, 99.0, sized="efficiency_percent"),
        Param("rated_speed_rpm", "Rated speed", speed, "rpm", 100.0, 24000.0, sized="speed_rpm"),
        Param("rated_frequency_hz", "Rated frequency", 50.0, "Hz", 16.0, 400.0, sized="frequency_hz"),
        Param("locked_rotor_ratio", "Locked-rotor current, times rated", locked, "", 2.0, 12.0, sized="locked_ratio"),
        Param("locked_rotor_power_factor", "Power factor with the rotor locked", locked_factor, "", 0.1, 0.95),
        Param("load", "Load", "fan", choices=("fan", "constant", "none")),
        Param("load_percent", "Load torque at rated speed", 90.0, "%", 0.0, 1000.0, driven=True),
        Param("inertia_kgm2", "Inertia of motor and load", inertia, "kg m2", 1e-4, 1000.0, sized="inertia_kgm2"),
        Param("winding_time_constant_s", "Thermal time constant of the windings", 1200.0, "s", 10.0, 36000.0),
    )


_FITTED_PARAMS: Final = (
    Param("thermostat", "Winding thermostat", False),
    Param("thermistors", "Sensors in the windings", False),
    Param("sensors", "Kind of these sensors", "ptc", choices=tuple(SENSORS), titles=TITLES),
    Param("speed_switch", "Zero-speed switch on the shaft", False),
    Param("brake", "Brake on the shaft", False),
    Param("brake_voltage_v", "Direct voltage of the brake", 205.0, "V", 12.0, 250.0),
)


_THERMISTORS: Final = When("thermistors", (True,))
_SPEED_SWITCH: Final = When("speed_switch", (True,))
_BRAKE: Final = When("brake", (True,))


def _leads(markings: Mapping[str, str]) -> tuple[Terminal, ...]:
    """The leads, the frame, and the two leads of a thermostat."""
    fitted = When("thermostat", (True,))
    return (
        *(Terminal(name, nema) for name, nema in markings.items()),
        Terminal("PE", "GND", frame=True),
        Terminal("TB1", "P1", fitted),
        Terminal("TB2", "P2", fitted),
        *(Terminal(name, when=_THERMISTORS) for name in ("TP1", "TP2")),
        *(Terminal(name, when=_SPEED_SWITCH) for name in ("SF1", "SF2", "SR1", "SR2")),
        *(Terminal(name, when=_BRAKE) for name in ("BR1", "BR2")),
    )


_THERMOSTAT: Final = When("thermostat", (True,))
_FITTED_BRANCHES: Final = (
    Branch("thermostat", "TB1", "TB2", Role.CONTACT, _THERMOSTAT),
    Branch("brake", "BR1", "BR2", Role.LOAD, _BRAKE),
    Branch("thermistors", "TP1", "TP2", Role.LOAD, _THERMISTORS),
    Branch("turns forward", "SF1", "SF2", Role.CONTACT, _SPEED_SWITCH),
    Branch("turns backward", "SR1", "SR2", Role.CONTACT, _SPEED_SWITCH),
)
_FITTED_PARTS: Final = (
    Part(
        "thermostat",
        "Winding thermostat, NC",
        "temperature_nc",
        Does.NORMALLY_CLOSED,
        ("TB1", "TB2"),
        ("thermostat",),
        _THERMOSTAT,
    ),
    Part("brake", "Brake", "brake_coil", Does.CONSUMES, ("BR1", "BR2"), ("brake",), _BRAKE),
    Part("thermistors", "Sensors", "thermistors", Does.CONSUMES, ("TP1", "TP2"), ("thermistors",), _THERMISTORS),
    *(
        Part(
            f"turns {way}",
            f"Zero-speed switch, {way}",
            "speed_no",
            Does.NORMALLY_OPEN,
            terminals,
            (f"turns {way}",),
            _SPEED_SWITCH,
        )
        for way, terminals in (("forward", ("SF1", "SF2")), ("backward", ("SR1", "SR2")))
    ),
)


class ThreeLeadMotor(BrakedMotor):
    """The windings are joined inside; only U1, V1, W1 and the frame come out."""

    name = "motor_three_phase"
    title = "Three-phase motor, three leads"
    rank = 10
    params = (*plate_params(1.5, 3.4, "Rated line voltage", 79.0, 1430.0, 5.5, 0.7, 0.02), *_FITTED_PARAMS)
    terminals = _leads({"U1": "T1", "V1": "T2", "W1": "T3"})
    internal_nodes = ("star",)
    windings = ("U1", "V1", "W1")
    three_phase = Windings(windings)
    coupled = (windings,)
    in_delta = False
    branches = (*(Branch(name, name, "star", Role.LOAD) for name in ("U1", "V1", "W1")), *_FITTED_BRANCHES)
    parts = (
        Part("motor", "Motor", "motor_3", Does.TURNS, ("U1", "V1", "W1", "PE"), ("U1", "V1", "W1"), height=11),
        *_FITTED_PARTS,
    )


class SixLeadMotor(BrakedMotor):
    """All six winding ends come out, to be joined in star or in delta."""

    name = "motor_six_leads"
    title = "Three-phase motor, six leads"
    rank = 20
    params = (*plate_params(7.5, 15.5, "Rated line voltage in delta", 86.0, 1450.0, 7.0, 0.5, 0.15), *_FITTED_PARAMS)
    terminals = _leads({"U1": "T1", "V1": "T2", "W1": "T3", "U2": "T4", "V2": "T5", "W2": "T6"})
    windings = ("U1-U2", "V1-V2", "W1-W2")
    three_phase = Windings(("U1", "V1", "W1"), ("U2", "V2", "W2"))
    coupled = (windings,)
    in_delta = True
    branches = (*(Branch(f"{n}1-{n}2", f"{n}1", f"{n}2", Role.LOAD) for n in "UVW"), *_FITTED_BRANCHES)
    parts = (
        Part(
            "motor",
            "Motor",
            "motor_6",
            Does.TURNS,
            ("U1", "V1", "W1", "U2", "V2", "W2", "PE"),
            ("U1-U2", "V1-V2", "W1-W2"),
            height=13,
        ),
        *_FITTED_PARTS,
    )
