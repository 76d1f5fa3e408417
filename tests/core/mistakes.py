"""Mistakes of the trade, made by rule in every library circuit that has what they are made with.

Each says in the name what was done, and which rules may name it: a mistake is found when one of them does.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import pairwise

from tests.core.circuits import wire, with_params
from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.checks.facts import Facts
from wiretrace.checks.motor_circuit import contactors_of
from wiretrace.checks.opposing import opposing
from wiretrace.document.checked import Installed
from wiretrace.document.circuit import Circuit, Conductor
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.graph import BranchRef


@dataclass(frozen=True)
class Mistake:
    name: str
    made: Circuit
    rules: frozenset[str]


Maker = Callable[[str, Circuit, Facts], Iterator[Mistake]]
STOPS = {"stop_stops", "can_be_stopped", "command_matters", "contact_matters", "stop_normally_closed"}


def ends(facts: Facts, ref: BranchRef) -> tuple[str, str]:
    branch = next(b for b in facts.item(ref).structure.branches if b.name == ref.branch)
    return f"{ref.place}:{branch.a}", f"{ref.place}:{branch.b}"


def bridged(made: Circuit, facts: Facts, ref: BranchRef) -> Circuit:
    return made.model_copy(update={"conductors": (*made.conductors, wire("bridge", *ends(facts, ref)))})


def without(made: Circuit, *gone: str) -> Circuit:
    return made.model_copy(update={"conductors": tuple(one for one in made.conductors if one.id not in gone)})


def at(made: Circuit, terminal: str) -> list[Conductor]:
    return [one for one in made.conductors if terminal in (f"{e.device}:{e.terminal}" for e in (one.a, one.b))]


def exchanged(made: Circuit, one: str, other: str) -> Circuit:
    """All wires of one terminal on the other, and the other way round."""
    swap = {one: other, other: one}

    def moved(end: object) -> dict[str, str]:
        name = f"{end.device}:{end.terminal}"  # type: ignore[attr-defined]
        device, terminal = swap.get(name, name).split(":")
        return {"device": device, "terminal": terminal}

    wires = [Conductor.model_validate({**w.model_dump(), "a": moved(w.a), "b": moved(w.b)}) for w in made.conductors]
    return made.model_copy(update={"conductors": tuple(wires)})


def contacts(facts: Facts, item: Installed, rest: bool) -> list[BranchRef]:
    plain = (Does.NORMALLY_OPEN, Does.NORMALLY_CLOSED)
    return [ref for ref in facts.contacts(item) if facts.does(ref) in plain and facts.rest(ref) is rest]


def stop_bridged(name: str, made: Circuit, facts: Facts) -> Iterator[Mistake]:
    for item in facts.stops:
        for ref in contacts(facts, item, rest=True)[:1]:
            told = f"{name}: {item.label} {ref.branch} bridged"
            yield Mistake(told, bridged(made, facts, ref), frozenset({*STOPS, "controller_stop", "stop_stays"}))


def overload_bridged(name: str, made: Circuit, facts: Facts) -> Iterator[Mistake]:
    for item in facts.that(Does.FEELS_CURRENT):
        for ref in contacts(facts, item, rest=True)[:1]:
            rules = frozenset({"overload_contact", "trip_ends", "contact_matters"})
            yield Mistake(f"{name}: {item.label} {ref.branch} bridged", bridged(made, facts, ref), rules)


def interlock_bridged(name: str, made: Circuit, facts: Facts) -> Iterator[Mistake]:
    for one, two in opposing(facts):
        for item in (one, two):
            for ref in contacts(facts, item, rest=True)[:1]:
                rules = frozenset({"interlock", "stuck_keeps_out", "never_together", "nothing_trips"})
                yield Mistake(f"{name}: {item.label} {ref.branch} bridged", bridged(made, facts, ref), rules)


def start_bridged(name: str, made: Circuit, facts: Facts) -> Iterator[Mistake]:
    for item in facts.buttons:
        for ref in contacts(facts, item, rest=False)[:1]:
            rules = {
                "supply_starts_nothing",
                "automatic_restart",
                "stop_stays",
                "command_matters",
                "reset_starts_nothing",
            }
            told = f"{name}: {item.label} {ref.branch} bridged"
            yield Mistake(told, bridged(made, facts, ref), frozenset({*rules, "nothing_trips", "contact_matters"}))


def seal_open(name: str, made: Circuit, facts: Facts) -> Iterator[Mistake]:
    for item in facts.contactors:
        for ref in contacts(facts, item, rest=False)[:1]:
            gone = [w.id for w in at(made, ends(facts, ref)[0]) if len(at(made, ends(facts, ref)[0])) == 1]
            if gone:
                rules = frozenset({"role_true", "open_ends", "star_left", "lamp_tells", "coil_fed"})
                yield Mistake(f"{name}: wire off {ends(facts, ref)[0]}", without(made, *gone), rules)


def coil_voltage(name: str, made: Circuit, facts: Facts) -> Iterator[Mistake]:
    for item in facts.contactors[:2]:
        if "coil_voltage_v" in item.params:
            volts = float(item.params["coil_voltage_v"])
            for other in (volts / 2.1, volts * 1.75):
                changed = with_params(made, {item.id: {"coil_voltage_v": round(other, 0)}})
                rules = frozenset({"coil_voltage", "coil_works"})
                yield Mistake(f"{name}: {item.label} with a coil for {other:.0f} V", changed, rules)


def dial(name: str, made: Circuit, facts: Facts) -> Iterator[Mistake]:
    for item in facts.that(Does.FEELS_CURRENT):
        if "dial_a" in item.params:
            changed = with_params(made, {item.id: {"dial_a": 1.9 * float(item.params["dial_a"])}})
            yield Mistake(f"{name}: {item.label} set to 1.9 times", changed, frozenset({"dial"}))


def frame_unearthed(name: str, made: Circuit, facts: Facts) -> Iterator[Mistake]:
    for item in facts.motors:
        for terminal in item.structure.terminals:
            gone = [w.id for w in at(made, f"{item.id}:{terminal.name}")] if terminal.frame else []
            if gone:
                yield Mistake(f"{name}: {item.label} not earthed", without(made, *gone), frozenset({"earth"}))


def phases_straight(name: str, made: Circuit, facts: Facts) -> Iterator[Mistake]:
    """Two leads of a reversing contactor put back, so that it turns the same way."""
    feeds = {item.id for motor in facts.motors for item in contactors_of(facts, motor)}
    open_ends = any(motor.kind.three_phase and motor.kind.three_phase.ends for motor in facts.motors)
    for one, two in opposing(facts)[:1]:
        poles = [ends(facts, ref)[1] for ref in facts.main_poles(two)]
        rules = frozenset({"phase_exchange", "nothing_trips", "never_together"})
        if len(poles) == 3 and {one.id, two.id} <= feeds and not open_ends:
            yield Mistake(f"{name}: {one.label} and {two.label} alike", exchanged(made, poles[0], poles[2]), rules)


def coil_in_series(name: str, made: Circuit, facts: Facts) -> Iterator[Mistake]:
    """The neutral side of a coil on the fed side of another one."""
    items = facts.contactors
    for one, two in pairwise(items):
        first, second = (facts.coils_of(item)[0] for item in (one, two))
        a2 = next(b.b for b in one.structure.branches if b.name == first.branch)
        a1 = second.terminal
        gone = at(made, f"{one.id}:{a2}")
        if len(gone) == 1:
            changed = without(made, gone[0].id)
            series = wire("series", f"{one.id}:{a2}", f"{two.id}:{a1}")
            changed = changed.model_copy(update={"conductors": (*changed.conductors, series)})
            rules = frozenset({"coil_works", "coil_fed", "coil_voltage", "role_true", "lamp_tells"})
            yield Mistake(f"{name}: coil of {one.label} in series with {two.label}", changed, rules)


def breaker_bridged(name: str, made: Circuit, facts: Facts) -> Iterator[Mistake]:
    for item in facts.items:
        if item.id == "control-breaker":
            for ref in [one for one in facts.contacts(item) if facts.opens_itself(one)][:1]:
                yield Mistake(
                    f"{name}: {item.label} bridged", bridged(made, facts, ref), frozenset({"control_protection"})
                )


def third_wire(name: str, made: Circuit, facts: Facts) -> Iterator[Mistake]:
    for item in facts.contactors[:1]:
        coil = facts.coils_of(item)[0]
        for n, one in enumerate(at(made, f"{item.id}:{coil.terminal}")[:1]):
            more = [
                wire(f"more-{n}-{m}", f"{item.id}:{coil.terminal}", f"{e.device}:{e.terminal}")
                for m in (1, 2)
                for e in (one.a if one.b.device == item.id else one.b,)
            ]
            changed = made.model_copy(update={"conductors": (*made.conductors, *more)})
            yield Mistake(f"{name}: three wires under {item.label}:{coil.terminal}", changed, frozenset({"clamps"}))


MAKERS: tuple[Maker, ...] = (
    stop_bridged,
    overload_bridged,
    interlock_bridged,
    start_bridged,
    seal_open,
    coil_voltage,
    dial,
    frame_unearthed,
    phases_straight,
    coil_in_series,
    breaker_bridged,
    third_wire,
)


def mistakes() -> list[Mistake]:
    found = []
    for name in library_names():
        made = library_circuit(name)
        facts = Facts(made)
        found += [one for maker in MAKERS for one in maker(name, made, facts)]
    return found
