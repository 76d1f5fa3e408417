"""Where one probe gets its potential from, in terms of the circuit document."""

from dataclasses import dataclass

from wiretrace.document.circuit import End
from wiretrace.simulation.reach import Standing


@dataclass(frozen=True)
class LoadShare:
    """A load on a probe's way: its device, its element, and the volts across it with the meter on."""

    device: str
    branch: str
    voltage_v: float


@dataclass(frozen=True)
class ProbePath:
    """Where one probe gets its potential from, in terms of the circuit document.

    `terminals` are passed in order from the probe to the pole; `conductors` are the wires in
    between; `contacts` the closed contacts as (device, element). `drops` are joints on the way that should drop
    nothing and do, and `also` is a second way, to another pole, through as few loads.
    """

    standing: Standing
    number: str | None
    pole: End | None
    terminals: tuple[End, ...]
    conductors: tuple[str, ...]
    contacts: tuple[tuple[str, str], ...]
    loads: tuple[LoadShare, ...]
    drops: tuple[LoadShare, ...] = ()
    also: "ProbePath | None" = None
    star_of: str | None = None
    """The motor at whose star point it stands, if it does."""
