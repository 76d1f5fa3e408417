"""What trips a breaker from elsewhere, and what tells that it has tripped."""

from collections.abc import Mapping
from typing import Final

from wiretrace.catalogue.machinery.element import CONTACT_OHM, Signal, Value
from wiretrace.catalogue.machinery.purpose import Does, Operating
from wiretrace.catalogue.machinery.structure import (
    Branch,
    DeviceState,
    Param,
    Params,
    Part,
    Role,
    Scalar,
    Terminal,
    When,
    number,
)

UNDERVOLTAGE: Final = "undervoltage"
SHUNT: Final = "shunt"
_UNDER: Final = When("release", (UNDERVOLTAGE,))
_SHUNT: Final = When("release", (SHUNT,))
_ALARM: Final = When("alarm_contact", (True,))

PARAMS: Final = (
    Param("release", "Release", "none", choices=("none", UNDERVOLTAGE, SHUNT)),
    Param("release_voltage_v", "Voltage of the release", 230.0, "V", 12.0, 690.0),
    Param("alarm_contact", "Trip-alarm contact", False),
)
TERMINALS: Final = (
    *(Terminal(name, when=_UNDER) for name in ("D1", "D2")),
    *(Terminal(name, when=_SHUNT) for name in ("C1", "C2")),
    *(Terminal(name, when=_ALARM) for name in ("97", "98")),
)
BRANCHES: Final = (
    Branch("undervoltage", "D1", "D2", Role.LOAD, _UNDER),
    Branch("shunt", "C1", "C2", Role.LOAD, _SHUNT),
    Branch("97-98", "97", "98", Role.CONTACT, _ALARM),
)
PARTS: Final = (
    Part("undervoltage", "Undervoltage release", "release_u", Does.CONSUMES, ("D1", "D2"), ("undervoltage",), _UNDER),
    Part("shunt", "Shunt release", "release_s", Does.CONSUMES, ("C1", "C2"), ("shunt",), _SHUNT),
    Part("97-98", "Trip alarm 97-98, NO", "contact_no", Does.NORMALLY_OPEN, ("97", "98"), ("97-98",), _ALARM),
)
MADE_FOR: Final = ("undervoltage", "shunt")
TAKES_VA: Final = 5.0
FALLS_BELOW: Final = 0.5
"""Share of its voltage at which an undervoltage release trips: between 35 and 70 % (IEC 60947-1, 7.2.1.3)."""
TRIPS_FROM: Final = 0.7
"""Share of its voltage from which a shunt release trips (IEC 60947-1, 7.2.1.4)."""
ACTS_US: Final = 20_000
IDLE: Final[Mapping[str, Scalar]] = {"released_at_us": None}


def operating(params: Params, branch: str) -> Operating | None:
    """What a release is made for."""
    return Operating(number(params, "release_voltage_v"), TAKES_VA) if branch in MADE_FOR else None


def values(params: Params, state: DeviceState) -> Mapping[str, Value]:
    """What releases and alarm contact are worth; what these parameters leave out is passed over."""
    coil = Value(number(params, "release_voltage_v") ** 2 / TAKES_VA)
    alarm = {"97-98": Value(CONTACT_OHM)} if state["tripped"] else {}
    return {**dict.fromkeys(MADE_FOR, coil), **alarm}


def due(params: Params, state: DeviceState, signals: Mapping[str, Signal], now_us: int) -> int | None:
    """When its release trips the breaker."""
    rated, trips = number(params, "release_voltage_v"), False
    if params["release"] == UNDERVOLTAGE:
        trips = signals[UNDERVOLTAGE].rms_v < FALLS_BELOW * rated
    elif params["release"] == SHUNT:
        trips = signals[SHUNT].rms_v >= TRIPS_FROM * rated and signals[SHUNT].rms_a > 0
    if not trips or not state["on"]:
        return None
    planned = state["released_at_us"]
    return planned if isinstance(planned, int) else now_us + ACTS_US
