"""Every exception that the core raises.

    WiretraceError
    |-- CircuitError              the document cannot be used
    |   |-- MalformedDocument     not JSON, or not shaped like a circuit
    |   |-- NewerVersion          written by a later version of the format
    |   |-- CircuitTooLarge       over the limit of devices or conductors
    |   `-- InvalidCircuit        well shaped, but contradicts itself or the catalogue
    |-- UnknownTarget             a probe, action or fault names nothing in the circuit
    |-- MeasurementRefused        an instrument must not be used as things stand
    |-- SingularNetwork           the equations have no single answer
    |-- UnstableInstant           contacts change without end while no time passes
    `-- TooManyEvents             a run changes more often than can be recorded

    Stopped                       the work was broken off from outside; nothing in the core catches it
    |-- TooMuchWork               more computing than was allowed for
    |-- TooSlow                   more time than was allowed for, though little of it was computing
    `-- NobodyWaits               whoever asked has gone

Each of the first carries `problems`: what is wrong and where, so that a screen can put the
message at the place it is about.
"""

from dataclasses import dataclass


@dataclass(frozen=True)
class Problem:
    """One thing that is wrong: a stable code, a sentence, and the place.

    `device`, `terminal` and `conductor` are identifiers of the circuit document;
    `path` is the position in the document when nothing better is known.
    """

    code: str
    message: str
    device: str | None = None
    terminal: str | None = None
    conductor: str | None = None
    path: str | None = None


class WiretraceError(Exception):
    """Base of all errors of the core."""

    def __init__(self, message: str, problems: tuple[Problem, ...] = ()) -> None:
        super().__init__(message)
        self.message = message
        self.problems = problems


class CircuitError(WiretraceError):
    """The circuit document cannot be used."""


class MalformedDocument(CircuitError):
    """Not JSON, or not shaped like a circuit document."""


class NewerVersion(CircuitError):
    """The document was written by a later version of the format."""


class CircuitTooLarge(CircuitError):
    """More devices or conductors than the limit."""


class InvalidCircuit(CircuitError):
    """The document is well shaped, but contradicts itself or the catalogue."""


class UnknownTarget(WiretraceError):
    """A probe, an action or a fault names something that the circuit lacks."""


class MeasurementRefused(WiretraceError):
    """An instrument must not be used as things stand: ohms on a live circuit."""


class SingularNetwork(WiretraceError):
    """The network equations have no single answer; `problems` names the causes."""


class UnstableInstant(WiretraceError):
    """Contacts keep changing at one instant without any time passing."""


class TooManyEvents(WiretraceError):
    """The run changes more often than a trajectory may record."""


class Stopped(Exception):
    """The work was broken off from outside, wherever it stood."""

    def __init__(self, message: str) -> None:
        super().__init__(message)
        self.message = message


class TooMuchWork(Stopped):
    """The work takes more computing than it was allowed; the message says how much that was."""


class TooSlow(Stopped):
    """The work takes longer than anybody waits, as on a machine that has much else to do."""


class NobodyWaits(Stopped):
    """Whoever asked for the work has gone."""
