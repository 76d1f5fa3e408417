"""The work order: the symptom as an operator would report it, made from the simulation. It never tells of the fault."""

from collections.abc import Sequence

from wiretrace.catalogue.machinery.status import words
from wiretrace.diagnosis.procedure import Halt, reached
from wiretrace.diagnosis.repertoire import lookers, seen
from wiretrace.errors import Problem, UnknownTarget
from wiretrace.faults.fault import Fault
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state

Looks = tuple[tuple[str, ...], ...]


def looks_under(sound: Assembly, faults: Sequence[Fault], halts: Sequence[Halt]) -> Looks:
    """The statuses of devices at the end of each halt. Raises what a run raises, and UnknownTarget."""
    assembly = sound.with_faults(tuple(faults))
    state, looks = initial_state(assembly), list[tuple[str, ...]]()
    for halt in halts:
        frame, state = reached(assembly, state, halt)
        looks.append(seen(assembly, frame))
    return tuple(looks)


def work_order(assembly: Assembly, faults: Sequence[Fault], halts: Sequence[Halt]) -> str:
    """What was done, what came of it, and what should have. Raises UnknownTarget where nothing is seen to be wrong."""
    names = [item.label for item in lookers(assembly)]
    found, sound = looks_under(assembly, faults, halts), looks_under(assembly, (), halts)
    for number, halt in enumerate(halts):
        wrong = [
            (name, is_, should)
            for name, is_, should in zip(names, found[number], sound[number], strict=True)
            if is_ != should
        ]
        if not wrong:
            continue
        says = ", ".join(f"{name} {_said(is_)}" for name, is_, _ in wrong)
        usual = ", ".join(f"{name} {_said(should)}" for name, _, should in wrong)
        before = f"Normal up to “{halts[number - 1].text}”. " if number else ""
        return f"{before}At “{halt.text}”: {says}. Expected: {usual}. Find the cause and repair it."
    message = "With this fault everything is seen to do as it should: there is nothing that an operator could report."
    raise UnknownTarget(message, (Problem("no_symptom", message),))


def _said(status: str) -> str:
    return words(status) or "normal"
