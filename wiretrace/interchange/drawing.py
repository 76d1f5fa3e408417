"""Sheets as plain strokes, written as DXF and as PDF to scale with frame and title block."""

import hashlib
import io
from collections.abc import Mapping
from dataclasses import dataclass
from itertools import accumulate
from typing import Annotated, Final, Literal

from ezdxf.enums import TextEntityAlignment
from ezdxf.filemanagement import new
from pydantic import Field
from reportlab.lib.pagesizes import A3, A4, landscape, letter, portrait
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from wiretrace.bounds import Most
from wiretrace.document.circuit import Frozen, Grid, Text
from wiretrace.interchange.lettering import BOLD, PLAIN, font, one_line, written

MODULE_MM: Final = 2.5
"""A module of the drawing grid on paper (IEC 61082-1: M = 2.5 mm)."""
PaperSize = Literal["A4", "A3", "letter"]
PAPERS: Final[Mapping[PaperSize, tuple[float, float]]] = {"A4": A4, "A3": A3, "letter": letter}
MARGIN_MM: Final = 10.0
BLOCK_MM: Final = 21.0
LARGEST: Final = 1.4
"""Scale beyond which a small sheet is not drawn larger."""
READABLE: Final = 0.75
"""Scale from which several sheets are drawn on one page."""
APART: Final = 6.0
"""Modules between two sheets on one page."""
WEIGHT_MM: Final = {"wires": 0.35, "symbols": 0.35, "texts": 0.18}

Size = Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)]
Extent = Annotated[float, Field(gt=0, le=250_000, allow_inf_nan=False)]


class Stroke(Frozen):
    """A line through `points`, a circle or dot of radius `r`, or a text of a height, at the first point."""

    kind: Literal["line", "circle", "dot", "text"]
    layer: Literal["wires", "symbols", "texts"]
    points: Annotated[tuple[tuple[Grid, Grid], ...], Most(2_000, 1)]
    dashed: bool = False
    r: Size = 0.0
    text: Text = ""
    size: Size = 0.0
    align: Literal["start", "middle", "end"] = "start"


class DrawnPage(Frozen):
    """One sheet: its size and strokes in modules, y downward from the upper left corner."""

    title: Text
    width: Extent
    height: Extent
    strokes: Annotated[tuple[Stroke, ...], Most(50_000)]


def dxf(pages: tuple[DrawnPage, ...]) -> str:
    """The sheets side by side in millimetres, as DXF R2010 with a layer each for wires, symbols and texts."""
    document = new("R2010", setup=["linetypes"], units=4)
    for layer in WEIGHT_MM:
        document.layers.add(layer, lineweight=round(100 * WEIGHT_MM[layer]))
    space, left = document.modelspace(), 0.0
    for page in pages:
        for stroke in page.strokes:
            points = [((left + x) * MODULE_MM, (page.height - y) * MODULE_MM) for x, y in stroke.points]
            style = {"layer": stroke.layer, **({"linetype": "DASHED"} if stroke.dashed else {})}
            if stroke.kind == "line":
                space.add_lwpolyline(points, dxfattribs=style)
            elif stroke.kind == "text":
                text = space.add_text(one_line(stroke.text), height=stroke.size * MODULE_MM * 0.7, dxfattribs=style)
                text.set_placement(points[0], align=_ALIGN[stroke.align])
            else:
                space.add_circle(points[0], stroke.r * MODULE_MM, dxfattribs=style)
        left += page.width + 10
    out = io.StringIO()
    document.write(out)
    return out.getvalue()


_ALIGN: Final = {
    "start": TextEntityAlignment.LEFT,
    "middle": TextEntityAlignment.CENTER,
    "end": TextEntityAlignment.RIGHT,
}


class TitleBlock(Frozen):
    """What stands in the title block beside the title: left blank where it is not known."""

    number: Text = ""
    version: Text = ""
    date: Text = ""


@dataclass(frozen=True)
class _Placed:
    """A sheet and its upper left corner, in modules, within what is drawn on one page."""

    page: DrawnPage
    left: float
    top: float


@dataclass(frozen=True)
class _Leaf:
    """A page of paper: its size in points, the sheets on it, and the scale."""

    paper: tuple[float, float]
    sheets: tuple[_Placed, ...]
    scale: float


def pdf(title: str, pages: tuple[DrawnPage, ...], paper: PaperSize = "A4", block: TitleBlock | None = None) -> bytes:
    """The sheets on one page where that can be read, else one a page, as large as fits, each with a title block."""
    out = io.BytesIO()
    canvas = Canvas(out, invariant=1)
    canvas.setTitle(one_line(title))
    leaves = _leaves(pages, PAPERS[paper])
    known = block or TitleBlock()
    named = {"Drawing": known.number, "Version": known.version, "Contents": digest(pages), "Date": known.date}
    for number, leaf in enumerate(leaves, 1):
        canvas.setPageSize(leaf.paper)
        _frame(canvas, leaf, title, f"{number} of {len(leaves)}", named)
        module = MODULE_MM * mm * leaf.scale
        for placed in leaf.sheets:
            canvas.saveState()
            canvas.translate(
                (MARGIN_MM + 5) * mm + placed.left * module, leaf.paper[1] - (MARGIN_MM + 5) * mm - placed.top * module
            )
            for stroke in placed.page.strokes:
                stroke_on(canvas, stroke, module, leaf.scale)
            canvas.restoreState()
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def digest(pages: tuple[DrawnPage, ...]) -> str:
    """What tells one drawing from another: the beginning of a hash of all that is drawn."""
    return hashlib.sha256("".join(page.model_dump_json() for page in pages).encode()).hexdigest()[:12]


