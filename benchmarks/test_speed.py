"""Speed of the core and of a press of a button, as ratios measured in one run.

The limits asserted here leave room for a busy machine; docs/performance.md has the figures.
"""

import subprocess
from collections.abc import Callable
from pathlib import Path

import numpy as np
from pytest_benchmark.fixture import BenchmarkFixture

from server.app import create_app
from server.config import Config
from wiretrace.document.circuit import Circuit, Conductor, Device, End
from wiretrace.faults.kinds.elements import HighResistance, Open, Short
from wiretrace.instruments.voltmeter import read_voltage
from wiretrace.interchange.spice import spice_netlist
from wiretrace.library import library_circuit, library_sequence
from wiretrace.sequences.sequence import take_steps
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import frame_of, initial_state, run
from wiretrace.simulation.fault_readings import readings_under, terminal_nodes
from wiretrace.simulation.state import Action
from wiretrace.training.prediction.marking import mark_state
from wiretrace.training.prediction.models import Course
from wiretrace.training.prediction.sheet import Halt, Hand, PredictionSheet, Spot

Median = Callable[..., float]
SECOND = 1_000_000
NAME = "star-delta-timer-first-closure"


def starter() -> tuple[Assembly, list[object]]:
    assembly = Assembly(library_circuit(NAME))
    return assembly, assembly.values.in_state(initial_state(assembly))  # type: ignore[return-value]


def many_starters(count: int) -> Circuit:
    """The starter `count` times over on one supply: what a large drawing looks like to the solver."""
    base = library_circuit(NAME)
    devices: list[Device] = [base.device("supply")]
    conductors: list[Conductor] = []

    def moved(end: End, index: int) -> End:
        return end if end.device == "supply" else End(device=f"{end.device}-{index}", terminal=end.terminal)

    for index in range(count):
        devices += [
            device.model_copy(update={"id": f"{device.id}-{index}", "label": f"{device.label}/{index}"})
            for device in base.devices
            if device.id != "supply"
        ]
        conductors += [
            wire.model_copy(update={"id": f"{wire.id}-{index}", "a": moved(wire.a, index), "b": moved(wire.b, index)})
            for wire in base.conductors
        ]
    return Circuit(title="many", devices=tuple(devices), conductors=tuple(conductors))


def test_operating_point_against_one_linear_solve(benchmark: BenchmarkFixture, median: Median) -> None:
    assembly, values = starter()
    solution = benchmark(lambda: assembly.equations.solve(values))  # type: ignore[arg-type]
    size = solution.ac.topology.size
    random = np.random.default_rng(1)
    matrix = random.random((size, size)) + 1j * random.random((size, size)) + size * np.eye(size)
    rhs = random.random(size).astype(complex)
    bare = median(lambda: np.linalg.solve(matrix, rhs))
    ours = median(lambda: assembly.equations.solve(values))  # type: ignore[arg-type]
    benchmark.extra_info.update(unknowns=size, times_one_linear_solve=round(ours / bare, 2))
    assert ours / bare < 6


def test_operating_point_against_ngspice(benchmark: BenchmarkFixture, median: Median, tmp_path: Path) -> None:
    assembly, values = starter()
    netlist = tmp_path / "starter.cir"
    netlist.write_text(spice_netlist(assembly, frame_of(assembly, initial_state(assembly))), encoding="utf-8")
    command = ["ngspice", "-b", str(netlist)]
    theirs = median(lambda: subprocess.run(command, capture_output=True, check=True), rounds=10)
    ours = median(lambda: assembly.equations.solve(values))  # type: ignore[arg-type]
    benchmark.extra_info.update(ngspice_runs_in_one=round(theirs / ours))
    benchmark(lambda: assembly.equations.solve(values))  # type: ignore[arg-type]
    assert theirs / ours > 20


def test_a_reading_in_a_known_state(benchmark: BenchmarkFixture, median: Median) -> None:
    assembly, values = starter()
    solution = assembly.equations.solve(values)  # type: ignore[arg-type]
    red, black = End(device="start", terminal="13"), End(device="start", terminal="14")
    benchmark(lambda: read_voltage(assembly, solution, red, black))
    reading, solving = (
        median(lambda: read_voltage(assembly, solution, red, black)),
        median(lambda: assembly.equations.solve(values)),
    )
    benchmark.extra_info.update(part_of_one_solve=round(reading / solving, 3))
    assert reading / solving < 0.5


def test_a_press_of_start_in_the_core(benchmark: BenchmarkFixture) -> None:
    assembly = Assembly(library_circuit(NAME))
    state = initial_state(assembly)
    actions = [Action(100_000, "start", "press"), Action(400_000, "start", "press", False)]
    trajectory = benchmark(lambda: run(assembly, state, actions, 10 * SECOND))
    assert trajectory.frames[-1].views["motor"].says == "turns forward"


