"""/api/export, /api/import, /api/tidy, /api/pattern: circuits in other formats, on clean sheets, and made by rules."""

from collections.abc import Iterable
from enum import StrEnum
from typing import Annotated, Any

from apiflask import APIBlueprint
from flask import Response
from pydantic import Field

from server.bodies import CheckedCircuit
from server.store.errors import NotFound
from wiretrace.bounds import Most
from wiretrace.document.checked import parse_circuit
from wiretrace.document.circuit import NO_NUL, Circuit, Convention, Frozen, Text
from wiretrace.document.salvage import salvage
from wiretrace.errors import CircuitError, Problem
from wiretrace.interchange.drawing import DrawnPage, PaperSize, TitleBlock, dxf, pdf
from wiretrace.interchange.lists import circuit_from_wire_list, parts_list, terminal_plan, wire_list
from wiretrace.interchange.paper import Paper, paper_pdf
from wiretrace.interchange.spice import spice_netlist
from wiretrace.interchange.subcircuits import circuit_from_netlist, device_netlist
from wiretrace.layout.letters import relettered
from wiretrace.layout.tidy import redrawn, tidy
from wiretrace.patterns.choices import Choices
from wiretrace.patterns.make import make
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state, run

blueprint = APIBlueprint("formats", __name__, url_prefix="/api")


class CircuitBody(Frozen):
    circuit: CheckedCircuit


class TidyRequest(Frozen):
    """Clean sheets of a convention; or, to `keep` what they have, these with the parts that they lack.

    With `letters` the designations follow the convention as well.
    """

    circuit: CheckedCircuit
    convention: Convention
    keep: bool = False
    letters: bool = False


class Tidied(Frozen):
    circuit: Circuit


class FormatKind(StrEnum):
    CIRCUIT = "circuit"
    WIRES = "wires"
    NETLIST = "netlist"


class ImportRequest(Frozen):
    """`text` is a circuit document, a list of wires as CSV, or a netlist of devices."""

    title: Annotated[str, Field(min_length=1, max_length=200, pattern=NO_NUL)]
    format: FormatKind
    text: Annotated[str, Field(max_length=4_000_000)]


class Unreadable(Frozen):
    message: str
    path: str | None


class ImportAnswer(Frozen):
    """The circuit as far as it could be read, what could not be, and devices whose kind is a guess.

    Without a circuit nothing could be read: what a file holds is no mistake of whoever asks.
    """

    circuit: Circuit | None
    unreadable: tuple[Unreadable, ...]
    guessed: tuple[Text, ...]


@blueprint.post("/tidy")
@blueprint.input(TidyRequest, arg_name="body")
@blueprint.output(Tidied)
def tidy_circuit(body: TidyRequest) -> Tidied:
    """The circuit on clean sheets; of the rest no more than designations changes."""
    circuit = relettered(body.circuit, body.convention) if body.letters else body.circuit
    return Tidied(circuit=(redrawn if body.keep else tidy)(circuit, body.convention))


@blueprint.post("/pattern")
@blueprint.input(Choices, arg_name="body")
@blueprint.output(Tidied)
def pattern(body: Choices) -> Tidied:
    """The circuit of a pattern by its choices, to be put into a drawing. Nothing is kept."""
    return Tidied(circuit=make("Pattern", body))


def _spice(circuit: Circuit) -> str:
    assembly = Assembly(circuit)
    return spice_netlist(assembly, run(assembly, initial_state(assembly), (), 1_000).frames[-1])


EXPORTS = {
    "wires.csv": wire_list,
    "terminals.csv": terminal_plan,
    "parts.csv": parts_list,
    "circuit.cir": _spice,
    "devices.cir": device_netlist,
}


_TEXT: dict[str, Any] = {"schema": {"type": "string"}}
FILE: dict[int | str, dict[str, str | dict[str, dict[str, Any]]]] = {
    200: {"description": "The file", "content": {"text/csv": _TEXT, "text/plain": _TEXT}}
}


