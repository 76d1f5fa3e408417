"""A pump's nameplate, and the sheet that is made of it."""

from wiretrace.sizing.report import SizingData, sheet_of
from wiretrace.sizing.sheet import Sheet
from wiretrace.sizing.worked import lines_of

PUMP = {
    "power": "7,5 kW",
    "voltage": "400 V",
    "current": "14.5 A",
    "power_factor": "0.84",
    "efficiency": "90.1",
    "speed": "1450 rpm",
    "locked_ratio": "7",
}


def sheet(fields: dict[str, str], **schools: str) -> Sheet:
    found, troubles = sheet_of(SizingData(fields=fields, schools=schools))
    assert found is not None, troubles
    return found


def shown(fields: dict[str, str], **schools: str) -> dict[str, str]:
    return {line.key: line.shown for line in lines_of(sheet(fields, **schools))}
