"""Attacks the core: random circuits with random hands and faults, and the library with every single fault.

    .venv/bin/python -m scripts.adversary random 10000        circuits that nobody drew, --judge with ngspice beside
    .venv/bin/python -m scripts.adversary composed 5000       rungs of contacts, as people compose them, also shuffled
    .venv/bin/python -m scripts.adversary library             every circuit, state and fault, reasons in one state
    .venv/bin/python -m scripts.adversary library --judge     and ngspice beside the core (two hours)

`--seed` begins elsewhere, `--share 2/3` takes the second third, `--most 200` stops early. What is found is told, and
the exit code is 1. Found is: an error without a name, a run of more than two seconds, a run in one piece that ends
otherwise than in two, an instant that never settles, a difference to ngspice of more than 10^-6.
"""

import argparse
import random
import sys
import tempfile
import time
import traceback
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache, partial
from pathlib import Path
from typing import Final

from scripts.adversary_composed import composed, does_the_same, hands_on
from scripts.ngspice import judged
from wiretrace.catalogue.registry import KINDS
from wiretrace.checks.check import check
from wiretrace.document.circuit import Circuit, Conductor, Device, End, Stray
from wiretrace.errors import UnstableInstant, WiretraceError
from wiretrace.explain.current import explain_current
from wiretrace.explain.reading import explain_reading
from wiretrace.explain.resistance import explain_resistance
from wiretrace.faults.fault import Fault
from wiretrace.faults.possible import possible_faults
from wiretrace.library import library_circuit, library_names, library_sequence
from wiretrace.sequences.sequence import take_steps
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, Trajectory, frame_of, initial_state, run
from wiretrace.simulation.state import Action, State

# Seconds of the processor, not of the clock: who else works on the machine is no fault of the core.
LONGEST_S: Final = 2.0
SEARCHES: Final = ("iron_low", "iron_high")
"""Ends of a search, which begins anew where a run is cut; what it finds is compared."""
DRIFTS: Final = 0.01
"""Share by which a quantity may differ at the end where a run is cut: chatter is followed in whole periods."""


@dataclass(frozen=True)
class Case:
    """A circuit with faults, hands on it, when it ends and where it is cut."""

    circuit: Circuit
    faults: tuple[Fault, ...]
    hands: tuple[Action, ...]
    end_us: int
    cut_us: int


def anything(seed: int) -> Case:
    """A circuit wired at random, or one of the library with some of its wires put elsewhere."""
    chance = random.Random(seed)
    circuit = _wired(chance) if chance.random() < 0.5 else _rewired(chance)
    end_us = chance.choice([300_000, 2_000_000, 20_000_000])
    hands = [
        Action(chance.randint(0, end_us), item.id, chance.choice(operations).name, chance.random() < 0.7)
        for item in circuit.devices
        if (operations := KINDS[item.kind].operations)
        for _ in range(chance.choice([0, 1, 3]))
    ]
    faults: list[Fault] = []
    if chance.random() < 0.5:
        every = list(possible_faults(circuit, Assembly(circuit).devices))
        faults = chance.sample(every, min(len(every), chance.choice([1, 1, 2])))
    hands.sort(key=lambda hand: hand.at_us)
    return Case(circuit, tuple(faults), tuple(hands), end_us, chance.randint(0, end_us))


def _rewired(chance: random.Random) -> Circuit:
    """A circuit of the library in which some ends of wires have been exchanged."""
    circuit = library_circuit(chance.choice(library_names()))
    wires = list(circuit.conductors)
    for _ in range(chance.randint(1, 4)):
        one, two = chance.sample(range(len(wires)), 2)
        a, b = wires[one].b, wires[two].b
        if wires[one].a != b and wires[two].a != a:
            wires[one] = wires[one].model_copy(update={"b": b})
            wires[two] = wires[two].model_copy(update={"b": a})
    fed = [n for n, wire in enumerate(wires) if wire.b.terminal == "A1"]
    if not fed or chance.random() < 0.7:
        return circuit.model_copy(update={"conductors": tuple(wires)})
    # A relay beside a coil that opens the way to both: it chatters while there is voltage.
    wire = wires[chance.choice(fed)]
    relay = Device(id="hunts", kind="control_relay", label="K99")
    wires.remove(wire)
    ends = [(wire.a, _at(relay, "11")), (_at(relay, "12"), wire.b), (wire.b, _at(relay, "A1"))]
    ends.append((_at(relay, "A2"), End(device=wire.b.device, terminal="A2")))
    wires += [Conductor(id=f"hunts{n}", a=a, b=b) for n, (a, b) in enumerate(ends)]
    return circuit.model_copy(update={"devices": (*circuit.devices, relay), "conductors": tuple(wires)})


