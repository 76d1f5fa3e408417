"""What is written on paper can be read back from it, in every script that the font has."""

import subprocess
from pathlib import Path

import pytest

from wiretrace.interchange.drawing import DrawnPage, Stroke, pdf
from wiretrace.interchange.lettering import written
from wiretrace.interchange.paper import Grid, Paper, Words, paper_pdf

FORMULA = "I = P / (√3 U cos φ η), 2,5 mm², 60 °C, ≤ 5 %, Ω µ Δ"
OTHERS = "Łódź, \u041d\u0430\u0441\u043e\u0441, \u0395\u03bb\u03bb\u03ac\u03b4\u03b1, ∑ → ½"


def read_back(content: bytes, folder: Path) -> str:
    file = folder / "paper.pdf"
    file.write_bytes(content)
    done = subprocess.run(["pdftotext", "-layout", str(file), "-"], check=True, capture_output=True)
    return " ".join(done.stdout.decode("utf-8").split())


@pytest.mark.parametrize("text", [FORMULA, OTHERS])
def test_words_and_tables_are_read_back_as_they_were_written(tmp_path: Path, text: str) -> None:
    paper = Paper(
        title=text,
        parts=(
            Words(kind="words", text=text),
            Words(kind="words", text=text, heading=True),
            Grid(kind="table", head=("What", "Why"), rows=(("dial", text),), marked=((0, 0),)),
        ),
    )
    back = read_back(paper_pdf(paper), tmp_path)
    assert back.count(text) >= 4
    assert "?" not in back


def test_the_letters_of_a_drawing_are_read_back(tmp_path: Path) -> None:
    label = Stroke(kind="text", layer="texts", points=((5, 5),), text="K1 Ω φ", size=2.0)
    back = read_back(
        pdf("\u041d\u0430\u0441\u043e\u0441 √3", (DrawnPage(title="Δ", width=80, height=40, strokes=(label,)),)),
        tmp_path,
    )
    for text in ("K1 Ω φ", "\u041d\u0430\u0441\u043e\u0441 √3", "Δ, page 1 of 1", "moved together", "Checked"):
        assert text in back


def test_what_the_font_does_not_have_is_marked_and_nothing_breaks(tmp_path: Path) -> None:
    assert written("泵 and\nmore") == "? and more"
    paper = Paper(title="泵", parts=(Words(kind="words", text="泵 pump"),))
    assert "? pump" in read_back(paper_pdf(paper), tmp_path)


def test_a_heading_never_stands_alone_at_the_foot_of_a_page(tmp_path: Path) -> None:
    under = Grid(kind="table", head=("What", "Where"), rows=(("K1", "below"),))
    moved = 0
    for count in range(50, 62):
        lines = tuple(Words(kind="words", text=f"line {n}") for n in range(count))
        paper = Paper(title="Sheet", parts=(*lines, Words(kind="words", text="Heading", heading=True), under))
        file = tmp_path / "paper.pdf"
        file.write_bytes(paper_pdf(paper))
        text = subprocess.run(["pdftotext", str(file), "-"], check=True, capture_output=True).stdout.decode("utf-8")
        pages = text.split("\f")
        assert [("Heading" in page) for page in pages] == [("below" in page) for page in pages], count
        moved += "Heading" in pages[1]
    # Some of them would have stood there.
    assert 0 < moved < 12
