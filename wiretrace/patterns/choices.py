"""What can be chosen for a circuit that is made by rules."""

from enum import StrEnum
from typing import Annotated

from pydantic import Field

from wiretrace.document.circuit import Convention, Frozen


class Pattern(StrEnum):
    START_STOP = "start-stop"
    TWO_WIRE = "two-wire"
    HAND_OFF_AUTO = "hand-off-auto"
    JOG = "jog"
    REVERSING = "reversing"
    STAR_DELTA = "star-delta"


class Mains(StrEnum):
    EUROPEAN = "400 V, 50 Hz"
    AMERICAN = "480 V, 60 Hz"


class ControlSupply(StrEnum):
    NEUTRAL = "phase and neutral"
    TRANSFORMER = "control transformer"


class OverloadSide(StrEnum):
    LINE = "line side"
    NEUTRAL = "neutral side"


class Choices(Frozen):
    """Stations count for start-stop, reversing and star-delta; the motor is the nameplate of each pattern."""

    pattern: Pattern
    convention: Convention = "iec"
    mains: Mains = Mains.EUROPEAN
    control: ControlSupply = ControlSupply.NEUTRAL
    overload: OverloadSide = OverloadSide.LINE
    stations: Annotated[int, Field(ge=1, le=4)] = 1
    lamps: bool = True
    emergency_stop: bool = False
    phase_monitor: bool = False