def _at(device: Device, terminal: str) -> End:
    return End(device=device.id, terminal=terminal)


def _wired(chance: random.Random) -> Circuit:
    """Devices of any kind, with any wires."""
    supply = chance.choice(["supply_three_phase", *(name for name in KINDS if name.startswith("supply"))])
    kinds = [name for name in KINDS if not name.startswith("supply") and not KINDS[name].locks(KINDS[name].defaults())]
    devices = [Device(id="g", kind=supply, label="G1")]
    devices += [Device(id=f"d{n}", kind=chance.choice(kinds), label=f"D{n}") for n in range(chance.randint(1, 9))]
    spots = [
        End(device=item.id, terminal=terminal.name)
        for item in devices
        for terminal in KINDS[item.kind].structure(KINDS[item.kind].defaults()).terminals
    ]
    poles = [spot for spot in spots if spot.device == "g"]
    wires, strays = [], []
    for n in range(chance.randint(len(devices), 3 * len(devices) + 4)):
        a, b = chance.choice(spots if chance.random() < 0.6 else poles), chance.choice(spots)
        if a != b:
            wires.append(Conductor(id=f"w{n}", a=a, b=b, length_m=chance.choice([0.1, 1.0, 400.0])))
    for n in range(chance.choice([0, 0, 1, 2])):
        a, b = chance.choice(spots), chance.choice(spots)
        if a != b:
            ohm, nano = chance.choice([(None, 4.7), (5000.0, None), (2e6, 22.0)])
            strays.append(Stray(id=f"s{n}", a=a, b=b, resistance_ohm=ohm, capacitance_nf=nano))
    return Circuit(title="", devices=tuple(devices), conductors=tuple(wires), strays=tuple(strays))


def attacked(case: Case, seed: int, judge: Path | None = None) -> Iterator[str]:
    """What is wrong with how the core takes a case; ngspice judges its end in the folder `judge`."""
    started = time.process_time()
    try:
        assembly = Assembly(case.circuit, case.faults)
        whole = run(assembly, initial_state(assembly), case.hands, case.end_us)
    except UnstableInstant as error:
        yield str(error)
        return
    except WiretraceError:
        yield from _too_long(started)
        return
    yield from _too_long(started)
    yield from _unlike(whole.end, _in_pieces(assembly, case))
    chance = random.Random(seed)
    for frame in chance.sample(whole.frames, min(3, len(whole.frames))):
        _ask_reasons(assembly, frame, chance, 3)
    if judge is not None:
        yield from judged([(assembly, whole.frames[-1])], judge)
    check(case.circuit)


def _too_long(started: float) -> Iterator[str]:
    took = time.process_time() - started
    if took > LONGEST_S:
        yield f"took {took:.1f} s"


def _in_pieces(assembly: Assembly, case: Case) -> State:
    before = [hand for hand in case.hands if hand.at_us <= case.cut_us]
    half = run(assembly, initial_state(assembly), before, case.cut_us)
    return run(assembly, half.end, case.hands[len(before) :], case.end_us).end


def _unlike(one: State, two: State) -> Iterator[str]:
    """What stands otherwise in two states that should be the same."""
    for device, state in one.devices.items():
        for name, value in state.items():
            other = two.devices[device][name]
            if name in SEARCHES:
                continue
            if isinstance(value, float) and isinstance(other, float):
                size = 100.0 if name.endswith("_v") else 1.0
                if abs(value - other) > DRIFTS * max(size, abs(value)):
                    yield f"cut: {device} {name} {value} or {other}"
            elif not name.endswith("_us") and value != other:
                yield f"cut: {device} {name} {value} or {other}"


def _ask_reasons(assembly: Assembly, frame: Frame, chance: random.Random, pairs: int) -> None:
    """Ask for reasons between random terminals: each comes, or an error with a name. Raises any other."""
    ends = [
        End(device=item.id, terminal=terminal.name)
        for item in assembly.devices.values()
        for terminal in item.structure.terminals
    ]
    wires = [wire.id for wire in assembly.circuit.conductors]
    asked: list[Callable[[], object]] = []
    for _ in range(pairs):
        red, black = chance.choice(ends), chance.choice(ends)
        asked.append(partial(explain_reading, assembly, frame, red, black))
        asked.append(partial(explain_resistance, assembly, frame, red, black))
    if wires:
        asked.append(partial(explain_current, assembly, frame, [chance.choice(wires)]))
    for ask in asked:
        try:
            ask()
        except WiretraceError:
            continue


