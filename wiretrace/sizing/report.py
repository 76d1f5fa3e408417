"""What is asked and told about sizing, as plain data: the JSON of API and command line."""

import json
from collections.abc import Mapping
from typing import Annotated, Any, Final, Literal

from pydantic import StringConstraints, ValidationError, field_validator

from wiretrace.bounds import Most
from wiretrace.document.circuit import NO_NUL, Frozen
from wiretrace.errors import MalformedDocument
from wiretrace.sizing import quantities as q
from wiretrace.sizing.buying import to_buy
from wiretrace.sizing.fields import FIELDS, ONLY_FOR, WORD_TITLES
from wiretrace.sizing.line import Line
from wiretrace.sizing.own import check
from wiretrace.sizing.plate import Trouble, read_plate
from wiretrace.sizing.quantities import NotUnderstood, Quantity
from wiretrace.sizing.schools import QUESTIONS, chosen_rules
from wiretrace.sizing.series import HEADS, Rows, read_series, series_csv, shipped
from wiretrace.sizing.sheet import Sheet
from wiretrace.sizing.worked import CAUTION, beside, chart, lines_of
from wiretrace.upgrading import Upgrades

Written = Annotated[str, StringConstraints(max_length=100, pattern=NO_NUL)]
SeriesText = Annotated[str, StringConstraints(max_length=20_000, pattern=NO_NUL)]
Rule = Annotated[str, StringConstraints(max_length=20)]
Key = Annotated[str, StringConstraints(max_length=40, pattern=r"^[a-z0-9_.-]+$")]


class SizingData(Frozen):
    """What somebody filled in: fields as written, schools by question, own figures by line, own series as CSV."""

    format: Literal["wiretrace/sizing"] = "wiretrace/sizing"
    version: Literal[1] = 1
    fields: Annotated[dict[Key, Written], Most(60)] = {}
    schools: Annotated[dict[Key, Rule], Most(20)] = {}
    own: Annotated[dict[Key, Written], Most(80)] = {}
    series: Annotated[dict[Key, SeriesText], Most(20)] = {}

    @field_validator("schools")
    @classmethod
    def _known(cls, schools: dict[str, str]) -> dict[str, str]:
        for name, rule in schools.items():
            if name not in QUESTIONS or rule not in QUESTIONS[name].rules:
                raise ValueError(f"there is no rule {rule} of {name}")
        return schools


sizing_upgrades: Final = Upgrades("sizing")


def kept_sizing(data: Any) -> SizingData:
    """What was filled in once, perhaps in an earlier release. Raises NewerVersion, pydantic.ValidationError."""
    return SizingData.model_validate(sizing_upgrades(data))


class TroubleData(Frozen):
    """Something wrong at a field: an `error` where nothing can be worked out with it; `missing` where it is empty."""

    field: str
    message: str
    error: bool
    missing: bool = False


class VerdictData(Frozen):
    kind: str
    says: str
    cost: str


class LineData(Frozen):
    """A line of the sheet, and what is to be said of the person's own figure for it."""

    key: str
    group: str
    title: str
    formula: str
    put_in: str
    shown: str
    unit: str
    choice: str
    source: str
    warning: str
    estimated: bool
    verdict: VerdictData | None


class BesideData(Frozen):
    question: str
    name: str
    title: str
    result: str
    means: str


class CurveData(Frozen):
    """A curve of the chart, as points of amperes and seconds."""

    name: str
    points: tuple[tuple[float, float], ...]


class ChartData(Frozen):
    curves: tuple[CurveData, ...]
    dial_a: float
    start_s: float | None
    marks: tuple[str, ...]


class ItemData(Frozen):
    """Something to buy; `line` is the key of the line that leads there, `warning` what does not hold of it."""

    title: str
    shown: str
    line: str
    warning: str


class SizingAnswer(Frozen):
    """`lines` are empty while the power or the voltage is missing. `estimates` are fields with typical values."""

    lines: tuple[LineData, ...]
    buy: tuple[ItemData, ...]
    troubles: tuple[TroubleData, ...]
    estimates: dict[str, str]
    schools: dict[str, str]
    beside: tuple[BesideData, ...]
    chart: ChartData | None
    caution: str


class FieldData(Frozen):
    """A field of the form: its unit, or the words that it may be, with how they are written.

    `only_for` are the ways of starting, or the convention of sizes, with which alone it is asked for.
    """

    name: str
    title: str
    unit: str
    units: tuple[str, ...]
    words: tuple[str, ...]
    titles: tuple[str, ...]
    only_for: tuple[str, ...]


class RuleData(Frozen):
    name: str
    title: str
    reason: str


class QuestionData(Frozen):
    name: str
    title: str
    rules: tuple[RuleData, ...]


class SizingForm(Frozen):
    """What the form is made of: fields in the order of plate and supply, questions of school, and the series."""

    fields: tuple[FieldData, ...]
    questions: tuple[QuestionData, ...]
    series: dict[str, str]


def read_sizing(text: str | bytes) -> SizingData:
    """A sizing from a file. Raises MalformedDocument."""
    try:
        return SizingData.model_validate(json.loads(text))
    except (ValueError, RecursionError) as error:
        why = error.errors()[0]["msg"] if isinstance(error, ValidationError) else "it is no JSON"
        raise MalformedDocument(f"This is no sizing: {why}.") from None