def _leaves(pages: tuple[DrawnPage, ...], paper: tuple[float, float]) -> list[_Leaf]:
    together = max((_leaf(way, paper) for way in (_beside(pages), _below(pages))), key=lambda leaf: leaf.scale)
    if together.scale >= READABLE:
        return [together]
    return [_leaf((_Placed(page, 0.0, 0.0),), paper) for page in pages]


def _beside(pages: tuple[DrawnPage, ...]) -> tuple[_Placed, ...]:
    lefts = accumulate((page.width + APART for page in pages), initial=0.0)
    return tuple(_Placed(page, left, 0.0) for page, left in zip(pages, lefts, strict=False))


def _below(pages: tuple[DrawnPage, ...]) -> tuple[_Placed, ...]:
    tops = accumulate((page.height + APART for page in pages), initial=0.0)
    return tuple(_Placed(page, 0.0, top) for page, top in zip(pages, tops, strict=False))


def _leaf(sheets: tuple[_Placed, ...], paper: tuple[float, float]) -> _Leaf:
    """The sheets on upright or turned paper, whichever takes them larger."""
    width = max(one.left + one.page.width for one in sheets) * MODULE_MM
    height = max(one.top + one.page.height for one in sheets) * MODULE_MM
    found = []
    for turned in (landscape(paper), portrait(paper)):
        room = (turned[0] / mm - 2 * MARGIN_MM - 10, turned[1] / mm - 2 * MARGIN_MM - BLOCK_MM - 10)
        found.append(_Leaf(turned, sheets, min(LARGEST, room[0] / width, room[1] / height)))
    return max(found, key=lambda leaf: leaf.scale)


def _frame(canvas: Canvas, leaf: _Leaf, title: str, count: str, named: Mapping[str, str]) -> None:
    width, height = leaf.paper
    edge, foot = MARGIN_MM * mm, BLOCK_MM * mm
    canvas.setLineWidth(0.5 * mm)
    canvas.rect(edge, edge, width - 2 * edge, height - 2 * edge)
    canvas.line(edge, edge + foot, width - edge, edge + foot)
    right = width - edge - 3 * mm
    middle = edge + 0.62 * (width - 2 * edge)
    canvas.setFont(font(BOLD), 11)
    canvas.drawString(edge + 3 * mm, edge + 15 * mm, written(title)[:60])
    canvas.setFont(font(PLAIN), 8)
    sheets = ", ".join(one.page.title for one in leaf.sheets)
    told = f"{written(sheets)[:80]}, page {count}, module {MODULE_MM * leaf.scale:.2g} mm"
    canvas.drawString(edge + 3 * mm, edge + 10 * mm, told)
    _legend(canvas, edge + 3 * mm, edge + 4 * mm)
    for row, (name, value) in enumerate(named.items()):
        canvas.drawString(middle, edge + (16 - 4.2 * row) * mm, f"{name}: {written(value)[:30]}")
    for row, name in enumerate(("Drawn", "Checked")):
        y = edge + (14 - 7 * row) * mm
        canvas.drawRightString(right - 28 * mm, y, name)
        canvas.setLineWidth(0.2 * mm)
        canvas.line(right - 26 * mm, y - 0.5 * mm, right, y - 0.5 * mm)
    canvas.drawRightString(right, edge + 2 * mm, "Wire Trace")


def _legend(canvas: Canvas, x: float, y: float) -> None:
    """What the styles of lines say."""
    canvas.setLineWidth(WEIGHT_MM["wires"] * mm)
    canvas.line(x, y + 1 * mm, x + 8 * mm, y + 1 * mm)
    canvas.drawString(x + 10 * mm, y, "wire, symbol")
    canvas.setDash([1.5 * mm, 1 * mm])
    canvas.line(x + 32 * mm, y + 1 * mm, x + 40 * mm, y + 1 * mm)
    canvas.setDash([])
    canvas.drawString(x + 42 * mm, y, "moved together")
    canvas.circle(x + 69 * mm, y + 1 * mm, 0.6 * mm, fill=1)
    canvas.drawString(x + 71 * mm, y, "joined")


def stroke_on(canvas: Canvas, stroke: Stroke, module: float, scale: float) -> None:
    points = [(x * module, -y * module) for x, y in stroke.points]
    x, y = points[0]
    if stroke.kind == "text":
        canvas.setFont(font(PLAIN), stroke.size * module * 0.9)
        draw = {"start": canvas.drawString, "middle": canvas.drawCentredString, "end": canvas.drawRightString}
        draw[stroke.align](x, y, written(stroke.text))
        return
    canvas.setLineWidth(WEIGHT_MM[stroke.layer] * mm * scale)
    canvas.setDash([0.6 * module, 0.4 * module] if stroke.dashed else [])
    if stroke.kind == "line":
        path = canvas.beginPath()
        path.moveTo(x, y)
        for point in points[1:]:
            path.lineTo(*point)
        canvas.drawPath(path)
    else:
        canvas.circle(x, y, stroke.r * module, fill=int(stroke.kind == "dot"))
