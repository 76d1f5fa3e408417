"""Sheets as plain strokes, written as DXF and as PDF to scale with frame and title block."""

import io
from typing import Annotated, Final, Literal

from ezdxf.enums import TextEntityAlignment
from ezdxf.filemanagement import new
from pydantic import Field
from reportlab.lib.pagesizes import A2, A3, A4, landscape
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from wiretrace.bounds import Most
from wiretrace.document.circuit import Frozen, Grid, Text

MODULE_MM: Final = 2.5
"""A module of the drawing grid on paper (IEC 61082-1: M = 2.5 mm)."""
SCALES: Final = (1.0, 0.8, 0.6, 0.5, 0.4, 0.3, 0.2, 0.1)
MARGIN_MM: Final = 10.0
BLOCK_MM: Final = (120.0, 18.0)
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
                text = space.add_text(plain(stroke.text), height=stroke.size * MODULE_MM * 0.7, dxfattribs=style)
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


def pdf(title: str, pages: tuple[DrawnPage, ...]) -> bytes:
    """One sheet a page, A4 to A2, at the largest scale that fits, with a frame and a title block."""
    out = io.BytesIO()
    canvas = Canvas(out, invariant=1)
    canvas.setTitle(plain(title))
    for number, page in enumerate(pages, 1):
        paper, scale = _fits(page)
        canvas.setPageSize(paper)
        _frame(canvas, paper, title, page, f"{number} of {len(pages)}", scale)
        canvas.saveState()
        canvas.translate((MARGIN_MM + 5) * mm, paper[1] - (MARGIN_MM + 5) * mm)
        module = MODULE_MM * mm * scale
        for stroke in page.strokes:
            stroke_on(canvas, stroke, module, scale)
        canvas.restoreState()
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _fits(page: DrawnPage) -> tuple[tuple[float, float], float]:
    """Paper and scale: the smaller paper at full size, then the larger, then reduced as far as need be."""
    choices = [(landscape(A4), 1.0), (landscape(A3), 1.0), *((landscape(A2), scale) for scale in SCALES)]
    for paper, scale in choices:
        room = (paper[0] / mm - 2 * MARGIN_MM - 10, paper[1] / mm - 2 * MARGIN_MM - BLOCK_MM[1] - 10)
        if page.width * MODULE_MM * scale <= room[0] and page.height * MODULE_MM * scale <= room[1]:
            return paper, scale
    return choices[-1]


def _frame(canvas: Canvas, paper: tuple[float, float], title: str, page: DrawnPage, count: str, scale: float) -> None:
    width, height = paper
    edge, (block_width, block_height) = MARGIN_MM * mm, (size * mm for size in BLOCK_MM)
    canvas.setLineWidth(0.5 * mm)
    canvas.rect(edge, edge, width - 2 * edge, height - 2 * edge)
    left = width - edge - block_width
    canvas.rect(left, edge, block_width, block_height)
    canvas.setFont("Helvetica-Bold", 11)
    canvas.drawString(left + 3 * mm, edge + 11 * mm, plain(title)[:60])
    canvas.setFont("Helvetica", 8)
    told = f"{plain(page.title)}, sheet {count}, scale {scale:g}:1 (module {MODULE_MM * scale:g} mm)"
    canvas.drawString(left + 3 * mm, edge + 5 * mm, told)
    canvas.drawRightString(left + block_width - 3 * mm, edge + 5 * mm, "Wire Trace")


def stroke_on(canvas: Canvas, stroke: Stroke, module: float, scale: float) -> None:
    points = [(x * module, -y * module) for x, y in stroke.points]
    x, y = points[0]
    if stroke.kind == "text":
        canvas.setFont("Helvetica", stroke.size * module * 0.9)
        draw = {"start": canvas.drawString, "middle": canvas.drawCentredString, "end": canvas.drawRightString}
        draw[stroke.align](x, y, plain(stroke.text))
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


def plain(text: str) -> str:
    """What the fonts of paper and drawing programs can show, on one line."""
    shown = "".join(letter if letter.isprintable() else " " for letter in text)
    return " ".join(shown.encode("latin-1", "replace").decode("latin-1").split())
