"""Reports as text for a terminal."""

from collections.abc import Sequence

from wiretrace.catalogue.machinery.status import words
from wiretrace.document.circuit import End
from wiretrace.instruments.clamp_meter import read_current
from wiretrace.instruments.potentials import Potential
from wiretrace.sequences.sequence import Taken, changes
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import Frame
from wiretrace.transport.report import ExplanationData, FrameData, RunData


def run_table(assembly: Assembly, report: RunData) -> str:
    """One line a change: the time, what changed, the readings after it."""
    heads = [
        f"{_label(assembly, reading.red)} - {_label(assembly, reading.black)}" for reading in report.frames[0].readings
    ]
    rows = [["time s", "change", *heads]]
    before: FrameData | None = None
    for frame in report.frames:
        shown = [f"{reading.display} V" + ("" if reading.joined else " (no return path)") for reading in frame.readings]
        changes = _changes(assembly, before, frame)
        if changes or before is None or shown != rows[-1][2:]:
            rows.append([f"{frame.time_us / 1e6:.6f}", changes or "-", *shown])
        before = frame
    lines = _columns(rows)
    for chatter in report.chatters:
        names = ", ".join(assembly.devices[device].label for device in chatter.devices)
        lines.append(f"{names} chatters from {chatter.since_us / 1e6:.6f} s, every {chatter.period_us / 1000:g} ms.")
    lines += [f"warning: {warning.message}" for warning in report.warnings]
    lines.append("at the end: " + _states(assembly, report.frames[-1]))
    return "\n".join(lines)


def explanation_table(data: ExplanationData) -> str:
    """The reading, the two sentences, and what would change it."""
    lines = [f"{data.reading.display} V", *data.sentences]
    if data.influences:
        changes = ", ".join(f"{i.label} ({i.display} V)" for i in data.influences)
        lines.append(f"It would be another with these changed over: {changes}.")
    if data.not_tried:
        lines.append(f"Devices further away that were not tried: {data.not_tried}.")
    return "\n".join(lines)


def potential_table(assembly: Assembly, found: Sequence[Potential]) -> str:
    """One line a terminal."""
    rows = [["terminal", "V AC", "V DC"]]
    for spot in found:
        shown = (f"{spot.ac_v:.1f}", f"{spot.dc_v:.1f}") if spot.joined else ("no return path", "")
        rows.append([_label(assembly, spot.end), *shown])
    return "\n".join(_columns(rows))


def current_table(assembly: Assembly, frame: Frame) -> str:
    """One line a conductor."""
    rows = [["wire", "from", "to", "A"]]
    for wire in assembly.circuit.conductors:
        amperes = read_current(assembly, frame.point, (wire.id,)).current_a
        rows.append([wire.id, _label(assembly, wire.a), _label(assembly, wire.b), f"{amperes:.3f}"])
    return "\n".join(_columns(rows))


def step_table(number: int, taken: Taken) -> str:
    """A step of a sequence: what changes when, and what every device then says."""
    lines = [f"{number}. {taken.step.text}"]
    lines += [f"   {change.after_us / 1000:10.3f} ms  {change.label} {change.what}" for change in changes(taken)]
    views = taken.views()
    lines.append("   then: " + ", ".join(f"{label} {view.says}" for label, view in views.items() if view.says))
    for label, view in views.items():
        shown = ", ".join(f"{f.title.lower()} {f.value:.4g} {f.unit}" for f in view.figures)
        lines += [f"         {label}: {shown}"] if shown else []
    lines += [
        f"   NOT AS EXPECTED: {label} {words(came)}, expected {words(expected)}"
        for label, (expected, came) in taken.unmet().items()
    ]
    return "\n".join(lines)


def _label(assembly: Assembly, end: End) -> str:
    return f"{assembly.devices[end.device].designated(end.terminal)}"


def _changes(assembly: Assembly, before: FrameData | None, frame: FrameData) -> str:
    if before is None:
        return _states(assembly, frame)
    return ", ".join(
        f"{item.label} {frame.devices[item.id].says}"
        for item in assembly.devices.values()
        if frame.devices[item.id].says != before.devices[item.id].says
    )


def _states(assembly: Assembly, frame: FrameData) -> str:
    return ", ".join(
        f"{item.label} {frame.devices[item.id].says}"
        for item in assembly.devices.values()
        if frame.devices[item.id].says
    )


def _columns(rows: list[list[str]]) -> list[str]:
    widths = [max(len(row[column]) for row in rows[:1] + rows[2:] or rows) for column in range(len(rows[0]))]
    return ["  ".join(cell.ljust(width) for cell, width in zip(row, widths, strict=True)).rstrip() for row in rows]
