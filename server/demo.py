"""The demo data: the glasshouse's jobs, made once in an empty database."""

from psycopg import Connection
from psycopg.rows import DictRow

from server.store.marks import first_time
from server.store.order import Order
from server.subjects.jobs.store import create_job
from server.subjects.sequences.store import SHIPPED, keep_sequence
from server.subjects.sizing.store import keep_sizing
from wiretrace.document.circuit import Circuit
from wiretrace.library import library_circuit, library_sequence
from wiretrace.sizing.carry import carried, taken_over
from wiretrace.sizing.report import SizingData, sheet_of

JOBS = (
    ("Condensate sump pump", "Glasshouse, boiler house", "start-stop-overload-line"),
    ("Condensate sump pump, overload on the neutral side", "Training bay, board 1", "start-stop-overload-neutral"),
    ("Condensate sump, float control", "Glasshouse, boiler house", "two-wire-float"),
    ("Circulation pump", "Glasshouse, header room", "start-stop-two-stations"),
    ("Potting belt", "Potting shed", "jog-and-run"),
    ("Boiler-feed set", "Glasshouse, boiler house", "hand-off-auto"),
    ("Ridge-vent drive", "Glasshouse, bay 3", "reversing-interlocked"),
    ("Irrigation pump", "Pump house", "star-delta-timer-first-closure"),
    ("Irrigation pump, timer relay", "Training bay, board 2", "star-delta-relay"),
    ("Borehole supply", "Pump house", "phase-monitor"),
    ("Irrigation pump, programmable controller", "Pump house", "star-delta-plc"),
    ("Transfer pump with ammeter", "Glasshouse, header room", "current-transformer-ammeter"),
    ("Pot conveyor", "Potting shed", "dc-control-pnp"),
    ("Shade screen", "Glasshouse, bay 3", "up-down-common-first"),
    ("Drain pump, order of the feeder", "Training bay, board 1", "feeder-order"),
    ("Ridge vent, stage 1", "Training bay, board 2", "reversing-stage-1"),
)

PLATE = {
    "power": "1.5 kW",
    "voltage": "400 V",
    "connection": "star",
    "current": "3.4 A",
    "power_factor": "0.81",
    "efficiency": "79 %",
    "speed": "1430 rpm",
    "frequency": "50 Hz",
    "locked_ratio": "5.5",
    "length": "18 m",
    "fault_current": "6 kA",
}
"""The nameplate of the first job's motor, and the way to it."""
SIZING = SizingData(fields=PLATE)


def load_demo(connection: Connection[DictRow]) -> int:
    """Make the demo jobs in a database that never had them; return how many were made.

    Whoever deletes them all does not get them back.
    """
    with connection.transaction():
        if not first_time(connection, "demo"):
            return 0
        return _make(connection)


def _make(connection: Connection[DictRow]) -> int:
    for title, place, name in JOBS:
        circuit = library_circuit(name).model_copy(update={"title": title})
        sized = title == JOBS[0][0]
        job = create_job(connection, title, place, (_sized(circuit) if sized else circuit).model_dump(mode="json"))
        keep_sequence(connection, job.id, SHIPPED, library_sequence(name).model_dump(mode="json"))
        if sized:
            keep_sizing(connection, job.id, Order(0, "demo", 1), SIZING.model_dump(mode="json"))
    return len(JOBS)


def _sized(circuit: Circuit) -> Circuit:
    """With what the sheet says otherwise taken over, as whoever sized it would have done."""
    sheet, _ = sheet_of(SIZING)
    if sheet is None:
        return circuit
    return taken_over(circuit, [one for one in carried(sheet, circuit).proposals if not one.larger])
