"""wiretrace: the core from the shell, without server or database."""

import sys
from collections.abc import Callable
from functools import wraps
from typing import ParamSpec

import click

from wiretrace.cli.arguments import read_actions, read_circuit, read_probes, read_time_us
from wiretrace.cli.tables import explanation_table, run_table
from wiretrace.errors import WiretraceError
from wiretrace.explain.reading import explain_reading
from wiretrace.formats.fault_text import fault_from_text
from wiretrace.formats.report import explanation_data, run_data
from wiretrace.formats.spice import spice_netlist
from wiretrace.instruments.clamp import read_current
from wiretrace.instruments.ohmmeter import read_resistance
from wiretrace.instruments.voltmeter import HIGH_IMPEDANCE_OHM, LOW_IMPEDANCE_OHM, read_voltage
from wiretrace.simulation.engine import Trajectory, frame_of, initial_state, run
from wiretrace.simulation.plant import Plant

P = ParamSpec("P")


@click.group()
def main() -> None:
    """Run, measure and explain motor control circuits."""


def _tells_errors(command: Callable[P, None]) -> Callable[P, None]:
    """Errors of the core and of the words typed become lines on standard error and exit code 2."""

    @wraps(command)
    def wrapped(*args: P.args, **kwargs: P.kwargs) -> None:
        try:
            command(*args, **kwargs)
        except WiretraceError as error:
            click.echo(f"error: {error.message}", err=True)
            for problem in error.problems:
                if problem.message != error.message:
                    click.echo(f"  {problem.message}", err=True)
            sys.exit(2)
        except ValueError as error:
            click.echo(f"error: {error}", err=True)
            sys.exit(2)

    return wrapped


def _situation(command: Callable[P, None]) -> Callable[P, None]:
    """Options that say which state of the circuit is meant."""
    for option in (
        click.option("--fault", "faults", multiple=True, help="K1/coil=open, WIRE=300ohm, K1:A1=open ... Repeatable."),
        click.option("--until", default="1s", show_default=True, help="When the run ends."),
        click.option("--do", "dos", multiple=True, help="S1.press@0.1s, S1.press@0.1s..0.6s. Repeatable."),
    ):
        command = option(command)
    return command


def _trajectory(circuit: str, dos: tuple[str, ...], until: str, faults: tuple[str, ...]) -> tuple[Plant, Trajectory]:
    document = read_circuit(circuit)
    plant = Plant(document, [fault_from_text(document, text) for text in faults])
    return plant, run(plant, initial_state(plant), read_actions(plant, dos), read_time_us(until))


@main.command("run")
@click.argument("circuit")
@_situation
@click.option("--probe", "probes", multiple=True, help="RED,BLACK, such as K1:A1,K1:A2. Repeatable.")
@click.option("--json", "as_json", is_flag=True, help="JSON instead of a table.")
@_tells_errors
def run_command(
    circuit: str, dos: tuple[str, ...], until: str, faults: tuple[str, ...], probes: tuple[str, ...], as_json: bool
) -> None:
    """Run CIRCUIT (a file or a name of the library) and print states and readings."""
    plant, trajectory = _trajectory(circuit, dos, until, faults)
    report = run_data(plant, trajectory, [read_probes(plant, text) for text in probes])
    click.echo(report.model_dump_json(indent=2) if as_json else run_table(plant, report))


@main.command()
@click.argument("circuit")
@click.argument("probe")
@_situation
@click.option("--json", "as_json", is_flag=True, help="JSON instead of text.")
@_tells_errors
def explain(circuit: str, probe: str, dos: tuple[str, ...], until: str, faults: tuple[str, ...], as_json: bool) -> None:
    """Explain what a voltmeter shows at PROBE (RED,BLACK) at the end of the run."""
    plant, trajectory = _trajectory(circuit, dos, until, faults)
    ends = read_probes(plant, probe)
    data = explanation_data(plant, explain_reading(plant, frame_of(plant, trajectory.end), ends.red, ends.black))
    click.echo(data.model_dump_json(indent=2) if as_json else explanation_table(data))


@main.command()
@click.argument("circuit")
@_situation
@click.option("--volts", multiple=True, help="RED,BLACK: 10 Mohm voltmeter. Repeatable.")
@click.option("--low-volts", multiple=True, help="RED,BLACK: 3.3 kohm voltmeter. Repeatable.")
@click.option("--ohms", multiple=True, help="RED,BLACK: resistance, only where nothing is live. Repeatable.")
@click.option("--amperes", multiple=True, help="WIRE[,WIRE...]: clamp around conductors, by id. Repeatable.")
@_tells_errors
def measure(
    circuit: str,
    dos: tuple[str, ...],
    until: str,
    faults: tuple[str, ...],
    volts: tuple[str, ...],
    low_volts: tuple[str, ...],
    ohms: tuple[str, ...],
    amperes: tuple[str, ...],
) -> None:
    """Read instruments at the end of the run."""
    plant, trajectory = _trajectory(circuit, dos, until, faults)
    frame = frame_of(plant, trajectory.end)
    for texts, meter_ohm in ((volts, HIGH_IMPEDANCE_OHM), (low_volts, LOW_IMPEDANCE_OHM)):
        for text in texts:
            ends = read_probes(plant, text)
            reading = read_voltage(plant, frame.point, ends.red, ends.black, meter_ohm)
            click.echo(f"{text}: {reading.display} V" + ("" if reading.joined else " (no return path)"))
    for text in ohms:
        ends = read_probes(plant, text)
        resistance = read_resistance(plant, frame, ends.red, ends.black)
        click.echo(f"{text}: {resistance.display} ohm" + (", beeps" if resistance.beeps else ""))
    for text in amperes:
        click.echo(f"{text}: {read_current(plant, frame.point, text.split(',')).display} A")


@main.command()
@click.argument("circuit")
@_tells_errors
def validate(circuit: str) -> None:
    """Check that CIRCUIT can be read, fits the catalogue and can be solved."""
    plant = Plant(read_circuit(circuit))
    frame_of(plant, initial_state(plant))
    count = (len(plant.circuit.devices), len(plant.circuit.conductors))
    click.echo(f"{plant.circuit.title}: valid, {count[0]} devices, {count[1]} conductors.")


@main.group()
def export() -> None:
    """Write a circuit in another format to standard output."""


@export.command()
@click.argument("circuit")
@_situation
@_tells_errors
def spice(circuit: str, dos: tuple[str, ...], until: str, faults: tuple[str, ...]) -> None:
    """SPICE netlist of the state at the end of the run."""
    plant, trajectory = _trajectory(circuit, dos, until, faults)
    click.echo(spice_netlist(plant, frame_of(plant, trajectory.end)), nl=False)
