"""Ways to break the sheet of sizes: cables, short circuits, ways of starting, and what fills it in."""

from typing import Final

from scripts.broken import Break

BREAKS: Final = (
    Break(
        "sizes: the six leads of a star-delta starter lie alone",
        "wiretrace/sizing/cable.py",
        "needed, circuits = leads_needed_a(sheet), 2 * sheet.plate.circuits",
        "needed, circuits = leads_needed_a(sheet), sheet.plate.circuits",
        "tests/core/test_nameplates.py",
    ),
    Break(
        "sizes: terminals do not end what a conductor carries",
        "wiretrace/sizing/ampacity.py",
        "return min(carries, row[AT_C[terminals_c(sheet, amperes)]])",
        "return carries",
        "tests/core/test_american.py",
    ),
    Break(
        "sizes: several in parallel are no circuits beside each other",
        "wiretrace/sizing/ampacity.py",
        "together = circuits if sheet.american else circuits * sets",
        "together = circuits",
        "tests/core/test_short_circuit.py",
    ),
    Break(
        "sizes: the release of a breaker knows no first peak",
        "wiretrace/sizing/sheet.py",
        "return RELEASE_MARGIN * PEAK * self.surge_a",
        "return RELEASE_MARGIN * self.surge_a",
        "tests/core/test_short_circuit.py",
    ),
    Break(
        "sizes: a change-over is no start once more",
        "wiretrace/sizing/sheet.py",
        "return self.locked_a if self.way.changes_over else self.start_a",
        "return self.start_a",
        "tests/core/test_short_circuit.py",
    ),
    Break(
        "sizes: a soft starter lets its whole current through",
        "wiretrace/sizing/curves.py",
        "return min(plate.winding_v, held)",
        "return plate.winding_v",
        "tests/core/test_ways_of_starting.py",
    ),
    Break(
        "sizes: the relay at the motor behind an autotransformer carries the line's current",
        "wiretrace/sizing/starting.py",
        "relay_start=lambda plate: 1 / plate.tap,",
        "",
        "tests/core/test_ways_of_starting.py",
    ),
    Break(
        "sizes: a breaker before a converter goes by the motor",
        "wiretrace/sizing/sheet.py",
        "return self.branch_a if self.converter_a is None else self.converter_a",
        "return self.branch_a",
        "tests/core/test_ways_of_starting.py",
    ),
    Break(
        "sizes: a single phase is looked up among three loaded conductors",
        "wiretrace/sizing/ampacity.py",
        '("-two" if plate.single_phase else "")',
        '""',
        "tests/core/test_nameplates.py",
    ),
    Break(
        "sizes: what was taken out by hand is filled in again",
        "server/subjects/sizing/routes.py",
        "found = _of_circuit(job_id) if sizing is None else kept_sizing(sizing)",
        "found = kept_sizing(sizing) if sizing and sizing['fields'] else _of_circuit(job_id)",
        "tests/server/test_sizing_api.py",
    ),
)
