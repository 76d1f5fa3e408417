"""wiretrace: the core from the shell, without server or database."""

import json
from collections.abc import Callable
from dataclasses import asdict
from typing import Any, BinaryIO, TextIO

import click
from pydantic import ValidationError

from wiretrace.checks.facts import Facts
from wiretrace.checks.intent.proposing import proposed
from wiretrace.cli.arguments import (
    read_actions,
    read_circuit,
    read_end,
    read_probes,
    read_sequence_file,
    read_time_us,
)
from wiretrace.cli.checking import check_lines, difference_lines
from wiretrace.cli.errors import P, tells_errors
from wiretrace.cli.examples import shown
from wiretrace.cli.measured import measured
from wiretrace.cli.sizing import size_json, size_text
from wiretrace.cli.states import states_text
from wiretrace.cli.tables import current_table, explanation_table, potential_table, run_table, step_table
from wiretrace.cli.trace import json_of, trace, trace_text
from wiretrace.document.changes import CHANGES, applied, changes
from wiretrace.document.checked import check_circuit
from wiretrace.errors import MalformedDocument
from wiretrace.explain.current import explain_current
from wiretrace.explain.reading import explain_reading
from wiretrace.explain.resistance import explain_resistance
from wiretrace.faults.text import fault_from_text
from wiretrace.instruments.potentials import potentials
from wiretrace.interchange.lists import circuit_from_wire_list, parts_list, terminal_plan, wire_list
from wiretrace.interchange.spice import spice_netlist
from wiretrace.interchange.subcircuits import circuit_from_netlist, device_netlist
from wiretrace.layout.tidy import tidy
from wiretrace.sequences.sequence import take_steps
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Trajectory, frame_of, initial_state, run
from wiretrace.simulation.fading import metered
from wiretrace.simulation.race import find_races
from wiretrace.simulation.warnings import warnings
from wiretrace.sizing.report import read_sizing
from wiretrace.transport.report import explanation_data, run_data


@click.group()
@click.option("--seconds", default=10.0, show_default=True, help="Computing that a command may take.")
def main(seconds: float) -> None:
    """Run, measure and explain motor control circuits."""


def _situation(command: Callable[P, None]) -> Callable[P, None]:
    """Options that say which state of the circuit is meant."""
    for option in (
        click.option("--fault", "faults", multiple=True, help="K1/coil=open, WIRE=300ohm, K1:A1=open ... Repeatable."),
        click.option("--until", default="1s", show_default=True, help="When the run ends."),
        click.option("--do", "dos", multiple=True, help="S1.press@0.1s, S1.press@0.1s..0.6s. Repeatable."),
    ):
        command = option(command)
    return command


def _trajectory(circuit: str, dos: tuple[str, ...], until: str, faults: tuple[str, ...]) -> tuple[Assembly, Trajectory]:
    document = read_circuit(circuit)
    assembly = Assembly(document, [fault_from_text(document, text) for text in faults])
    return assembly, run(assembly, initial_state(assembly), read_actions(assembly, dos), read_time_us(until))


@main.command("run")
@click.argument("circuit")
@_situation
@click.option("--probe", "probes", multiple=True, help="RED,BLACK, such as K1:A1,K1:A2. Repeatable.")
@click.option("--json", "as_json", is_flag=True, help="JSON instead of a table.")
@tells_errors
def run_command(
    circuit: str, dos: tuple[str, ...], until: str, faults: tuple[str, ...], probes: tuple[str, ...], as_json: bool
) -> None:
    """Run CIRCUIT (a file or a name of the library) and print states and readings."""
    assembly, trajectory = _trajectory(circuit, dos, until, faults)
    report = run_data(assembly, trajectory, [read_probes(assembly, text) for text in probes])
    click.echo(report.model_dump_json(indent=2) if as_json else run_table(assembly, report))


@main.command()
@click.argument("circuit")
@click.argument("what")
@_situation
@click.option("--ohms", is_flag=True, help="WHAT is RED,BLACK of an ohmmeter.")
@click.option("--amperes", is_flag=True, help="WHAT is WIRE[,WIRE...] in a clamp.")
@click.option("--json", "as_json", is_flag=True, help="JSON instead of text.")
@tells_errors
def explain(
    circuit: str,
    what: str,
    dos: tuple[str, ...],
    until: str,
    faults: tuple[str, ...],
    ohms: bool,
    amperes: bool,
    as_json: bool,
) -> None:
    """Explain what a voltmeter shows at WHAT (RED,BLACK) at the end of the run, or an ohmmeter, or a clamp."""
    assembly, trajectory = _trajectory(circuit, dos, until, faults)
    frame = frame_of(assembly, trajectory.end)
    if amperes:
        _tell(asdict(explain_current(assembly, frame, what.split(","))), as_json)
        return
    ends = read_probes(assembly, what)
    if ohms:
        _tell(asdict(explain_resistance(assembly, frame, ends.red, ends.black)), as_json)
        return
    data = explanation_data(assembly, explain_reading(assembly, frame, ends.red, ends.black))
    click.echo(data.model_dump_json(indent=2) if as_json else explanation_table(data))


