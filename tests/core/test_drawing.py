"""Drawings as DXF and PDF from plain strokes."""

import io
import re

import ezdxf
import pytest
from pydantic import ValidationError

from wiretrace.interchange.drawing import DrawnPage, Stroke, dxf, pdf

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
    assert {text.dxf.text for text in space.query("TEXT")} == {"K1 ? \u00b5"}


def sizes(data: bytes) -> list[tuple[int, int]]:
    """Width and height of every page, in whole millimetres."""
    boxes = re.findall(rb"/MediaBox \[ 0 0 ([\d.]+) ([\d.]+) \]", data)
    return [(round(float(w) / 72 * 25.4), round(float(h) / 72 * 25.4)) for w, h in boxes]


def test_a_pdf_takes_the_smallest_paper_that_holds_the_sheet_at_full_size() -> None:
    data = pdf("Sump", (page(100, 60), page(140, 80), page(180, 100)))
    assert data.startswith(b"%PDF")
    assert sizes(data) == [(297, 210), (420, 297), (594, 420)]
    # A sheet larger than any paper is reduced, never cut.
    assert sizes(pdf("Huge", (page(2000, 900),))) == [(594, 420)]


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
