"""Rules about wires: two at a terminal, numbers, no open ends."""

from collections import Counter
from collections.abc import Iterator

from wiretrace.checks.drawing import loose_ends
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import Finding, NothingToCheck, Rule
from wiretrace.document.circuit import Conductor
from wiretrace.document.nets import nets

MOST_WIRES = 2


def terminals_hold_two_wires(facts: Facts) -> Iterator[Finding]:
    if not facts.circuit.conductors:
        raise NothingToCheck
    ends = Counter((end.device, end.terminal) for wire in facts.circuit.conductors for end in (wire.a, wire.b))
    for (device, terminal), count in ends.items():
        if count > MOST_WIRES:
            yield Finding(
                f"{device}:{terminal}",
                f"{facts.label(device)}:{terminal} has {count} wires.",
                "A terminal holds two at most: the third comes loose. Go on from another terminal of the potential.",
                device,
                terminal,
            )


def numbers_stand_for_one_potential(facts: Facts) -> Iterator[Finding]:
    """Wires with one number that no wire joins."""
    ends: dict[str, list[Conductor]] = {}
    for wire in facts.circuit.conductors:
        if wire.number:
            ends.setdefault(wire.number, []).append(wire)
    if not ends:
        raise NothingToCheck
    of_net = {end: index for index, net in enumerate(nets(facts.circuit)) for end in net.ends}
    for number, wires in ends.items():
        other = next((wire for wire in wires if of_net[wire.a] != of_net[wires[0].a]), None)
        if other is not None:
            one, two = (facts.assembly.devices[wire.a.device].designated(wire.a.terminal) for wire in (wires[0], other))
            yield Finding(
                number,
                f"The number {number} stands on two potentials: at {one} and at {two}.",
                "Who follows a number with a meter must not come to another potential.",
                other.a.device,
                other.a.terminal,
            )


def no_end_is_open(facts: Facts) -> Iterator[Finding]:
    """Elements with a wire on one side only."""
    used = facts.used_terminals
    if not used:
        raise NothingToCheck
    for item, branch, bare in loose_ends(facts):
        yield Finding(
            f"{item.id}:{bare}",
            f"{item.designated(bare)} has no wire, though the other end of {branch.name} has one.",
            "No current can flow there.",
            item.id,
            bare,
        )


def frames_are_earthed(facts: Facts) -> Iterator[Finding]:
    frames = [
        (item, terminal.name)
        for item in facts.items
        for terminal in item.structure.terminals
        if terminal.frame and item.kind.reference_node(item.params) is None
    ]
    if not frames:
        raise NothingToCheck
    earths = {int(facts.wired.label[pole.node]) for pole in facts.poles if pole.what == "earth"}
    for item, frame in frames:
        if int(facts.wired.label[facts.node(item, frame)]) not in earths:
            yield Finding(
                item.id,
                f"The frame of {item.label} is not joined to earth.",
                "A winding that touches the frame would make it live, and nothing would trip.",
                item.id,
                frame,
            )


RULES = (
    Rule("clamps", "No terminal holds more than two wires", terminals_hold_two_wires),
    Rule("wire_numbers", "Each wire number stands for one potential", numbers_stand_for_one_potential),
    Rule("open_ends", "No element has an open end", no_end_is_open),
    Rule("earth", "Frames are joined to earth", frames_are_earthed, absence=True),
)
