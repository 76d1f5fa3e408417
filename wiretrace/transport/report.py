"""What a run and an explanation look like as plain data: the JSON of API and command line."""

from collections.abc import Iterator, Mapping, Sequence
from functools import lru_cache
from itertools import pairwise
from typing import Annotated, TypeVar

import numpy as np
from pydantic import Field

from wiretrace.bounds import Most
from wiretrace.catalogue.machinery.structure import Role, View
from wiretrace.document.circuit import MAX_DEVICES, MAX_PARAMS, End, Finite, Frozen, Id, Text, Whole
from wiretrace.explain.probe_path import ProbePath
from wiretrace.explain.reading import Explanation
from wiretrace.instruments.clamp_meter import read_current
from wiretrace.instruments.voltmeter import Coupling, Reading, read_voltage
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame, Trajectory
from wiretrace.simulation.fading import watched
from wiretrace.simulation.reach import Reach, Standing, feeding, reach
from wiretrace.simulation.state import Action, State
from wiretrace.simulation.warnings import warnings

Value = TypeVar("Value")

Time = Annotated[int, Field(ge=0, le=2**53)]


class StateData(Frozen):
    """The state of a circuit: to be handed back as it came."""

    time_us: Time
    devices: Annotated[
        dict[Id, Annotated[dict[str, bool | Whole | Finite | str | None], Most(MAX_PARAMS)]], Most(MAX_DEVICES)
    ]


class ActionData(Frozen):
    at_us: Time
    device: Id
    operation: Text
    value: bool = True


class Probes(Frozen):
    red: End
    black: End


class ReadingData(Frozen):
    """`display` is what a 6000-count meter shows; `joined` is false without a return path."""

    red: End
    black: End
    voltage_v: float
    display: str
    joined: bool
    coupling: Coupling


class TerminalData(Frozen):
    """How a terminal is joined to a source, and to which pole."""

    standing: Standing
    pole: str | None


class FigureData(Frozen):
    """A quantity of a device, such as the speed of a motor."""

    title: str
    value: float
    unit: str


class DeviceData(Frozen):
    """What is seen of a device: its status, and what that says in words.

    `closed` tells of each of its contacts, `on` of each of its toggles. `due_us` is the moment at which a time that it
    shows runs out, if nothing comes between.
    """

    status: str
    says: str
    active: bool
    attention: bool
    closed: dict[str, bool]
    on: dict[str, bool]
    figures: tuple[FigureData, ...] = ()
    due_us: Time | None = None


class FrameData(Frozen):
    """An instant and everything that holds from then until the next frame.

    A run over HTTP tells of every frame but the first only what is not as in the frame before: devices and their
    states, terminals and conductors that are left out have not changed.
    """

    time_us: Time
    state: StateData
    devices: dict[str, DeviceData]
    terminals: dict[str, dict[str, TerminalData]]
    conductors_a: dict[str, float]
    readings: tuple[ReadingData, ...]


class ChatterData(Frozen):
    devices: tuple[str, ...]
    since_us: Time
    period_us: Time
    until_us: Time


class WarningData(Frozen):
    """Something odd about the circuit that does not keep it from being solved."""

    code: str
    message: str
    device: str | None


class RunData(Frozen):
    frames: tuple[FrameData, ...]
    end: StateData
    chatters: tuple[ChatterData, ...]
    warnings: tuple[WarningData, ...]


class LoadData(Frozen):
    device: str
    branch: str
    voltage_v: float


class PathData(Frozen):
    standing: Standing
    number: str | None
    pole: End | None
    terminals: tuple[End, ...]
    conductors: tuple[str, ...]
    loads: tuple[LoadData, ...]


class InfluenceData(Frozen):
    device: str
    label: str
    voltage_v: float
    display: str


class ExplanationData(Frozen):
    reading: ReadingData
    red: PathData
    black: PathData
    meter_completes: bool
    sentences: tuple[str, str]
    influences: tuple[InfluenceData, ...]
    not_tried: int = 0


def state_from_data(data: StateData) -> State:
    return State(data.time_us, data.devices)


def state_data(state: State) -> StateData:
    return StateData.model_construct(time_us=state.time_us, devices=dict(state.devices))  # type: ignore[arg-type]


def action_from_data(data: ActionData) -> Action:
    return Action(data.at_us, data.device, data.operation, data.value)


def run_data(
    assembly: Assembly, trajectory: Trajectory, probes: Sequence[Probes], changes_only: bool = False
) -> RunData:
    """A trajectory with the readings of the probes that stay in place, frame by frame.

    With `changes_only` frames after the first leave out what is as it was in the frame before.
    """
    describe = Describer(assembly, probes)
    seen = watched(assembly, trajectory) if probes else trajectory.frames
    frames = [describe.frame(frame) for frame in seen]
    return RunData.model_construct(
        frames=tuple(_changes(frames) if changes_only else frames),
        end=state_data(trajectory.end),
        chatters=tuple(
            ChatterData(devices=c.devices, since_us=c.since_us, period_us=c.period_us, until_us=c.until_us)
            for c in trajectory.chatters
        ),
        warnings=tuple(WarningData(code=w.code, message=w.message, device=w.device) for w in warnings(assembly)),
    )


def _changes(frames: Sequence[FrameData]) -> Iterator[FrameData]:
    """Each frame without what is as in the one before."""
    yield from frames[:1]
    for before, frame in pairwise(frames):
        state = frame.state
        yield frame.model_copy(
            update={
                "state": state.model_copy(update={"devices": _new(before.state.devices, state.devices)}),
                "devices": _new(before.devices, frame.devices),
                "terminals": {} if frame.terminals is before.terminals else _new(before.terminals, frame.terminals),
                "conductors_a": _new(before.conductors_a, frame.conductors_a),
            }
        )


