"""What a hand can measure with, as data, and what each instrument shows."""

from collections.abc import Callable, Mapping
from typing import Annotated, Any, Final, Literal, TypeAlias

from pydantic import Field

from wiretrace.bounds import Most
from wiretrace.document.circuit import End, Frozen, Id
from wiretrace.errors import MeasurementRefused
from wiretrace.instruments.clamp_meter import read_current
from wiretrace.instruments.diode_tester import read_diode
from wiretrace.instruments.low_impedance import read_low_impedance
from wiretrace.instruments.ohmmeter import read_resistance
from wiretrace.instruments.testers import read_insulation, read_phase_sequence, read_two_pole
from wiretrace.instruments.voltmeter import LOW_IMPEDANCE_OHM, Coupling, read_voltage
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame


class Between(Frozen):
    """Two probes."""

    red: End
    black: End


class Voltmeter(Between):
    instrument: Literal["voltmeter"] = "voltmeter"
    coupling: Coupling = Coupling.AUTO


class LowImpedanceVoltmeter(Between):
    instrument: Literal["low_impedance"] = "low_impedance"


class TwoPoleTester(Between):
    """`loaded` while both of its buttons are pressed."""

    instrument: Literal["two_pole"] = "two_pole"
    loaded: bool = False


class Ohmmeter(Between):
    instrument: Literal["ohmmeter"] = "ohmmeter"


class DiodeTester(Between):
    instrument: Literal["diode"] = "diode"


class InsulationTester(Between):
    instrument: Literal["insulation"] = "insulation"
    test_v: Literal[500, 1000] = 500


class PhaseSequenceTester(Frozen):
    instrument: Literal["phase_sequence"] = "phase_sequence"
    ends: tuple[End, End, End]


class Clamp(Frozen):
    """A jaw around conductors that enter it the same way, but for those that are turned."""

    instrument: Literal["clamp"] = "clamp"
    conductors: Annotated[tuple[Id, ...], Most(12, 1)]
    turned: Annotated[tuple[Id, ...], Most(12)] = ()


Measure: TypeAlias = Annotated[
    Voltmeter
    | LowImpedanceVoltmeter
    | TwoPoleTester
    | Ohmmeter
    | DiodeTester
    | InsulationTester
    | PhaseSequenceTester
    | Clamp,
    Field(discriminator="instrument"),
]


class Shown(Frozen):
    """What an instrument shows: `display` with its `unit`, and a `note` beside it.

    `value` is the figure behind it, None where it shows no figure. `beeps` with continuity. `refused` where a person
    who knows the trade would not measure: `note` then says why.
    """

    display: str
    unit: str = ""
    value: float | None = None
    note: str = ""
    beeps: bool = False
    refused: bool = False


def measure(assembly: Assembly, frame: Frame, what: Measure) -> Shown:
    """What an instrument shows in a state. Raises UnknownTarget where it would be put on nothing, and what `run` does.

    A measurement that is refused is shown as such, it is no error.
    """
    try:
        return _HOW[type(what)](assembly, frame, what)
    except MeasurementRefused as refusal:
        return Shown(display="- - -", note=str(refusal), refused=True)


def _voltmeter(assembly: Assembly, frame: Frame, what: Voltmeter) -> Shown:
    reading = read_voltage(assembly, frame.point, what.red, what.black, coupling=what.coupling)
    note = "" if reading.joined else "No return path between the probes."
    if reading.frequency_hz:
        note = f"At {reading.frequency_hz:.3g} Hz, which is not the frequency of the supply."
    return Shown(display=reading.display, unit=f"V {reading.coupling.value}", value=reading.voltage_v, note=note)


def _low_impedance(assembly: Assembly, frame: Frame, what: LowImpedanceVoltmeter) -> Shown:
    low = read_low_impedance(assembly, frame.state, what.red, what.black)
    reading = low.reading
    moved = ", ".join(assembly.devices[name].label for name in low.operates)
    note = f"Its own current through {LOW_IMPEDANCE_OHM / 1e3:g} kΩ operates {moved}." if moved else ""
    return Shown(display=reading.display, unit=f"V {reading.coupling.value}", value=reading.voltage_v, note=note)


def _two_pole(assembly: Assembly, frame: Frame, what: TwoPoleTester) -> Shown:
    seen = read_two_pole(assembly, frame.point, what.red, what.black, what.loaded)
    pole = "A live pole at the red probe. " if seen.live_pole else ""
    dark = "Dark proves nothing: prove the tester before and after." if seen.step_v == 0 else ""
    return Shown(display=seen.shows, value=float(seen.step_v), note=f"{pole}{dark}".strip())


def _ohmmeter(assembly: Assembly, frame: Frame, what: Ohmmeter) -> Shown:
    seen = read_resistance(assembly, frame, what.red, what.black)
    return Shown(display=seen.display, unit="Ω", value=seen.resistance_ohm, beeps=seen.beeps)


def _diode(assembly: Assembly, frame: Frame, what: DiodeTester) -> Shown:
    seen = read_diode(assembly, frame, what.red, what.black)
    return Shown(display=seen.display, unit="V", value=seen.volts, beeps=seen.beeps)


def _insulation(assembly: Assembly, frame: Frame, what: InsulationTester) -> Shown:
    seen = read_insulation(assembly, frame, what.red, what.black, what.test_v)
    least = "" if seen.enough else "Below 1 MΩ, the least of IEC 60364-6."
    return Shown(display=seen.display.replace("ohm", "Ω"), value=seen.resistance_ohm, note=least)


def _phase_sequence(assembly: Assembly, frame: Frame, what: PhaseSequenceTester) -> Shown:
    return Shown(display=read_phase_sequence(assembly, frame.point, *what.ends).shows)


def _clamp(assembly: Assembly, frame: Frame, what: Clamp) -> Shown:
    seen = read_current(assembly, frame.point, what.conductors, what.turned)
    several = len(what.conductors) > 1
    return Shown(
        display=seen.display,
        unit="A",
        value=seen.current_a,
        note="Going and coming conductors cancel in the jaw." if several else "",
    )


_HOW: Final[Mapping[type, Callable[[Assembly, Frame, Any], Shown]]] = {
    Voltmeter: _voltmeter,
    LowImpedanceVoltmeter: _low_impedance,
    TwoPoleTester: _two_pole,
    Ohmmeter: _ohmmeter,
    DiodeTester: _diode,
    InsulationTester: _insulation,
    PhaseSequenceTester: _phase_sequence,
    Clamp: _clamp,
}
