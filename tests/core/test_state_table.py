"""State tables, and pages of paper."""

import csv
import io
import re

import pytest

from wiretrace.catalogue.machinery.status import words
from wiretrace.errors import UnknownTarget
from wiretrace.interchange.drawing import DrawnPage, Stroke
from wiretrace.interchange.paper import Drawing, Grid, Paper, Words, paper_pdf
from wiretrace.library import library_circuit, library_names, library_sequence
from wiretrace.sequences.sequence import Sequence, Step
from wiretrace.sequences.state_table import differences, state_table, table_csv

LINE = library_circuit("start-stop-overload-line")
START = Sequence(
    steps=(
        Step(text="Hold start", do=(("S1", "press", True),)),
        Step(text="Let go", do=(("S1", "press", False),)),
    )
)


def unsealed():
    wires = tuple(
        w
        for w in LINE.conductors
        if ("contactor", "13") not in ((w.a.device, w.a.terminal), (w.b.device, w.b.terminal))
    )
    return LINE.model_copy(update={"conductors": wires})


def test_a_row_a_step_says_what_every_device_does_and_when() -> None:
    table = state_table(LINE, START)
    assert "X1.1" not in table.devices  # a terminal says nothing
    assert [(row.statuses["K1"], row.statuses["S1"]) for row in table.rows] == [
        ("pulled_in", "pressed"),
        ("pulled_in", "released"),
    ]
    assert table.words["pulled_in"] == "in"
    told = [(event.after_us, event.label, event.what) for event in table.rows[0].events]
    assert (17_000, "S1 13-14", "closes") in told
    assert (35_000, "K1", "in") in told
    assert table.rows[1].start_us == 500_000


def test_the_first_difference_between_two_circuits_comes_first() -> None:
    cells = differences(state_table(LINE, START), state_table(unsealed(), START))
    assert cells[0] == (1, "K1")
    assert differences(state_table(LINE, START), state_table(LINE, START)) == ()


def test_what_is_expected_and_not_met_is_told_with_what_came() -> None:
    wrong = Sequence(steps=(Step(text="Nothing", expect={"K1": "pulled_in"}),))
    assert state_table(LINE, wrong).rows[0].unmet == {"K1": ("pulled_in", "dropped_out")}


def test_a_step_on_nothing_is_named() -> None:
    with pytest.raises(UnknownTarget, match=r"Step 1 \(Press\): .*S9"):
        state_table(LINE, Sequence(steps=(Step(text="Press", do=(("S9", "press", True),)),)))


@pytest.mark.parametrize("name", library_names())
def test_the_sequence_of_every_circuit_makes_a_table_as_csv(name: str) -> None:
    sequence = library_sequence(name)
    table = state_table(library_circuit(name), sequence)
    rows = list(csv.DictReader(io.StringIO(table_csv(table))))
    assert (len(rows), table.problem) == (len(sequence.steps), "")
    for row, step in zip(rows, sequence.steps, strict=True):
        for label, status in step.expect.items():
            if label in table.devices:
                assert row[label] == words(status)


def test_words_of_a_step_are_no_formula_for_a_spreadsheet() -> None:
    text = table_csv(state_table(LINE, Sequence(steps=(Step(text="=1+1"),))))
    assert "'=1+1" in text


def test_paper_has_all_parts_and_nothing_in_words_is_markup() -> None:
    stroke = Stroke(kind="line", layer="wires", points=((0, 0), (10, 10)))
    page = DrawnPage(title="Control", width=200.0, height=300.0, strokes=(stroke,))
    rows = tuple((f"{n}", "<b>K1</b> & more") for n in range(200))
    paper = Paper(
        title="Sheet <i>",
        parts=(
            Words(kind="words", text="a < b", heading=True),
            Drawing(kind="drawing", page=page),
            Grid(kind="table", head=("n", "what"), rows=rows, marked=((0, 1),)),
        ),
    )
    content = paper_pdf(paper)
    assert content.startswith(b"%PDF")
    pages = re.search(rb"/Count (\d+)", content)
    assert pages is not None
    assert int(pages[1]) >= 4  # the drawing fills a page, two hundred rows several
    assert paper_pdf(paper) == content


def test_forty_narrow_columns_with_long_words_go_on_from_page_to_page() -> None:
    rows = (("word " * 100,) * 40,) * 2
    grid = Grid(kind="table", head=tuple(f"{n}" for n in range(40)), rows=rows, marked=((9, 99),))
    assert paper_pdf(Paper(title="x", parts=(grid,))).startswith(b"%PDF")