def _tell(explanation: dict[str, Any], as_json: bool) -> None:
    told = json.dumps(explanation, indent=2, default=lambda end: end.model_dump())
    click.echo(told if as_json else explanation["sentence"])


INSTRUMENTS = {
    "volts": "RED,BLACK: 10 Mohm voltmeter.",
    "low-volts": "RED,BLACK: 3.3 kohm voltmeter.",
    "ac-volts": "RED,BLACK: 10 Mohm voltmeter switched to AC.",
    "dc-volts": "RED,BLACK: 10 Mohm voltmeter switched to DC.",
    "ohms": "RED,BLACK: resistance, only where nothing is live.",
    "amperes": "WIRE[,WIRE...]: clamp around conductors, by id.",
    "capture": "WIRE[,WIRE...]: start current and maximum over the run.",
    "two-pole": "RED,BLACK: two-pole tester.",
    "sequence": "L1,L2,L3: phase-sequence tester.",
    "diode": "RED,BLACK: volts that a milliampere takes from red to black, only dead.",
    "insulation": "RED,BLACK[,1000]: insulation at 500 or 1000 V, only dead and without electronics.",
}


def _instruments(command: Callable[P, None]) -> Callable[P, None]:
    for name, told in reversed(INSTRUMENTS.items()):
        command = click.option(f"--{name}", multiple=True, help=f"{told} Repeatable.")(command)
    return command


@main.command()
@click.argument("circuit")
@_situation
@_instruments
@tells_errors
def measure(circuit: str, dos: tuple[str, ...], until: str, faults: tuple[str, ...], **asked: tuple[str, ...]) -> None:
    """Read instruments at the end of the run."""
    assembly, trajectory = _trajectory(circuit, dos, until, faults)
    for name in INSTRUMENTS:
        for text in asked[name.replace("-", "_")]:
            click.echo(f"{text}: {measured(assembly, trajectory, name, text)}")


@main.command("map")
@click.argument("circuit")
@click.argument("reference")
@_situation
@tells_errors
def map_command(circuit: str, reference: str, dos: tuple[str, ...], until: str, faults: tuple[str, ...]) -> None:
    """Potential of every terminal to the terminal REFERENCE at the end of the run, and the current of every wire."""
    assembly, trajectory = _trajectory(circuit, dos, until, faults)
    frame = metered(assembly, frame_of(assembly, trajectory.end))
    click.echo(potential_table(assembly, potentials(assembly, frame.point, read_end(assembly, reference))))
    click.echo(current_table(assembly, frame))


@main.command()
@click.argument("circuit")
@click.option("--sequence", "sequence_file", help="A file; without it the sequence that ships with the circuit.")
@tells_errors
def table(circuit: str, sequence_file: str | None) -> None:
    """State table: take CIRCUIT through its operating sequence; what every device does at each step, and when."""
    document = read_circuit(circuit)
    sequence = read_sequence_file(circuit, sequence_file)
    unmet = 0
    for number, taken in enumerate(take_steps(document, sequence), 1):
        click.echo(step_table(number, taken))
        unmet += len(taken.unmet())
    if unmet:
        raise ValueError(f"{unmet} things are not as the sequence expects them.")


@main.command()
@click.argument("circuit")
@_situation
@tells_errors
def races(circuit: str, dos: tuple[str, ...], until: str, faults: tuple[str, ...]) -> None:
    """Pairs of armatures on whose speed it depends how the run ends."""
    assembly, _ = _trajectory(circuit, dos, until, faults)
    found = find_races(assembly, initial_state(assembly), read_actions(assembly, dos), read_time_us(until))
    for race in found:
        labels = " and ".join(assembly.devices[device].label for device in race.devices)
        click.echo(f"{labels}: the end depends on which is faster.")
    if not found:
        click.echo("No race found.")


@main.command()
@click.argument("circuit")
@tells_errors
def validate(circuit: str) -> None:
    """Check that CIRCUIT can be read, fits the catalogue and can be solved."""
    assembly = Assembly(read_circuit(circuit))
    frame_of(assembly, initial_state(assembly))
    for warning in warnings(assembly):
        click.echo(f"warning: {warning.message}")
    count = (len(assembly.circuit.devices), len(assembly.circuit.conductors))
    click.echo(f"{assembly.circuit.title}: valid, {count[0]} devices, {count[1]} conductors.")


@main.command("check")
@click.argument("circuit")
@click.option("--fault", "faults", multiple=True, help="Work it with this fault, as for run. Repeatable.")
@tells_errors
def check_command(circuit: str, faults: tuple[str, ...]) -> None:
    """Apply the rules of the trade to CIRCUIT: found, clear, or cannot tell."""
    made = read_circuit(circuit)
    broken = [fault_from_text(made, text) for text in faults]
    click.echo("\n".join(check_lines(made, broken)))


@main.command()
@click.argument("circuit")
@tells_errors
def describe(circuit: str) -> None:
    """An operating description of CIRCUIT that holds, from what it does when it is worked."""
    for line in proposed(Facts(read_circuit(circuit))):
        click.echo(line)


