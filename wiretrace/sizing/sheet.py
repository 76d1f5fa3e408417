"""What every line of the sheet is worked out from: plate, practice and series, and what several lines share."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Final

from wiretrace.catalogue.protection.switchgear import Breaker
from wiretrace.sizing import american
from wiretrace.sizing.curves import Start, start_of
from wiretrace.sizing.plate import LOCKED_FACTOR, ROOT3, Plate
from wiretrace.sizing.quantities import HP_KW
from wiretrace.sizing.schools import QUESTIONS, SERVICE_LIMIT, dial_times
from wiretrace.sizing.series import OWN, SOURCES, Rows, chosen, next_up
from wiretrace.sizing.starting import Way, way_of

FUSE_TIMES: Final[Mapping[str, float]] = {"iec": 1.6, "na": 1.75}
"""Of a gG link that carries a start (gates of IEC 60269-2), of a dual-element fuse at most (NFPA 70, 430.52)."""
STAR_LINE: Final = 1 / 3
DELTA_SHARE: Final = 1 / ROOT3
"""Share of the line current in the line and delta contactor of a star-delta starter; the star contactor has a third."""
MINIATURE_TO_A: Final = 125.0
"""The largest miniature breaker with a curve (IEC 60898-1:2015, 5.3.2)."""
PEAK: Final = 1.02 + 0.98 * math.exp(-3 * LOCKED_FACTOR / math.sqrt(1 - LOCKED_FACTOR**2))
"""The first peak of a start over that of its steady current (IEC 60909-0:2016, equation 57, R/X of a locked rotor)."""
RELEASE_MARGIN: Final = 1.2
"""A release that opens at once may do so a fifth below where it is set (IEC 60947-2:2016, 8.3.3.1.2)."""
CONVERTER_FACTOR: Final = 0.93
CONVERTER_EFFICIENCY: Final = 0.97
"""Power factor, with a choke, and efficiency of a frequency converter at full load, as is usual."""


@dataclass(frozen=True)
class Sheet:
    """What everything is worked out from: plate, schools by question, and the user's own series."""

    plate: Plate
    schools: Mapping[str, str]
    own: Mapping[str, Rows]

    @property
    def american(self) -> bool:
        return self.schools["sizes"] == "na"

    @property
    def way(self) -> Way:
        """How the motor is started."""
        return way_of(self.plate)

    def table(self, name: str) -> Rows:
        """A series by its whole name: the user's own, or as it ships."""
        return chosen(name, self.own)

    def _whole(self, name: str) -> str:
        both = {"overloads", "motor-starters", "current-transformers", "control-transformers"}
        return name if name in both else f"{name}-{self.schools['sizes']}"

    def series(self, name: str) -> Rows:
        """A series of the chosen convention, or one that both share."""
        return self.table(self._whole(name))

    def source(self, name: str) -> str:
        """Where a series stands: in a standard, or in a file of the user's own."""
        return self.source_of(self._whole(name))

    def source_of(self, whole: str) -> str:
        """The same by the whole name of a series."""
        return f"{OWN} ({whole})" if whole in self.own else SOURCES[whole]

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
        return self.locked_a * self.way.line(self.plate)

    @cached_property
    def converter_a(self) -> float | None:
        """What a frequency converter takes from the line at full load, amperes; None without one."""
        plate = self.plate
        if plate.start != "converter":
            return None
        taken_w = plate.root * plate.voltage_v * plate.current_a * plate.power_factor
        return taken_w / (plate.root * plate.supply_v * CONVERTER_FACTOR * CONVERTER_EFFICIENCY)

    @property
    def feed_a(self) -> float:
        """What breaker, fuse and contactors before the motor go by, amperes: its own, or what its converter takes."""
        return self.branch_a if self.converter_a is None else self.converter_a

    @property
    def relay_share(self) -> float:
        """Share of the line current that the overload relay carries: in star-delta it stands in the windings' lines."""
        return self.way.relay

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
        return next_up(self.series("breakers"), self.rule("breaker_multiple") * self.feed_a)

    @property
    def adjustable(self) -> bool:
        """Is the breaker one with releases that are set, since no miniature one is made so large?"""
        return not self.american and self.breaker_a is not None and self.breaker_a > MINIATURE_TO_A

    @property
    def breaker_kind(self) -> str:
        """What kind of breaker it is, in words."""
        if self.american:
            return "inverse-time"
        return "adjustable" if self.adjustable else f"curve {self.curve}"

    @property
    def magnetic_a(self) -> float:
        """Where the release of an adjustable breaker that opens at once is set, amperes: above the first peak."""
        return RELEASE_MARGIN * PEAK * self.surge_a

    @property
    def surge_a(self) -> float:
        """The largest current of a start, amperes: where it changes over, that may be a direct start once more."""
        return self.locked_a if self.way.changes_over else self.start_a

    @property
    def at_once_a(self) -> float:
        """Current from which the breaker opens at once, amperes; infinite without one."""
        if self.breaker_a is None:
            return math.inf
        return self.magnetic_a if self.adjustable else Breaker.INSTANTANEOUS[self.curve] * self.breaker_a

    @property
    def fuse_times(self) -> float:
        """A fuse's rating in full-load currents, before the next size."""
        return FUSE_TIMES[self.schools["sizes"]]

    @cached_property
    def fuse_a(self) -> float | None:
        return next_up(self.series("fuse-links"), self.fuse_times * self.feed_a)

    @property
    def curve(self) -> str:
        return self.schools["curve"]

    def contactor_a(self, share: float) -> float | None:
        """The contactor for a share of the full-load current; by horsepower too where it starts the motor itself."""
        by_current = next_up(self.series("contactors"), self.rule("contactor_multiple") * share * self.feed_a)
        size = self.contactor_size if share == 1.0 and self.way.across_the_line else None
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


def schools_in(sheet: Sheet) -> dict[str, str]:
    """The schools that are followed, in words."""
    return {question.title: question.rules[sheet.schools[name]].title for name, question in QUESTIONS.items()}


def service_note(sheet: Sheet) -> str:
    """What the service factor has to do with the dial."""
    enough = sheet.plate.service_factor >= SERVICE_LIMIT
    return f"Service factor {sheet.plate.service_factor:g}: {'125' if enough else '115'} %."