def _told(where: str, faults: Callable[[], Iterator[str]]) -> int:
    """Print what is found there; how much it is."""
    try:
        found = list(faults())
    except Exception:  # an error without a name is what is looked for
        found = [traceback.format_exc(limit=-3)]
    for line in found:
        print(f"{where}: {line}", flush=True)
    return len(found)


def of_random(seeds: Sequence[int], judge: Path | None) -> int:
    """Attack with random circuits; how much was found."""
    return sum(_told(f"seed {seed}", partial(attacked, anything(seed), seed, judge)) for seed in seeds)


def every_single_fault() -> Iterator[tuple[str, Fault]]:
    """Every fault of every circuit of the library."""
    for name in library_names():
        circuit = library_circuit(name)
        yield from ((name, fault) for fault in possible_faults(circuit, Assembly(circuit).devices))


def of_library(cases: Sequence[tuple[str, Fault]], judge: bool, folder: Path) -> int:
    """Attack circuits of the library with faults, in every state of the sequence; how much was found."""
    return sum(_told(f"{name} {fault}", partial(with_fault, name, fault, judge, folder)) for name, fault in cases)


def with_fault(name: str, fault: Fault, judge: bool, folder: Path) -> Iterator[str]:
    """What is wrong with how the core takes a circuit of the library with a fault, in every state of its sequence."""
    circuit = library_circuit(name)
    faulty, chance = Assembly(circuit, (fault,)), random.Random(repr(fault))
    states = _healthy(name)
    asked = chance.randrange(len(states))
    ends = list[tuple[Assembly, Frame]]()
    for number, state in enumerate(states):
        frame, settled = frame_of(faulty, state), _settled(faulty, state)
        for seen in (frame, *settled.frames[-1:]):
            if number == asked:
                _ask_reasons(faulty, seen, chance, 2)
        ends.append((faulty, seen))
    if judge:
        yield from judged(ends, folder)


@lru_cache(maxsize=1)
def _healthy(name: str) -> tuple[State, ...]:
    """The states of a circuit at the end of each step of its sequence, without faults."""
    steps = take_steps(library_circuit(name), library_sequence(name))
    return tuple(taken.frames[-1].state for taken in steps if not taken.step.faults)


def _settled(faulty: Assembly, state: State) -> Trajectory:
    """What comes of a state when the fault has been there for a moment."""
    return run(faulty, state, (), state.time_us + 100_000)


def put_together(seed: int) -> Case:
    """A circuit composed of rungs, with hands on it and, at times, a fault."""
    circuit, chance = composed(seed), random.Random(f"case {seed}")
    end_us = chance.choice([500_000, 4_000_000, 20_000_000])
    every = list(possible_faults(circuit, Assembly(circuit).devices)) if chance.random() < 0.4 else []
    faults = tuple(chance.sample(every, min(len(every), chance.choice([1, 1, 2]))))
    return Case(circuit, faults, tuple(hands_on(circuit, seed, end_us)), end_us, chance.randint(0, end_us))


def attacked_composed(seed: int, judge: Path | None = None) -> Iterator[str]:
    """What is wrong with how the core takes a composed circuit, whole, cut, shuffled and before ngspice.

    Where relays hunt, a cut may fall between two of their moves: there it is not compared.
    """
    case = put_together(seed)
    found = list(attacked(case, seed, judge))
    try:
        assembly = Assembly(case.circuit, case.faults)
        whole = run(assembly, initial_state(assembly), case.hands, case.end_us)
    except WiretraceError:
        yield from found
        return
    yield from (line for line in found if not (whole.chatters and line.startswith("cut: ")))
    if not whole.chatters and not case.faults:
        yield from does_the_same(case.circuit, case.hands, case.end_us, whole.end, seed)


def of_composed(seeds: Sequence[int], judge: Path | None) -> int:
    """Attack with composed circuits; how much was found."""
    return sum(_told(f"composed {seed}", partial(attacked_composed, seed, judge)) for seed in seeds)


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("what", choices=("random", "library", "composed"))
    parser.add_argument("most", nargs="?", type=int, default=0)
    parser.add_argument("--seed", type=int, default=0)
    parser.add_argument("--share", default="1/1")
    parser.add_argument("--judge", action="store_true")
    told = parser.parse_args()
    share, of = (int(part) for part in told.share.split("/"))
    with tempfile.TemporaryDirectory() as folder:
        if told.what != "library":
            seeds = range(told.seed + share - 1, told.seed + (told.most or 1000), of)
            attack = of_random if told.what == "random" else of_composed
            found = attack(seeds, Path(folder) if told.judge else None)
        else:
            cases = list(every_single_fault())[share - 1 :: of]
            found = of_library(cases[: told.most or None], told.judge, Path(folder))
    print(f"{found} found")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
