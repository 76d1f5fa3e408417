"""Reports as text for a terminal."""

from wiretrace.circuit.document import End
from wiretrace.formats.report import ExplanationData, FrameData, RunData
from wiretrace.simulation.plant import Plant


def run_table(plant: Plant, report: RunData) -> str:
    """One line a change: the time, what changed, the readings after it."""
    heads = [f"{_label(plant, reading.red)} - {_label(plant, reading.black)}" for reading in report.frames[0].readings]
    rows = [["time s", "change", *heads]]
    before: FrameData | None = None
    for frame in report.frames:
        shown = [f"{reading.display} V" + ("" if reading.joined else " (no return path)") for reading in frame.readings]
        changes = _changes(plant, before, frame)
        if changes or before is None or shown != rows[-1][2:]:
            rows.append([f"{frame.time_us / 1e6:.6f}", changes or "-", *shown])
        before = frame
    lines = _columns(rows)
    for chatter in report.chatters:
        names = ", ".join(plant.devices[device].label for device in chatter.devices)
        lines.append(f"{names} chatters from {chatter.since_us / 1e6:.6f} s, every {chatter.period_us / 1000:g} ms.")
    lines.append("at the end: " + _states(plant, report.frames[-1]))
    return "\n".join(lines)


def explanation_table(data: ExplanationData) -> str:
    """The reading, the two sentences, and what would change it."""
    lines = [f"{data.reading.display} V", *data.sentences]
    if data.influences:
        changes = ", ".join(f"{i.label} ({i.display} V)" for i in data.influences)
        lines.append(f"It would be another with these changed over: {changes}.")
    return "\n".join(lines)


def _label(plant: Plant, end: End) -> str:
    return f"{plant.devices[end.device].label}:{end.terminal}"


def _changes(plant: Plant, before: FrameData | None, frame: FrameData) -> str:
    if before is None:
        return _states(plant, frame)
    return ", ".join(
        f"{item.label} {frame.devices[item.id].says}"
        for item in plant.devices.values()
        if frame.devices[item.id].says != before.devices[item.id].says
    )


def _states(plant: Plant, frame: FrameData) -> str:
    return ", ".join(
        f"{item.label} {frame.devices[item.id].says}" for item in plant.devices.values() if frame.devices[item.id].says
    )


def _columns(rows: list[list[str]]) -> list[str]:
    widths = [max(len(row[column]) for row in rows[:1] + rows[2:] or rows) for column in range(len(rows[0]))]
    return ["  ".join(cell.ljust(width) for cell, width in zip(row, widths, strict=True)).rstrip() for row in rows]
