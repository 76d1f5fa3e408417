"""Paper: headings, words, tables and sheets of a drawing, one below the other on A4, as PDF."""

import io
from dataclasses import dataclass
from functools import cache
from typing import Annotated, Final, Literal

from pydantic import Field
from reportlab.lib.colors import black, lightgrey
from reportlab.lib.pagesizes import A4, landscape
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle
from reportlab.platypus.doctemplate import LayoutError

from wiretrace.bounds import Most
from wiretrace.document.circuit import NO_NUL, Frozen
from wiretrace.errors import MalformedDocument
from wiretrace.interchange.drawing import MODULE_MM, DrawnPage, stroke_on
from wiretrace.interchange.lettering import BOLD, PLAIN, font, one_line, written

MARGIN_MM: Final = 12.0
MOST_PARTS: Final = 200

Line = Annotated[str, Field(max_length=2_000, pattern=NO_NUL)]
Cell = Annotated[str, Field(max_length=500, pattern=NO_NUL)]


class Words(Frozen):
    kind: Literal["words"]
    text: Line
    heading: bool = False


class Grid(Frozen):
    """A table. Cells of `marked` rows and columns stand in bold."""

    kind: Literal["table"]
    head: Annotated[tuple[Cell, ...], Most(40, 1)]
    rows: Annotated[tuple[Annotated[tuple[Cell, ...], Most(40)], ...], Most(1_000)]
    marked: Annotated[tuple[tuple[int, int], ...], Most(5_000)] = ()


class Drawing(Frozen):
    kind: Literal["drawing"]
    page: DrawnPage


class Paper(Frozen):
    """What is to be printed, in order; `landscape` turns the pages."""

    title: Annotated[str, Field(min_length=1, max_length=200, pattern=NO_NUL)]
    parts: Annotated[
        tuple[Annotated[Words | Grid | Drawing, Field(discriminator="kind")], ...],
        Most(MOST_PARTS, 1),
    ]
    turned: bool = False


@dataclass(frozen=True)
class _Styles:
    body: ParagraphStyle
    cell: ParagraphStyle
    bold: ParagraphStyle
    head: ParagraphStyle
    title: ParagraphStyle


@cache
def _styles() -> _Styles:
    def style(name: str, letters: str, size: float, leading: float, before: float = 0.0) -> ParagraphStyle:
        return ParagraphStyle(name, fontName=font(letters), fontSize=size, leading=leading, spaceBefore=before)

    return _Styles(
        style("body", PLAIN, 9.5, 12.5),
        style("cell", PLAIN, 8, 9.5),
        style("bold", BOLD, 8, 9.5),
        # A heading stands over what it is about, never alone at the foot of a page.
        style("head", BOLD, 12, 16, 6).clone("head", keepWithNext=1),
        style("title", BOLD, 15, 20),
    )


def paper_pdf(paper: Paper) -> bytes:
    """The pages, with title and page number at the foot of each. Raises MalformedDocument for what fits on no page."""
    out = io.BytesIO()
    size = landscape(A4) if paper.turned else A4
    margin = MARGIN_MM * mm
    document = SimpleDocTemplate(
        out, pagesize=size, title=one_line(paper.title), invariant=1,
        leftMargin=margin, rightMargin=margin, topMargin=margin, bottomMargin=margin + 5 * mm,
    )  # fmt: skip
    room = (size[0] - 2 * margin - 12, size[1] - 2 * margin - 5 * mm - 12)
    flowing: list[Flowable] = [Paragraph(_marked_up(paper.title), _styles().title)]
    for part in paper.parts:
        if isinstance(part, Words):
            flowing.append(Paragraph(_marked_up(part.text), _styles().head if part.heading else _styles().body))
        elif isinstance(part, Grid):
            flowing += [_table(part, room[0]), Spacer(1, 3 * mm)]
        else:
            flowing += [_Sheet(part.page, room), Spacer(1, 3 * mm)]

    def foot(canvas: Canvas, _: object) -> None:
        canvas.setFont(font(PLAIN), 8)
        canvas.drawString(margin, 8 * mm, written(paper.title)[:110])
        canvas.drawRightString(size[0] - margin, 8 * mm, f"Wire Trace, page {canvas.getPageNumber()}")

    try:
        document.build(flowing, onFirstPage=foot, onLaterPages=foot)
    except LayoutError as error:
        raise MalformedDocument("A table is too wide or a cell too long for a page.") from error
    return out.getvalue()


def _marked_up(text: str) -> str:
    """Words as they are: nothing in them is markup."""
    return written(text).replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


def _table(grid: Grid, room: float) -> Table:
    columns = len(grid.head)
    marked = {(row, at) for row, at in grid.marked if 0 <= row < len(grid.rows) and 0 <= at < columns}
    rows = [[Paragraph(_marked_up(cell), _styles().bold) for cell in grid.head]]
    for number, row in enumerate(grid.rows):
        cells = [*row[:columns], *[""] * (columns - len(row))]
        rows.append(
            [
                Paragraph(_marked_up(c), _styles().bold if (number, at) in marked else _styles().cell)
                for at, c in enumerate(cells)
            ]
        )
    longest = [
        max(4, *(min(40, len(row[at])) for row in (grid.head, *grid.rows) if at < len(row))) for at in range(columns)
    ]
    widths = [room * long / sum(longest) for long in longest]
    table = Table(rows, colWidths=widths, repeatRows=1, splitInRow=1)
    style = TableStyle([("GRID", (0, 0), (-1, -1), 0.4, black), ("VALIGN", (0, 0), (-1, -1), "TOP")])
    for side in ("LEFTPADDING", "RIGHTPADDING"):
        style.add(side, (0, 0), (-1, -1), 3)
    for number, at in marked:
        style.add("BACKGROUND", (at, number + 1), (at, number + 1), lightgrey)
    table.setStyle(style)
    return table


class _Sheet(Flowable):
    """One sheet of a drawing, at the largest scale that fits on the page."""

    def __init__(self, page: DrawnPage, room: tuple[float, float]) -> None:
        super().__init__()
        full = MODULE_MM * mm
        self.page = page
        self.scale = min(1.0, room[0] / (page.width * full), 0.9 * room[1] / (page.height * full))
        self.width, self.height = page.width * full * self.scale, page.height * full * self.scale

    def draw(self) -> None:
        self.canv.translate(0, self.height)
        for stroke in self.page.strokes:
            stroke_on(self.canv, stroke, MODULE_MM * mm * self.scale, self.scale)