@main.command()
@click.argument("circuit")
@tells_errors
def states(circuit: str) -> None:
    """What the machine of CIRCUIT can be, and what takes it from one state to the other."""
    click.echo(states_text(read_circuit(circuit)))


@main.command()
@click.argument("before")
@click.argument("after")
@click.option("--json", "as_json", is_flag=True, help="As changes that `apply` takes.")
@tells_errors
def compare(before: str, after: str, as_json: bool) -> None:
    """What is different between two circuits, as drawn and when they are worked."""
    old, new = read_circuit(before), read_circuit(after)
    if as_json:
        click.echo(CHANGES.dump_json(changes(old, new), indent=2).decode())
        return
    click.echo("\n".join(difference_lines(old, new)) or "No difference.")


@main.command("trace")
@click.argument("circuit")
@click.option("--hidden", multiple=True, help="A fault that is there, as for run. Repeatable.")
@click.option("--audit", "audits", is_flag=True, help="Follow the advice against every single fault.")
@click.option("--seen", help="A file of observations, a line each: 2: K1 = in, 2: S1:13,S1:14 = 230 V, dead: ... = OL.")
@click.option("--wider", is_flag=True, help="With --seen: rare faults and two at once, too.")
@click.option("--json", "as_json", is_flag=True, help="JSON instead of text.")
@tells_errors
def trace_command(
    circuit: str, hidden: tuple[str, ...], audits: bool, seen: str | None, wider: bool, as_json: bool
) -> None:
    """Where is the fault: the engine's own way to a hidden fault, to all of them, or advice after what was seen."""
    found = trace(circuit, read_circuit(circuit), hidden, audits, seen, wider)
    click.echo(json_of(found) if as_json else trace_text(found))


@main.command("size")
@click.argument("nameplate", type=click.File("rb"))
@click.option("--circuit", help="What a circuit says otherwise, too.")
@click.option("--json", "as_json", is_flag=True, help="JSON instead of text.")
@tells_errors
def size_command(nameplate: BinaryIO, circuit: str | None, as_json: bool) -> None:
    """From a nameplate to breaker, contactor, overload relay, dial and cable, every line of arithmetic shown.

    NAMEPLATE is JSON: {"fields": {"power": "7.5 kW", "voltage": "400 V"}, "schools": {"dial": "nameplate"}}.
    """
    data = read_sizing(nameplate.read())
    click.echo(size_json(data) if as_json else size_text(data, read_circuit(circuit) if circuit else None))


@main.command("apply")
@click.argument("circuit")
@click.argument("file", type=click.File("rb"))
@tells_errors
def apply_command(circuit: str, file: BinaryIO) -> None:
    """Make changes, as `compare --json` gives them, to CIRCUIT, and write the result as JSON."""
    try:
        what = CHANGES.validate_json(file.read())
    except ValidationError as error:
        raise MalformedDocument(f"These are no changes: {error.errors()[0]['msg']}.") from error
    changed = applied(read_circuit(circuit), what)
    check_circuit(changed)
    click.echo(changed.model_dump_json(indent=2))


@main.group()
def export() -> None:
    """Write a circuit in another format to standard output."""


@export.command()
@click.argument("circuit")
@_situation
@tells_errors
def spice(circuit: str, dos: tuple[str, ...], until: str, faults: tuple[str, ...]) -> None:
    """SPICE netlist of the state at the end of the run."""
    assembly, trajectory = _trajectory(circuit, dos, until, faults)
    click.echo(spice_netlist(assembly, frame_of(assembly, trajectory.end)), nl=False)


LISTS = {"wires": wire_list, "terminals": terminal_plan, "parts": parts_list, "devices": device_netlist}


@export.command("list")
@click.argument("circuit")
@click.argument("which", type=click.Choice(list(LISTS)))
@tells_errors
def list_command(circuit: str, which: str) -> None:
    """CSV list of the wires, terminals or parts of CIRCUIT, or its devices as a SPICE netlist."""
    click.echo(LISTS[which](read_circuit(circuit)), nl=False)


@main.command("import")
@click.argument("file", type=click.File("r", encoding="utf-8"))
@click.option("--title", default="Imported", show_default=True)
@tells_errors
def import_command(file: TextIO, title: str) -> None:
    """Read a CSV list of wires, or a netlist of devices, and write the circuit, on clean sheets, as JSON."""
    text = file.read()
    first = (text.lstrip().splitlines() or [""])[0]
    # The title of a netlist, a comment, may well have a comma.
    looks_like_list = "," in first and not first.startswith("*")
    read = (circuit_from_wire_list if looks_like_list else circuit_from_netlist)(text, title)
    for problem in read.problems:
        click.echo(f"left out: {problem.message}", err=True)
    for guess in read.guessed:
        click.echo(f"told by its terminals: {guess}", err=True)
    click.echo(tidy(read.circuit).model_dump_json(indent=2))


for name, command in main.commands.items():
    command.epilog = shown(name)