@blueprint.post("/export/<name>")
@blueprint.input(CircuitBody, arg_name="body")
@blueprint.doc(responses=FILE)
def export(name: str, body: CircuitBody) -> Response:
    """A list of wires, terminals or parts as CSV, or a SPICE netlist of the circuit under power."""
    if name not in EXPORTS:
        raise NotFound(f"There is no export {name}; there are {', '.join(EXPORTS)}.")
    kind = "text/csv" if name.endswith(".csv") else "text/plain"
    return Response(EXPORTS[name](body.circuit), mimetype=kind)


class DrawingRequest(Frozen):
    """The sheets as strokes: symbols and wires are laid by the front end."""

    title: Annotated[str, Field(min_length=1, max_length=200, pattern=NO_NUL)]
    pages: Annotated[tuple[DrawnPage, ...], Most(50, 1)]
    paper: PaperSize = "A4"
    block: TitleBlock = TitleBlock()


_BYTES: dict[str, Any] = {"schema": {"type": "string", "contentMediaType": "application/octet-stream"}}
DRAWING: dict[int | str, dict[str, str | dict[str, dict[str, Any]]]] = {
    200: {"description": "The drawing", "content": {"application/pdf": _BYTES, "image/vnd.dxf": _BYTES}}
}


@blueprint.post("/drawing/<name>")
@blueprint.input(DrawingRequest, arg_name="body")
@blueprint.doc(responses=DRAWING)
def draw(name: str, body: DrawingRequest) -> Response:
    """The sheets as DXF, or as PDF to scale with frame and title block."""
    if name == "sheets.pdf":
        return Response(pdf(body.title, body.pages, body.paper, body.block), mimetype="application/pdf")
    if name == "sheets.dxf":
        return Response(dxf(body.pages), mimetype="image/vnd.dxf")
    raise NotFound(f"There is no drawing {name}; there are sheets.pdf and sheets.dxf.")


@blueprint.post("/import")
@blueprint.input(ImportRequest, arg_name="body")
@blueprint.output(ImportAnswer)
def import_circuit(body: ImportRequest) -> ImportAnswer:
    """Read a file into a circuit, on clean sheets if it has none. Nothing is kept."""
    try:
        if body.format is FormatKind.CIRCUIT:
            return _circuit_document(body.text)
        reader = circuit_from_netlist if body.format is FormatKind.NETLIST else circuit_from_wire_list
        read = reader(body.text, body.title)
    except CircuitError as error:
        found = error.problems or (Problem("unreadable", error.message),)
        return ImportAnswer(circuit=None, unreadable=_told(found), guessed=())
    return ImportAnswer(circuit=tidy(read.circuit), unreadable=_told(read.problems), guessed=read.guessed)


def _circuit_document(text: str) -> ImportAnswer:
    """A whole document, or what is left of one that is half right. Raises CircuitError where nothing is."""
    problems: tuple[Problem, ...] = ()
    try:
        circuit = parse_circuit(text)
    except CircuitError as error:
        circuit, problems = salvage(text)
        if not circuit.devices:
            raise error from None
    return ImportAnswer(circuit=circuit if circuit.sheets else tidy(circuit), unreadable=_told(problems), guessed=())


def _told(problems: Iterable[Problem]) -> tuple[Unreadable, ...]:
    return tuple(Unreadable(message=p.message, path=p.path) for p in problems)


PRINTED: dict[int | str, dict[str, str | dict[str, dict[str, Any]]]] = {
    200: {"description": "The pages", "content": {"application/pdf": _BYTES}}
}


@blueprint.post("/paper")
@blueprint.input(Paper, arg_name="body")
@blueprint.doc(responses=PRINTED)
def print_paper(body: Paper) -> Response:
    """Headings, words, tables and sheets of a drawing, one below the other, as PDF."""
    return Response(paper_pdf(body), mimetype="application/pdf")