def test_a_press_of_start_from_request_to_answer(benchmark: BenchmarkFixture, tmp_path: Path, median: Median) -> None:
    app = create_app(Config("postgresql://app@127.0.0.1:1/none", tmp_path, database_timeout_s=0.1))
    client = app.test_client()
    body = {
        "circuit": library_circuit(NAME).model_dump(mode="json"),
        "actions": [{"at_us": 0, "device": "start", "operation": "press"}],
        "until_us": 10 * SECOND,
        "probes": [{"red": {"device": "start", "terminal": "13"}, "black": {"device": "start", "terminal": "14"}}],
    }
    ref = client.post("/api/simulation/run", json=body).get_json()["ref"]
    body = {**{name: value for name, value in body.items() if name != "circuit"}, "ref": ref}
    answer = benchmark(lambda: client.post("/api/simulation/run", json=body))
    assert answer.get_json()["frames"][-1]["devices"]["motor"]["says"] == "turns forward"
    assembly = Assembly(library_circuit(NAME))
    state, hands = initial_state(assembly), [Action(0, "start", "press")]
    core = median(lambda: run(assembly, state, hands, 10 * SECOND), rounds=20)
    ours = median(lambda: client.post("/api/simulation/run", json=body), rounds=20)
    benchmark.extra_info.update(times_the_core=round(ours / core, 2))
    assert ours / core < 3
    app.extensions["database"].close()


def test_every_fault_in_every_state_between_every_two_terminals(benchmark: BenchmarkFixture, median: Median) -> None:
    """Open, bad joint and short of every element, at each step of the sequence; against solving as often."""
    assembly, _ = starter()
    frames = [taken.frames[-1] for taken in take_steps(library_circuit(NAME), library_sequence(NAME))]
    faults = [
        fault
        for ref in assembly.branches
        for fault in (
            Open(ref.place, ref.branch),
            HighResistance(ref.place, ref.branch, 300.0),
            *((Short(ref.place, ref.branch),) if ref.branch else ()),
        )
    ]

    def all_readings() -> int:
        return sum(
            int(np.count_nonzero(volts)) for frame in frames for volts in readings_under(assembly, frame, faults)
        )

    found = benchmark.pedantic(all_readings, rounds=3)
    assert found > 1_000_000
    values = list(frames[-1].values)
    once = median(lambda: assembly.equations.solve(values))
    readings = len(frames) * len(faults) * (len(terminal_nodes(assembly)) ** 2 // 2)
    seconds = float(benchmark.stats.stats.median)
    each = seconds / readings / once
    benchmark.extra_info.update(readings=readings, seconds=round(seconds, 2), solves_a_thousand=round(1e3 * each, 2))
    assert each < 2e-3


def test_ten_seconds_of_run_up_have_few_steps(benchmark: BenchmarkFixture, median: Median) -> None:
    """The run-up is made of steps between speeds; each costs less than one and a half solves from nothing."""
    assembly = Assembly(library_circuit(NAME))
    state = initial_state(assembly)
    hands = [Action(0, "start", "press")]
    trajectory = run(assembly, state, hands, 10 * SECOND)
    values = list(trajectory.frames[-1].values)
    whole = median(lambda: run(assembly, state, hands, 10 * SECOND), rounds=20)
    once = median(lambda: assembly.equations.solve(values))
    benchmark.pedantic(lambda: run(assembly, state, hands, 10 * SECOND), rounds=10)
    per_frame = whole / once / len(trajectory.frames)
    benchmark.extra_info.update(frames=len(trajectory.frames), solves_in_one_frame=round(per_frame, 1))
    assert len(trajectory.frames) < 40


def test_cost_grows_close_to_linearly(benchmark: BenchmarkFixture, median: Median) -> None:
    """84 starters are 1,009 devices."""
    times, sizes = [], []
    for count in (21, 42, 84):
        assembly = Assembly(many_starters(count))
        values = assembly.values.in_state(initial_state(assembly))
        times.append(median(lambda assembly=assembly, values=values: assembly.equations.solve(values), rounds=15))
        sizes.append(len(assembly.devices))
    growth = float(np.log(times[-1] / times[0]) / np.log(sizes[-1] / sizes[0]))
    benchmark.extra_info.update(
        devices=sizes, milliseconds=[round(1e3 * t, 1) for t in times], exponent=round(growth, 2)
    )
    benchmark.pedantic(lambda: assembly.equations.solve(values), rounds=5)
    assert growth < 1.6


def test_marks_of_a_whole_sheet_against_running_it(benchmark: BenchmarkFixture, median: Median) -> None:
    """Eight meters in six states, every answer wrong: each is tried against every misconception."""
    ends = (
        "start:13",
        "start:14",
        "stop:11",
        "stop:12",
        "contactor:A1",
        "contactor:A2",
        "isolator:1",
        "isolator:3",
        "motor:PE",
    )
    places = [End(device=device, terminal=terminal) for device, _, terminal in (end.partition(":") for end in ends)]
    meters = tuple(Spot(letter="ABCDEFGH"[n], red=places[n], black=places[n + 1]) for n in range(8))
    hands = (
        Hand(at_us=SECOND, device="start", operation="press"),
        Hand(at_us=1_500_000, device="start", operation="press", value=False),
    )
    states = tuple(
        Halt(title=str(at), at_us=at) for at in (500_000, 1_200_000, 1_400_000, 2_000_000, 3_000_000, 4_000_000)
    )
    sheet = PredictionSheet(title="All wrong", meters=meters, hands=hands, states=states)
    assembly = Assembly(library_circuit("start-stop-overload-line"))
    answers = dict.fromkeys("ABCDEFGH", "77")

    def marked() -> int:
        course = Course(sheet, assembly)
        marks = [mark_state(course, index, answers) for index in range(len(states))]
        return sum(mark.right is False for row in marks for mark in row.values())

    assert benchmark.pedantic(marked, rounds=5, warmup_rounds=1) == 48
    alone = median(lambda: Course(sheet, assembly), rounds=10)
    times = median(marked, rounds=5) / alone
    benchmark.extra_info.update(times_running_it=round(times, 1))
    assert times < 20
