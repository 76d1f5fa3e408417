"""What the form asks for: each field with its title and what it takes, and with which choices alone it is asked."""

from collections.abc import Mapping
from typing import Final

from wiretrace.sizing import quantities as q
from wiretrace.sizing.quantities import Quantity

FIELDS: Final[Mapping[str, tuple[str, Quantity | tuple[str, ...]]]] = {
    # On the plate, in the order in which it is read.
    "power": ("Rated power", q.POWER),
    "voltage": ("Rated voltage", q.VOLTAGE),
    "connection": ("Connection at that voltage", ("delta", "star")),
    "current": ("Rated current", q.CURRENT),
    "power_factor": ("Power factor", q.FACTOR),
    "efficiency": ("Efficiency", q.FACTOR),
    "speed": ("Rated speed", q.SPEED),
    "frequency": ("Frequency", q.FREQUENCY),
    "locked_ratio": ("Locked-rotor current, times rated", q.TIMES),
    "code_letter": ("Code letter", tuple("ABCDEFGHJKLMNPRSTUV")),
    "service_factor": ("Service factor", q.SERVICE),
    "duty": ("Duty", ("S1", "S2", "S3")),
    "ambient": ("Ambient", q.TEMPERATURE),
    # The supply and the way to the motor.
    "supply_voltage": ("Voltage of the supply", q.VOLTAGE),
    "phases": ("Phases", ("3", "1")),
    "fault_current": ("Prospective fault current", q.FAULT_CURRENT),
    "transformer_kva": ("Transformer", q.APPARENT),
    "length": ("Length of the cable", q.LENGTH),
    "area": ("Conductor", q.AREA),
    "sets": ("Conductors in parallel", q.SETS),
    "material": ("Material", ("copper", "aluminium")),
    "laying": ("Laid", ("conduit", "multicore_conduit", "wall", "air", "ground")),
    "circuits": ("Circuits that lie together", q.CIRCUITS),
    "insulation": ("Insulation", ("PVC", "XLPE")),
    "conductor_c": ("Conductor made for, °C", ("60", "75", "90")),
    "terminals_c": ("Terminals marked, °C", ("60", "75")),
    # How it is started, and what else hangs on the sheet.
    "start": (
        "Start",
        ("direct", "star_delta", "by_tap", "soft_start", "wound_rotor", "two_speed", "converter"),
    ),
    "tap": ("Tap of the autotransformer", q.FACTOR),
    "start_limit": ("Start current limited to, times rated", q.TIMES),
    "low_power": ("Power at the low speed", q.POWER),
    "low_current": ("Current at the low speed", q.CURRENT),
    "rotor_voltage": ("Rotor voltage at standstill", q.VOLTAGE),
    "rotor_current": ("Rotor current", q.CURRENT),
    "start_time": ("Time of the start", q.SECONDS),
    "inertia": ("Inertia of motor and load", q.INERTIA),
    "starts": ("Starts an hour", q.COUNT),
    "dial": ("Dial as it is set", q.CURRENT),
    "coil_sealed": ("Coils, sealed, together", q.SMALL_APPARENT),
    "coil_inrush": ("Largest inrush with what is sealed", q.SMALL_APPARENT),
    "v12": ("Measured L1 to L2", q.VOLTAGE),
    "v23": ("Measured L2 to L3", q.VOLTAGE),
    "v31": ("Measured L3 to L1", q.VOLTAGE),
}
ONLY_FOR: Final[Mapping[str, tuple[str, ...]]] = {
    "tap": ("by_tap",),
    "start_limit": ("soft_start", "wound_rotor", "converter"),
    "low_power": ("two_speed",),
    "low_current": ("two_speed",),
    "rotor_voltage": ("wound_rotor",),
    "rotor_current": ("wound_rotor",),
    "insulation": ("iec",),
    "conductor_c": ("na",),
    "terminals_c": ("na",),
}
"""Fields that are asked for with some ways of starting alone, or with one convention of sizes."""
WORD_TITLES: Final[Mapping[str, str]] = {
    "multicore_conduit": "multicore in conduit",
    "wall": "on a wall",
    "air": "in free air",
    "ground": "in a duct in the ground",
    "conduit": "in conduit",
    "star_delta": "star-delta",
    "by_tap": "by autotransformer",
    "soft_start": "soft starter",
    "wound_rotor": "wound rotor",
    "two_speed": "two speeds",
    "converter": "frequency converter",
}
"""How words that a field may be are written."""
