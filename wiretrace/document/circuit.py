"""The circuit document: devices, conductors, stray paths, sheets.

This is the single truth about a circuit. Geometry is layout and never meaning. The format is
described in docs/circuit-format.md; docs/circuit.schema.json is generated from these classes.
"""

from typing import Annotated, Any, Final, Literal

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, model_validator

from wiretrace.bounds import Most, few

FORMAT: Final = "wiretrace/circuit"
VERSION: Final = 5
MAX_DEVICES: Final = 2_000
MAX_PARAMS: Final = 100
MAX_FIELDS: Final = 100
MAX_CONDUCTORS: Final = 6_000
MAX_STRAYS: Final = 2_000
MAX_SHEETS: Final = 100
MAX_SYMBOLS: Final = 10_000
MAX_CORNERS: Final = 200
MAX_SET_ASIDE: Final = 500
MAX_LINES: Final = 100
LIMITS: Final = {
    "devices": MAX_DEVICES,
    "conductors": MAX_CONDUCTORS,
    "strays": MAX_STRAYS,
    "sheets": MAX_SHEETS,
    "set_aside": MAX_SET_ASIDE,
    "description": MAX_LINES,
}
"""How many of each a document may have."""

Id = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9_-]{1,64}$")]
Label = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9_.\-+/]{1,24}$")]
NO_NUL: Final = r"^[^\x00]*$"
"""What every database and every C program can hold."""
Text = Annotated[str, StringConstraints(max_length=200, pattern=NO_NUL)]
Short = Annotated[str, StringConstraints(max_length=24, pattern=NO_NUL)]
Finite = Annotated[float, Field(allow_inf_nan=False)]
Whole = Annotated[int, Field(ge=-(2**53), le=2**53)]
"""What every reader of JSON can hold."""
Convention = Literal["iec", "nema"]
"""Whose symbols, markings and layout a sheet has: IEC 60617, or NEMA ICS 19 as a ladder."""
Mounting = Literal["door", "plate", "field"]
"""On the door, on the mounting plate, or outside the panel."""
Grid = Annotated[float, Field(ge=-100_000, le=100_000, allow_inf_nan=False)]


class Frozen(BaseModel):
    """Immutable, and closed against unknown fields."""

    model_config = ConfigDict(frozen=True, extra="forbid", json_schema_serialization_defaults_required=True)

    @model_validator(mode="before")
    @classmethod
    def _few_fields(cls, data: Any) -> Any:
        """Not one error for each of a hundred thousand unknown fields."""
        return few(data, MAX_FIELDS)


class End(Frozen):
    """One end of a conductor, or a probe: a terminal of a device."""

    device: Id
    terminal: Annotated[str, StringConstraints(min_length=1, max_length=16)]


class Device(Frozen):
    """A device. `label` is its designation on paper; `id` never changes; `mounting` where it sits, if not as usual."""

    id: Id
    kind: Annotated[str, StringConstraints(max_length=64)]
    label: Label
    function: Text = ""
    mounting: Mounting | None = None
    params: Annotated[dict[str, bool | Whole | Finite | str], Most(MAX_PARAMS)] = {}


class Conductor(Frozen):
    """A wire from terminal to terminal, as an electrician lays it."""

    id: Id
    a: End
    b: End
    number: Short | None = None
    colour: Short | None = None
    cross_section_mm2: Annotated[float, Field(ge=0.05, le=1000)] = 1.5
    length_m: Annotated[float, Field(ge=0.001, le=10_000)] = 1.0


class Stray(Frozen):
    """A path that nobody laid: insulation resistance or capacitance between two terminals."""

    id: Id
    a: End
    b: End
    resistance_ohm: Annotated[float, Field(ge=1, le=1e15)] | None = None
    capacitance_nf: Annotated[float, Field(ge=1e-6, le=1e6)] | None = None


class Placement(Frozen):
    """Where a part stands on a sheet, in modules of the drawing grid."""

    device: Id
    part: Annotated[str, StringConstraints(max_length=32)]
    x: Grid
    y: Grid


Route = Annotated[tuple[tuple[Grid, Grid], ...], Most(MAX_CORNERS)]


class Sheet(Frozen):
    """One sheet: placed symbols, and the wires whose way was chosen by hand."""

    id: Id
    title: Text
    kind: Literal["power", "control"]
    convention: Convention = "iec"
    symbols: Annotated[tuple[Placement, ...], Most(MAX_SYMBOLS)] = ()
    routes: Annotated[dict[Id, Route], Most(MAX_CONDUCTORS)] = {}


class SetAside(Frozen):
    """A finding of the checks that somebody has looked at and lets stand, with his note."""

    rule: Annotated[str, StringConstraints(max_length=64, pattern=NO_NUL)]
    key: Text
    note: Text = ""


class Circuit(Frozen):
    """A whole circuit document. It is shown on its sheets of `convention`; those of the other are kept."""

    format: Literal["wiretrace/circuit"] = "wiretrace/circuit"
    version: Literal[5] = 5
    title: Text
    convention: Convention = "iec"
    devices: Annotated[tuple[Device, ...], Most(MAX_DEVICES)] = ()
    conductors: Annotated[tuple[Conductor, ...], Most(MAX_CONDUCTORS)] = ()
    strays: Annotated[tuple[Stray, ...], Most(MAX_STRAYS)] = ()
    sheets: Annotated[tuple[Sheet, ...], Most(MAX_SHEETS)] = ()
    set_aside: Annotated[tuple[SetAside, ...], Most(MAX_SET_ASIDE)] = ()
    description: Annotated[tuple[Text, ...], Most(MAX_LINES)] = ()
    """What it is to do, in lines that are judged: when S1 is pressed, then K1 goes in."""

    def shown_sheets(self) -> tuple[Sheet, ...]:
        """The sheets of the convention in which the circuit is shown."""
        return tuple(sheet for sheet in self.sheets if sheet.convention == self.convention)

    def link_ids(self) -> set[str]:
        """Ids of all conductors and stray paths."""
        return {conductor.id for conductor in self.conductors} | {stray.id for stray in self.strays}

    def device(self, device_id: str) -> Device:
        """The device with this id. Raises KeyError when there is none."""
        for device in self.devices:
            if device.id == device_id:
                return device
        raise KeyError(device_id)
