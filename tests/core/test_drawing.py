"""Drawings as DXF and PDF from plain strokes."""

import io
import re
from pathlib import Path

import ezdxf
import pytest
from pydantic import ValidationError

from tests.core.test_lettering import read_back
from wiretrace.interchange.drawing import DrawnPage, Stroke, TitleBlock, digest, dxf, pdf

WIRE = Stroke(kind="line", layer="wires", points=((0, 0), (0, 10), (20, 10)))
DASHED = Stroke(kind="line", layer="symbols", points=((1, 1), (2, 2)), dashed=True)
DOT = Stroke(kind="dot", layer="wires", points=((0, 10),), r=0.3)
LABEL = Stroke(kind="text", layer="texts", points=((5, 5),), text="K1 \u2126 \u00b5", size=1.3, align="end")


def page(width: float = 40, height: float = 30) -> DrawnPage:
    return DrawnPage(title="Control", width=width, height=height, strokes=(WIRE, DASHED, DOT, LABEL))


def test_a_dxf_is_in_millimetres_with_a_layer_for_each_thing() -> None:
    document = ezdxf.read(io.StringIO(dxf((page(), page()))))  # type: ignore[attr-defined]
    assert document.units == 4
    space = document.modelspace()
    lines = space.query('LWPOLYLINE[layer=="wires"]')
    assert len(lines) == 2
    # y points upward there; the second sheet stands to the right of the first.
    assert [tuple(point[:2]) for point in lines[0]] == [(0, 75), (0, 50), (50, 50)]
    assert lines[1][0][0] == pytest.approx((40 + 10) * 2.5)
    assert {line.dxf.linetype for line in space.query('LWPOLYLINE[layer=="symbols"]')} == {"DASHED"}
    assert [circle.dxf.radius for circle in space.query("CIRCLE")] == [0.75, 0.75]
    assert {text.dxf.text for text in space.query("TEXT")} == {"K1 \u2126 \u00b5"}


def sizes(data: bytes) -> list[tuple[int, int]]:
    """Width and height of every page, in whole millimetres."""
    boxes = re.findall(rb"/MediaBox \[ 0 0 ([\d.]+) ([\d.]+) \]", data)
    return [(round(float(w) / 72 * 25.4), round(float(h) / 72 * 25.4)) for w, h in boxes]


def test_a_pdf_is_on_the_paper_that_was_asked_for_upright_or_turned() -> None:
    data = pdf("Sump", (page(100, 60),))
    assert data.startswith(b"%PDF")
    assert sizes(data) == [(297, 210)]
    assert sizes(pdf("Sump", (page(40, 100),))) == [(210, 297)]
    assert sizes(pdf("Sump", (page(100, 60),), "A3")) == [(420, 297)]
    assert sizes(pdf("Sump", (page(100, 60),), "letter")) == [(279, 216)]
    # A sheet larger than any paper is reduced, never cut.
    assert sizes(pdf("Huge", (page(2000, 900),))) == [(297, 210)]


def test_sheets_share_a_page_where_they_can_be_read_and_else_have_one_each() -> None:
    assert len(sizes(pdf("Sump", (page(40, 60), page(50, 55))))) == 1
    assert len(sizes(pdf("Sump", (page(100, 60), page(140, 80))))) == 2
    assert len(sizes(pdf("Sump", (page(100, 60), page(140, 80)), "A3"))) == 1


def test_the_title_block_names_what_the_drawing_is(tmp_path: Path) -> None:
    sheets = (page(40, 60),)
    block = TitleBlock(number="17", version="4", date="2026-12-01")
    told = read_back(pdf("Sump", sheets, "A4", block), tmp_path)
    for text in ("Sump", "Drawing: 17", "Version: 4", "Date: 2026-12-01", f"Contents: {digest(sheets)}", "page 1 of 1"):
        assert text in told
    assert digest(sheets) != digest((page(41, 60),))


def test_the_same_sheets_give_the_same_file() -> None:
    assert pdf("Sump", (page(),)) == pdf("Sump", (page(),))


@pytest.mark.parametrize(
    "bad",
    [
        {"kind": "line", "layer": "wires", "points": []},
        {"kind": "line", "layer": "ink", "points": [[0, 0]]},
        {"kind": "line", "layer": "wires", "points": [[1e9, 0]]},
        {"kind": "line", "layer": "wires", "points": [[float("nan"), 0]]},
        {"kind": "text", "layer": "texts", "points": [[0, 0]], "text": "x" * 201},
    ],
)
def test_strokes_that_are_none_are_refused(bad: dict[str, object]) -> None:
    with pytest.raises(ValidationError):
        Stroke.model_validate(bad)
