"""Sensors in the windings of a motor: what they are worth cold and hot, and what a relay makes of that."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final


@dataclass(frozen=True)
class Sensor:
    """A kind of sensor, in ohm. `trips_ohm`, `cool_ohm` and what it takes for shorted and open are those of a relay.

    A sensor whose ohms fall with the temperature is hot below its limit.
    """

    title: str
    cold_ohm: float
    hot_ohm: float
    trips_ohm: float
    cool_ohm: float
    shorted_ohm: float
    open_ohm: float

    @property
    def rises(self) -> bool:
        return self.hot_ohm > self.cold_ohm

    def is_hot(self, ohm: float, limit_ohm: float, surely: float) -> bool:
        """Is it past a limit, by more than rounding?"""
        return ohm > limit_ohm * (1 + surely) if self.rises else ohm < limit_ohm * (1 - surely)


SENSORS: Final[Mapping[str, Sensor]] = {
    # A string of three (IEC 60034-11); limits of the relay by IEC 60947-8.
    "ptc": Sensor("PTC thermistors", 300.0, 4_500.0, 3_600.0, 1_650.0, 20.0, 50_000.0),
    # One of platinum, 100 ohm at 0 degrees (IEC 60751): at 20, 155, 145 and 130 degrees.
    "pt100": Sensor("Pt100", 107.8, 159.2, 155.5, 149.8, 60.0, 1_000.0),
    # 10 kohm at 25 degrees, as is usual.
    "ntc": Sensor("NTC thermistor", 12_500.0, 330.0, 430.0, 600.0, 20.0, 300_000.0),
}
TITLES: Final = {name: sensor.title for name, sensor in SENSORS.items()}