def sheet_of(data: SizingData) -> tuple[Sheet | None, tuple[Trouble, ...]]:
    """The sheet behind what was filled in, and what is wrong."""
    plate, troubles = read_plate(data.fields)
    own, wrong = dict[str, Rows](), list[Trouble]()
    for name, text in data.series.items():
        try:
            own[name] = read_series(name, text)
        except MalformedDocument as error:
            wrong.append(Trouble(name, error.message, True))
    if plate is None:
        return None, (*troubles, *wrong)
    return Sheet(plate, chosen_rules(data.schools), own), (*troubles, *wrong)


def answer(data: SizingData) -> SizingAnswer:
    """Everything that is to be told."""
    sheet, troubles = sheet_of(data)
    told = tuple(TroubleData(**vars(one)) for one in troubles)
    schools = chosen_rules(data.schools)
    if sheet is None:
        return SizingAnswer(
            lines=(), buy=(), troubles=told, estimates={}, schools=schools, beside=(), chart=None, caution=CAUTION
        )
    lines = lines_of(sheet)
    own, wrong = _own(data.own, lines)
    drawn = chart(sheet)
    return SizingAnswer(
        lines=tuple(_line(sheet, lines, line, own) for line in lines),
        buy=tuple(ItemData(**vars(one)) for one in to_buy(sheet, lines)),
        troubles=(*told, *wrong),
        estimates=_estimates(sheet),
        schools=schools,
        beside=tuple(BesideData(**vars(one)) for one in beside(sheet)),
        chart=ChartData(
            curves=tuple(CurveData(name=name, points=points) for name, points in drawn.curves.items()),
            dial_a=drawn.dial_a,
            start_s=drawn.start_s,
            marks=drawn.marks,
        ),
        caution=CAUTION,
    )


def _line(sheet: Sheet, lines: tuple[Line, ...], line: Line, own: Mapping[str, float]) -> LineData:
    verdict = None
    if line.key in own:
        verdict = VerdictData(**vars(check(sheet, lines, line, own[line.key], own)))
    return LineData(
        key=line.key,
        group=line.group,
        title=line.title,
        formula=line.formula,
        put_in=line.put_in,
        shown=line.shown,
        unit=line.unit,
        choice=line.choice,
        source=line.source,
        warning=line.warning,
        estimated=line.estimated,
        verdict=verdict,
    )


def _own(texts: Mapping[str, str], lines: tuple[Line, ...]) -> tuple[dict[str, float], tuple[TroubleData, ...]]:
    """A person's own figures as numbers; one that cannot be read is a trouble at its line."""
    units = {line.key: line.unit for line in lines}
    found, wrong = dict[str, float](), list[TroubleData]()
    for key, text in texts.items():
        if not text.strip() or key not in units:
            continue
        try:
            found[key] = q.read(text.removesuffix("/5"), Quantity({units[key]: 1.0}, 0.0, 1e9))
        except NotUnderstood as error:
            wrong.append(TroubleData(field=f"own.{key}", message=str(error), error=True))
    return found, tuple(wrong)


def _estimates(sheet: Sheet) -> dict[str, str]:
    """The typical values that were put in, by field."""
    plate = sheet.plate
    values = {
        "efficiency": f"{100 * plate.efficiency:.1f} %",
        "power_factor": f"{plate.power_factor:.2f}",
        "current": f"{plate.current_a:.3g} A",
        "speed": f"{plate.speed_rpm:.0f} rpm",
        "frequency": f"{plate.frequency_hz:g} Hz",
        "locked_ratio": f"{plate.locked_ratio:.1f}",
        "fault_current": f"{plate.fault_ka:g} kA",
        "length": f"{plate.length_m:g} m",
        "supply_voltage": f"{plate.supply_v:g} V",
        "connection": "delta" if plate.in_delta else "star",
        "inertia": f"{plate.inertia_kgm2:.3g} kg m2",
        "tap": f"{100 * plate.tap:g} %",
        "start_limit": f"{plate.start_limit:g}",
        "low_current": f"{plate.low_share * plate.current_a:.3g} A",
    }
    return {name: text for name, text in values.items() if name in plate.estimated}


def form() -> SizingForm:
    """What the form is made of."""
    return SizingForm(
        fields=tuple(
            FieldData(
                name=name,
                title=title,
                unit=what.unit if isinstance(what, Quantity) else "",
                units=tuple(what.units) if isinstance(what, Quantity) else (),
                words=() if isinstance(what, Quantity) else what,
                titles=() if isinstance(what, Quantity) else tuple(WORD_TITLES.get(word, word) for word in what),
                only_for=ONLY_FOR.get(name, ()),
            )
            for name, (title, what) in FIELDS.items()
        ),
        questions=tuple(
            QuestionData(
                name=name,
                title=question.title,
                rules=tuple(
                    RuleData(name=key, title=rule.title, reason=rule.reason) for key, rule in question.rules.items()
                ),
            )
            for name, question in QUESTIONS.items()
        ),
        series={name: series_csv(name, shipped(name)) for name in HEADS},
    )