def _new(before: Mapping[str, Value], now: Mapping[str, Value]) -> dict[str, Value]:
    """What is another than before."""
    return {name: value for name, value in now.items() if value is not (old := before.get(name)) and value != old}


class Describer:
    """Describes one frame after the other. What holds from one frame to the next is not worked out again.

    The models are made without validation: what they describe comes from the core and is of the right types.
    """

    def __init__(self, assembly: Assembly, probes: Sequence[Probes]) -> None:
        self._assembly = assembly
        self._probes = probes
        self._pattern: object = None
        self._terminals: dict[str, dict[str, TerminalData]] = {}
        self._closed: dict[str, dict[str, bool]] = {}
        self._devices: dict[str, tuple[View, dict[str, bool], int | None, DeviceData]] = {}

    def frame(self, frame: Frame) -> FrameData:
        """One frame. Raises UnknownTarget when a probe stands on nothing."""
        assembly = self._assembly
        pattern = (frame.point.ac.admittance_s != 0).tobytes(), feeding(assembly, frame)
        if pattern != self._pattern:
            self._pattern, self._terminals = pattern, _terminals(assembly, reach(assembly, frame))
            self._closed = _closed(assembly, frame)
        return FrameData.model_construct(
            time_us=frame.state.time_us,
            state=state_data(frame.state),
            devices={name: self._device(name, view, frame.state) for name, view in frame.views.items()},
            terminals=self._terminals,
            conductors_a=_currents(assembly, frame),
            readings=tuple(reading_data(read_voltage(assembly, frame.point, p.red, p.black)) for p in self._probes),
        )

    def _device(self, name: str, view: View, state: State) -> DeviceData:
        """A device; the same object as in the frame before when nothing of it changed."""
        closed, known = self._closed[name], self._devices.get(name)
        due = state.devices[name].get(self._assembly.devices[name].kind.clock)
        due_us = due if isinstance(due, int) else None
        if known is not None and known[:3] == (view, closed, due_us):
            return known[3]
        data = DeviceData.model_construct(
            status=view.status,
            says=view.says,
            active=view.active,
            attention=view.attention,
            closed=closed,
            on=dict(view.on),
            figures=tuple(FigureData.model_construct(title=f.title, value=f.value, unit=f.unit) for f in view.figures),
            due_us=due_us,
        )
        self._devices[name] = (view, closed, due_us, data)
        return data


def _currents(assembly: Assembly, frame: Frame) -> dict[str, float]:
    """Amperes RMS of every conductor."""
    ids = [c.id for c in assembly.circuit.conductors]
    if assembly.faults:
        return {name: read_current(assembly, frame.point, (name,)).current_a for name in ids}
    rms = np.zeros(len(frame.values))
    for part in frame.point.parts:
        rms = np.hypot(rms, abs(part.current_a))
    currents = rms.tolist()
    return {name: currents[assembly.branch_index(name)] for name in ids}


def _closed(assembly: Assembly, frame: Frame) -> dict[str, dict[str, bool]]:
    """Which contacts of every device are closed."""
    closed: dict[str, dict[str, bool]] = {device: {} for device in assembly.devices}
    for ref, value in zip(assembly.branches, frame.values, strict=True):
        if ref.role is Role.CONTACT:
            closed[ref.place][ref.branch] = value is not None
    return closed


def _terminals(assembly: Assembly, reached: Reach) -> dict[str, dict[str, TerminalData]]:
    found: dict[str, dict[str, TerminalData]] = {}
    for item in assembly.devices.values():
        nodes = {t.name: assembly.graph.node_of[item.id, t.name] for t in item.structure.terminals}
        found[item.id] = {
            name: _terminal(reached.standing[node], _pole(assembly, reached.pole[node])) for name, node in nodes.items()
        }
    return found


@lru_cache(maxsize=256)
def _terminal(standing: Standing, pole: str | None) -> TerminalData:
    """One object for the few ways in which all the terminals of a circuit stand."""
    return TerminalData(standing=standing, pole=pole)


def _pole(assembly: Assembly, node: int | None) -> str | None:
    return None if node is None else assembly.nodes[node][1]


def reading_data(reading: Reading) -> ReadingData:
    return ReadingData.model_construct(
        red=reading.red,
        black=reading.black,
        voltage_v=reading.voltage_v,
        display=reading.display,
        joined=reading.joined,
        coupling=reading.coupling,
    )


def explanation_data(assembly: Assembly, explanation: Explanation) -> ExplanationData:
    return ExplanationData(
        reading=reading_data(explanation.reading),
        red=_path(explanation.red),
        black=_path(explanation.black),
        meter_completes=explanation.meter_completes,
        sentences=explanation.sentences,
        influences=tuple(
            InfluenceData(
                device=i.device, label=assembly.devices[i.device].label, voltage_v=i.voltage_v, display=i.display
            )
            for i in explanation.influences
        ),
        not_tried=explanation.not_tried,
    )


def _path(path: ProbePath) -> PathData:
    return PathData(
        standing=path.standing,
        number=path.number,
        pole=path.pole,
        terminals=path.terminals,
        conductors=path.conductors,
        loads=tuple(LoadData(device=s.device, branch=s.branch, voltage_v=s.voltage_v) for s in path.loads),
    )
