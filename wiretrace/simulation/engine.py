"""Time: from a state, with these actions, until then.

Between events the network is in steady state. At an event everything that is due at that
instant happens together, so the order of devices in the document has no say; then the network
is solved and every device answers to what it sees. Times are integer microseconds.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Final, Literal

from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.structure import DeviceState, Params, View
from wiretrace.document.checked import Installed
from wiretrace.errors import Problem, TooManyEvents, UnstableInstant
from wiretrace.network.point import OperatingPoint
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.chatter import Chatter, Recurrence
from wiretrace.simulation.state import Action, State, bad_state

ROUNDS_PER_INSTANT: Final = 50
MAX_FRAMES: Final = 5_000
LONGEST_RUN_US: Final = 24 * 3600 * 1_000_000


@dataclass(frozen=True)
class Frame:
    """An instant: the state from `state.time_us` on, until the next frame, and its solution."""

    state: State
    values: tuple[Value | None, ...]
    point: OperatingPoint
    signals: Mapping[str, Mapping[str, Signal]]
    devices: Mapping[str, Installed]
    params: Mapping[str, Params]

    @cached_property
    def views(self) -> Mapping[str, View]:
        """What every device shows. Of most instants nobody asks that."""
        return {
            name: item.kind.view(self.params[name], self.state.devices[name], self.signals[name])
            for name, item in self.devices.items()
        }


@dataclass(frozen=True)
class Trajectory:
    """What changes when. `end` is the state at the time that was asked for."""

    frames: tuple[Frame, ...]
    end: State
    chatters: tuple[Chatter, ...]


def initial_state(assembly: Assembly) -> State:
    """Everything as it is when first put under power: nothing moved, nothing hot."""
    return State(0, {item.id: item.kind.initial(item.params) for item in assembly.devices.values()})


def checked_state(assembly: Assembly, state: State) -> State:
    """The state, if it belongs to this circuit. Raises UnknownTarget when it does not.

    Devices that the circuit gained since get their initial state; those that it lost are left
    out. A variable that is missing, unknown or of another type is an error.
    """
    devices: dict[str, DeviceState] = {}
    for item in assembly.devices.values():
        initial = item.kind.initial(item.params)
        given = state.devices.get(item.id, initial)
        if set(given) != set(initial):
            raise bad_state(f"The state of {item.label} does not fit a {item.kind.title.lower()}.", item.id)
        for name, value in given.items():
            past = name.endswith("_at_us") and isinstance(value, int) and value <= state.time_us
            if past or not _same_type(initial[name], value):
                raise bad_state(f"The state of {item.label} has a wrong value for {name}.", item.id)
        # JSON knows no difference between 0 and 0.0; a continuous quantity stays a float.
        devices[item.id] = {
            name: float(value) if isinstance(value, int) and isinstance(initial[name], float) else value
            for name, value in given.items()
        }
    return replace(state, devices=devices)


def _same_type(initial: object, value: object) -> bool:
    if initial is None:
        return value is None or (isinstance(value, int) and not isinstance(value, bool))
    if isinstance(initial, float):
        return isinstance(value, int | float) and not isinstance(value, bool)
    return type(initial) is type(value)


def frame_of(assembly: Assembly, state: State) -> Frame:
    """Solve a state as it stands, without letting anything move."""
    values = assembly.values.in_state(state)
    point = assembly.equations.solve(values)
    signals, params = assembly.signals(point, state.time_us), assembly.values.params(state.time_us)
    return Frame(state, tuple(values), point, signals, assembly.devices, params)


def run(
    assembly: Assembly, state: State, actions: Sequence[Action], until_us: int, page: int | None = None
) -> Trajectory:
    """Everything that changes from `state` until `until_us`, with `actions` on the way.

    With a `page` of so many frames it may end earlier, at the last of them: going on from its `end`, with the
    actions that lie behind that, gives what follows. Raises UnknownTarget for an action on nothing or in the past,
    UnstableInstant, TooManyEvents, SingularNetwork.
    """
    state = checked_state(assembly, state)
    worked = [
        Action(fault.start_us, fault.where, *done)
        for fault in assembly.faults
        if (done := fault.done()) and state.time_us <= fault.start_us <= until_us
    ]
    queue = sorted([*_checked(assembly, state, actions, until_us), *worked], key=lambda action: action.at_us)
    frame = _settle(assembly, state)
    frames = [frame]
    chatters: list[Chatter] = []
    recurrence = Recurrence()
    instants = 0
    while True:
        due = _next_due(assembly, frame.state)
        at_us = min((time for time in (due, queue[0].at_us if queue else None) if time is not None), default=None)
        if at_us is None or at_us > until_us:
            break
        now = [action for action in queue if action.at_us == at_us]
        queue = queue[len(now) :]
        before, instants = frame, instants + 1
        frame = settled = _settle(assembly, happened(assembly, passed(assembly, frame, at_us), now), frame)
        if now or _is_due(assembly, before.state, at_us) or settled.values != before.values:
            frames.append(frame)
        # Else a fault came or went and nobody can see anything of it: no frame tells of the moment.
        if now:
            recurrence = Recurrence()
        elif (back := recurrence.seen(assembly, frame.state, frame.signals)) is not None:
            quiet_until = queue[0].at_us if queue else until_us
            if (leapt := back.leap(quiet_until)) is not None:
                frame = settled = _settle(assembly, leapt, frame)
                frames.append(frame)
                recurrence = Recurrence()
                recurrence.seen(assembly, frame.state, frame.signals)
            seen_until = min(quiet_until, frame.state.time_us + back.chatter.period_us)
            _note(chatters, back.chatter.goes_on(seen_until))
        if page is not None and (len(frames) >= page or instants >= MAX_FRAMES):
            return Trajectory(tuple(frames), settled.state, tuple(_cut(chatters, settled.state.time_us)))
        if instants > MAX_FRAMES:
            raise TooManyEvents(
                f"More than {MAX_FRAMES} changes before {frame.state.time_us / 1e6:.3f} s; ask for a shorter run."
            )
    return Trajectory(tuple(frames), passed(assembly, frame, until_us), tuple(chatters))


def _note(chatters: list[Chatter], chatter: Chatter) -> None:
    """Add a chatter to those that are known, or let the last one go on."""
    last = chatters[-1] if chatters else None
    if last is not None and last.devices == chatter.devices and last.until_us >= chatter.since_us:
        chatters[-1] = last.goes_on(max(last.until_us, chatter.until_us))
    else:
        chatters.append(chatter)


def _cut(chatters: Sequence[Chatter], end_us: int) -> list[Chatter]:
    """What is said of chatter up to `end_us`."""
    return [replace(chatter, until_us=min(chatter.until_us, end_us)) for chatter in chatters]


def _checked(assembly: Assembly, state: State, actions: Sequence[Action], until_us: int) -> Sequence[Action]:
    if not state.time_us <= until_us <= state.time_us + LONGEST_RUN_US:
        raise bad_state(
            f"A run from {state.time_us / 1e6:g} s must end later, and within {LONGEST_RUN_US // 3_600_000_000} h."
        )
    for action in actions:
        installed = assembly.devices.get(action.device)
        if installed is None:
            raise bad_state(f"There is no device {action.device} to work.", action.device)
        if action.operation not in {operation.name for operation in installed.kind.operations}:
            raise bad_state(f"{installed.label} has no {action.operation} to work.", action.device)
        if not state.time_us <= action.at_us <= until_us:
            raise bad_state(
                f"The action on {installed.label} at {action.at_us / 1e6:g} s lies outside the run.", action.device
            )
    return actions


def _next_due(assembly: Assembly, state: State) -> int | None:
    times = [state.devices[device][name] for device, names in assembly.due_names for name in names]
    times += [fault.next_change_us(state.time_us) for fault in assembly.faults]
    return min([time for time in times if isinstance(time, int)], default=None)


def _is_due(assembly: Assembly, state: State, at_us: int) -> bool:
    """Does a device change by itself at this time?"""
    return any(state.devices[device][name] == at_us for device, names in assembly.due_names for name in names)


def passed(assembly: Assembly, frame: Frame, at_us: int) -> State:
    """Let time pass to `at_us` under the steady signals of a frame."""
    state, span_us = frame.state, at_us - frame.state.time_us
    if span_us == 0:
        return state
    params, devices = assembly.values.params(state.time_us), dict(state.devices)
    for item in assembly.evolving:
        devices[item.id] = item.kind.evolve(params[item.id], devices[item.id], frame.signals[item.id], span_us)
    return replace(state, time_us=at_us, devices=devices)


def happened(assembly: Assembly, state: State, actions: Sequence[Action]) -> State:
    """What the hands do and what is due at this instant."""
    now, params, stuck = state.time_us, assembly.values.params(state.time_us), assembly.values.held(state.time_us)
    devices = dict(state.devices)
    for device, names in assembly.due_names:
        if any(devices[device][name] == now for name in names):
            devices[device] = assembly.devices[device].kind.advance(params[device], devices[device], now)
    for action in actions:
        item = assembly.devices[action.device]
        if item.id not in stuck:
            changed = item.kind.operate(params[item.id], devices[item.id], action.operation, action.value, now)
            devices[item.id] = changed
    _restrain(assembly, params, state, devices)
    return replace(state, devices=devices)


def _restrain(assembly: Assembly, params: Mapping[str, Params], before: State, devices: dict[str, DeviceState]) -> None:
    """Keep in place what is stuck, and what a mechanical interlock holds while its partner is away from rest.

    Two that leave rest at one instant jam each other half way, until one falls back.
    """
    held = assembly.values.held(before.time_us)
    for group in assembly.locked:
        kinds = {name: assembly.devices[name].kind for name in group}
        away = {name for name in group if kinds[name].away(devices[name])}
        first = {name for name in away if kinds[name].away(before.devices[name])} or away
        for name in away - first:
            devices[name] = before.devices[name]
        if first:
            held |= set(group) - first
        if len(first) > 1:
            held |= {name for name in first if devices[name].get("driven")}
    for name in held:
        devices[name] = assembly.devices[name].kind.held(params[name], devices[name])


def _settle(assembly: Assembly, state: State, before: Frame | None = None) -> Frame:
    """Solve until all that follows the currents at once has settled; then let every device see it."""
    params = assembly.values.params(state.time_us)
    values = assembly.values.in_state(state, list(before.values) if before is not None else None)
    if before is not None and values == list(before.values):
        point = before.point
    else:
        point = assembly.equations.solve(values, before.point if before else None)
    signals = assembly.signals(point, state.time_us)
    for _ in range(ROUNDS_PER_INSTANT):
        state, moved = _answered(assembly, "adapt", assembly.adapting, params, state, signals)
        settled = assembly.values.in_state(state, values) if moved else values
        if settled is values:
            state, _ = _answered(assembly, "sense", assembly.sensing, params, state, signals)
            return Frame(state, tuple(values), point, signals, assembly.devices, params)
        values, last = settled, moved
        point = assembly.equations.solve(values, point)
        signals = assembly.signals(point, state.time_us)
    names = ", ".join(sorted(item.label for item in last))
    raise UnstableInstant(
        f"{names} would change without end at {state.time_us / 1e6:.6f} s.",
        tuple(Problem("unstable_instant", "Changes without end at one instant.", item.id) for item in last),
    )


def _answered(
    assembly: Assembly,
    how: Literal["adapt", "sense"],
    items: Sequence[Installed],
    params: Mapping[str, Params],
    state: State,
    signals: Mapping[str, Mapping[str, Signal]],
) -> tuple[State, list[Installed]]:
    """The state after these devices have looked at what they see, and the devices that it changed."""
    devices = dict(state.devices)
    for item in items:
        answer = item.kind.adapt if how == "adapt" else item.kind.sense
        devices[item.id] = answer(params[item.id], devices[item.id], signals[item.id], state.time_us)
    if how == "sense" and (assembly.locked or assembly.faults):
        _restrain(assembly, params, state, devices)
    moved = []
    for name, item in assembly.devices.items():
        if devices[name] is not state.devices[name]:
            if devices[name] == state.devices[name]:
                devices[name] = state.devices[name]
            else:
                moved.append(item)
    return (replace(state, devices=devices) if moved else state), moved
