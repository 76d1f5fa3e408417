"""Hidden faults to be found at the panel: the record, its risks, hints, answers, the proof, the review."""

import time
from concurrent.futures import ThreadPoolExecutor

import psycopg
import pytest
from flask.testing import FlaskClient

from scripts.postgres import Cluster
from tests.server.panel import LAMP, LAMP_DARK, START, STEPS, Panel, end
from tests.server.saving import save
from wiretrace.library import library_circuit, library_sequence


def test_a_lamp_is_found_mended_proved_and_reviewed(client: FlaskClient) -> None:
    panel = Panel(client, LAMP, faults=[LAMP_DARK])
    assert panel.order == (
        "When I hold S1, H1 does not come on. Until then all is as usual (“Under power, nothing touched”)."
        " It has been so since this morning. Find the cause and repair it."
    )
    held = panel.step("work", device="s1", operation="press")
    assert [(one["device"], one["status"], one["says"], one["active"]) for one in held["events"]] == [
        ("s1", "pressed", "pressed", True)
    ]
    across = panel.read("voltmeter", "h1:X1", "h1:X2")
    assert (across["shown"]["display"], across["took_s"]) == ("230.0", 40)
    assert panel.read("voltmeter", "h1:X1", "g1:N")["took_s"] == 12
    wrong = panel.do("/answers", fault={"kind": "open", "place": "w1"})
    assert wrong["right"] is False
    assert "Against it spoke no. 2: Volts: H1:X1 to H1:X2 showed 230.0 V" in wrong["text"]
    right = panel.do("/answers", fault=LAMP_DARK)
    assert right["right"] is True
    assert panel.do("/proof")["text"] == "All does as it should."
    ended = panel.end()
    assert (ended["hidden"], ended["mended"]) == (["H1 lamp open"], True) or ended["hidden"]
    review = panel.review()
    told = {step["number"]: step for step in review["steps"]}
    assert told[2]["bits"] > 0.5
    assert told[2]["after"] < told[2]["before"]
    assert {reason["words"] for reason in review["reasons"]} >= {"1 sound part named."}
    assert review["points"] < 100


def test_an_exercise_from_before_a_device_gained_something_goes_on(client: FlaskClient, cluster: Cluster) -> None:
    """The state that is kept lacks a variable of the breaker: it has its initial value, and nothing else is lost."""
    panel = Panel(client, LAMP, faults=[LAMP_DARK])
    panel.step("work", device="s1", operation="press")
    with psycopg.connect(cluster.url) as connection:
        connection.execute("UPDATE exercises SET standing = standing #- '{state,devices,f1,magnetic}'")
    assert panel.step("wait", seconds=1)["seen"]["h1"]["says"] == "dark"
    assert panel.read("voltmeter", "h1:X1", "h1:X2")["shown"]["display"].startswith("230")


def test_an_exercise_from_before_choices_had_ids_goes_on(client: FlaskClient, cluster: Cluster) -> None:
    """What is hidden, what nobody has mended and what was named were kept with the words of a choice."""
    circuit = library_circuit("star-delta-relay").model_dump(mode="json")
    timer = "timer"
    hidden = {"kind": "setting", "place": timer, "name": "mode", "value": "off_delay"}
    steps = library_sequence("star-delta-relay").model_dump(mode="json")
    panel = Panel(client, circuit, sequence=steps, faults=[hidden])
    panel.do("/answers", fault={"kind": "setting", "place": timer, "name": "mode", "value": "interval"})
    kept = (("exercises", "faults"), ("exercises", "standing"), ("exercise_entries", "entry"))
    with psycopg.connect(cluster.url) as connection:
        for table, column in kept:
            done = connection.execute(
                f"UPDATE {table} SET {column} = replace({column}::text, 'off_delay', 'off-delay')::jsonb"
                f" WHERE {column}::text LIKE '%off_delay%'"
            )
            assert (done.rowcount == 1) == (column != "entry")
    right = panel.do("/answers", fault=hidden)
    assert right["right"]


def test_risks_are_recorded_and_dead_is_proved_in_three_steps(client: FlaskClient) -> None:
    panel = Panel(client, START, sequence=STEPS, faults=[{"kind": "open", "place": "contactor", "branch": "coil"}])
    coil = ("contactor:A1", "contactor:A2")
    live = panel.read("ohmmeter", "isolator:1", "isolator:3")
    assert live["risks"] == ["Ohms or insulation on a live circuit."]
    assert panel.step("work", device="contactor", operation="push", briefly=True)["risks"] == [
        "Worked by hand while the circuit is live, what may be only dead: an armature, or the links of a fuse."
    ]
    wires = [one["id"] for one in START["conductors"] if end("contactor:A1") in (one["a"], one["b"])]
    early = panel.step("lift", wire=wires[0])
    assert early["risks"] == ["Work on wires before the circuit was locked out and proved dead."]
    panel.step("lift", wire=wires[0], off=False)
    panel.step("work", device="isolator", operation="switch", value=False)
    locked = panel.step("work", device="isolator", operation="lock")
    assert locked["locked_off"]
    assert panel.read("ohmmeter", *coil)["risks"] == [
        "Measured ohms, a diode or insulation before the circuit was locked out and proved dead."
    ]
    # Where nothing is live under power either, finding nothing proves nothing.
    panel.step("prove_tester")
    nothing = panel.step("prove_dead", red=end("contactor:A1"), black=end("contactor:A2"))
    assert nothing["risks"] == [
        "Proved dead between terminals that have no voltage under power either: it proves nothing."
    ]
    panel.step("prove_tester")
    assert panel.read("ohmmeter", *coil)["risks"] == [
        "Measured ohms, a diode or insulation before the circuit was locked out and proved dead."
    ]
    panel.prove_dead("isolator:2", "isolator:4")
    reading = panel.read("ohmmeter", *coil)
    # The coil is open; what is read is the lamp beside it, which stays.
    assert (reading["risks"], reading["shown"]["display"]) == ([], "22.04 k")
    for one in wires:
        assert panel.step("lift", wire=one)["risks"] == []
    assert panel.read("ohmmeter", *coil)["shown"]["display"] == "OL"
    # Put back under power, the proof counts no more.
    panel.step("work", device="isolator", operation="lock", value=False)
    panel.step("work", device="isolator", operation="lock")
    assert panel.read("ohmmeter", *coil)["risks"] == [
        "Measured ohms, a diode or insulation before the circuit was locked out and proved dead."
    ]


def test_a_trip_reset_without_a_look_and_onto_the_same_fault(client: FlaskClient) -> None:
    panel = Panel(client, START, sequence=STEPS, faults=[{"kind": "stuck", "place": "motor"}])
    panel.step("work", device="start", operation="press", briefly=True)
    assert panel.step("wait", seconds=60)["seen"]["overload"]["attention"]
    panel.step("wait", seconds=600)
    again = panel.step("work", device="overload", operation="reset")
    assert again["risks"] == ["Reset without looking for the reason of the trip."]
    panel.step("work", device="start", operation="press", briefly=True)
    assert panel.step("wait", seconds=60)["risks"] == ["Put under power onto the same fault again."]
    # Who measures before he resets has looked.
    panel.step("wait", seconds=600)
    panel.read("voltmeter", "motor:U1", "motor:V1")
    assert panel.step("work", device="overload", operation="reset")["risks"] == []


def safely(client: FlaskClient, *, safe: bool, read: bool = True) -> tuple[int, list[str]]:
    """The coil of K1 is open: isolated, locked, proved dead, measured, replaced, proved; or all of it under power."""
    panel = Panel(client, START, sequence=STEPS, faults=[{"kind": "open", "place": "contactor", "branch": "coil"}])
    panel.step("work", device="start", operation="press", briefly=True)
    if safe:
        panel.step("work", device="isolator", operation="switch", value=False)
        panel.step("work", device="isolator", operation="lock")
        panel.prove_dead("isolator:2", "isolator:4")
    if read:
        panel.read("ohmmeter" if safe else "voltmeter", "contactor:A1", "contactor:A2")
    assert panel.do("/answers", fault={"kind": "open", "place": "contactor", "branch": "coil"})["right"] is True
    panel.do("/proof")
    panel.end()
    review = panel.review()
    assert all(len(reason["why"]) > 30 for reason in review["reasons"])
    return review["points"], [reason["words"] for reason in review["reasons"]]


def test_whoever_works_safely_and_on_evidence_has_all_points(client: FlaskClient) -> None:
    assert safely(client, safe=True) == (100, [])
    points, reasons = safely(client, safe=False)
    assert "A part replaced before the circuit was locked out and proved dead." in reasons
    assert points < 100
    guessed, why = safely(client, safe=True, read=False)
    assert guessed == 80
    assert [words.split(" while ")[0] for words in why] == ["Named"]


def test_hints_in_three_steps_cost_and_narrow(client: FlaskClient) -> None:
    panel = Panel(client, LAMP, faults=[LAMP_DARK])
    panel.step("work", device="s1", operation="press")
    where = panel.hint(1)
    assert "faults still explain all that was observed. Think about" in where
    assert panel.hint(2).startswith("Measure volts from ")
    assert panel.hint(3).startswith("What it would leave. ")
    panel.read("voltmeter", "h1:X1", "h1:X2")
    assert "Think about H1" in panel.hint(1)
    costs = [entry["took_s"] for entry in panel.get()["entries"] if entry["kind"] == "hint"]
    assert costs == [60, 120, 180, 60]


def test_what_shows_no_symptom_is_said_to_be_so(client: FlaskClient) -> None:
    job = client.post("/api/jobs", json={"title": "P", "place": "B", "circuit": LAMP}).get_json()["id"]
    answer = client.post(f"/api/jobs/{job}/exercises", json={"circuit": LAMP, "sorts": ["setting"], "number": 3})
    assert answer.status_code == 422
    assert "No fault of this kind that was tried shows anything here" in answer.get_json()["detail"]
    silent = {"kind": "high_resistance", "place": "w0", "resistance_ohm": 0.001}
    answer = client.post(f"/api/jobs/{job}/exercises", json={"circuit": LAMP, "faults": [silent]})
    assert "there is nothing that an operator could report" in answer.get_json()["detail"]
    unfit = {"kind": "open", "place": "h9", "branch": "lamp"}
    answer = client.post(f"/api/jobs/{job}/exercises", json={"circuit": LAMP, "faults": [unfit]})
    assert (answer.status_code, "h9" in answer.get_json()["detail"]) == (422, True)


def test_a_step_that_comes_twice_is_recorded_once(client: FlaskClient) -> None:
    panel = Panel(client, LAMP, faults=[LAMP_DARK])
    step = {"known": 1, "step": {"kind": "wait", "seconds": 2}}
    assert client.post(f"{panel.root}/{panel.id}/steps", json=step).status_code == 201
    again = client.post(f"{panel.root}/{panel.id}/steps", json=step)
    assert (again.status_code, again.get_json()["title"]) == (409, "Not any more")
    assert len(panel.get()["entries"]) == 2


def test_a_changed_circuit_keeps_the_record_and_stops_the_exercise(client: FlaskClient) -> None:
    panel = Panel(client, LAMP, faults=[LAMP_DARK])
    other = {**LAMP, "conductors": LAMP["conductors"][:3]}
    saved = client.put(f"/api/jobs/{panel.job}/circuit", json=save(1, "w", 1, circuit=other))
    assert saved.status_code == 200, saved.get_json()
    told = panel.do("/steps", 409, step={"kind": "wait", "seconds": 2})
    assert "The circuit was changed since this exercise was set." in told["detail"]
    assert len(panel.get()["entries"]) == 1


def test_a_circuit_that_is_only_drawn_otherwise_is_the_same(client: FlaskClient) -> None:
    job = client.post("/api/jobs", json={"title": "P", "template": "start-stop-overload-line"}).get_json()
    panel = Panel(client, job["circuit"], faults=[{"kind": "open", "place": "contactor", "branch": "coil"}])
    other = {**job["circuit"], "convention": "nema", "title": "Else", "sheets": []}
    saved = client.put(f"/api/jobs/{panel.job}/circuit", json=save(1, "w", 1, circuit=other))
    assert saved.status_code == 200, saved.get_json()
    assert panel.step("wait", seconds=2)["kind"] == "wait"


def test_two_faults_are_both_to_be_mended(client: FlaskClient) -> None:
    second = {"kind": "loose_terminal", "place": "s1", "terminal": "13"}
    panel = Panel(client, LAMP, faults=[LAMP_DARK, second])
    first = panel.do("/answers", fault=second)
    assert first["text"].startswith("Correct. Fault repaired. Something else is still wrong.")
    assert panel.do("/proof")["right"] is False
    assert panel.do("/answers", fault=LAMP_DARK)["right"] is True
    assert panel.do("/proof")["right"] is True


def test_a_wire_left_off_fails_the_proof(client: FlaskClient) -> None:
    panel = Panel(client, LAMP, faults=[LAMP_DARK])
    panel.step("lift", wire="w2")
    panel.do("/answers", fault=LAMP_DARK)
    assert panel.do("/proof")["text"].startswith("Not as it should be. Hold S1: H1 dark, should be lit")
    panel.step("lift", wire="w2", off=False)
    assert panel.do("/proof")["right"] is True


def test_the_record_as_csv(client: FlaskClient) -> None:
    panel = Panel(client, LAMP, faults=[LAMP_DARK])
    panel.step("work", device="s1", operation="press")
    panel.read("voltmeter", "h1:X1", "h1:X2")
    lines = client.get(f"{panel.root}/{panel.id}/record.csv").get_data(as_text=True).splitlines()
    assert lines[0].lstrip("\ufeff").startswith("No.")
    assert "230.0 V" in lines[3]


def test_of_a_long_record_only_what_is_new_is_sent(client: FlaskClient) -> None:
    panel = Panel(client, LAMP, faults=[LAMP_DARK])
    for _ in range(3):
        panel.step("wait", seconds=1)
    new = client.get(f"{panel.root}/{panel.id}?after=3").get_json()
    assert [entry["number"] for entry in new["entries"]] == [3]
    assert len(panel.get()["entries"]) == 4


def test_a_review_stays_what_it_was_and_what_it_was_made_from_goes(client: FlaskClient, cluster: Cluster) -> None:
    panel = Panel(client, LAMP, faults=[LAMP_DARK])
    panel.step("work", device="s1", operation="press")
    panel.read("voltmeter", "h1:X1", "h1:X2")
    panel.hint(1)

    def followed() -> int:
        with psycopg.connect(cluster.url) as connection:
            row = connection.execute("SELECT count(*) FROM followed WHERE exercise_id = %s", (panel.id,)).fetchone()
        return int(row[0]) if row else 0

    assert followed() > 5
    panel.end()
    review = panel.review()
    assert followed() == 0
    with psycopg.connect(cluster.url) as connection:
        connection.execute("UPDATE exercises SET review = jsonb_set(review, '{points}', '17')")
    assert panel.review() == {**review, "points": 17}
    other = Panel(client, LAMP, faults=[LAMP_DARK])
    other.hint(1)
    client.delete(f"{other.root}/{other.id}")
    with psycopg.connect(cluster.url) as connection:
        assert connection.execute("SELECT count(*) FROM followed").fetchone() == (0,)


def test_two_windows_at_once_record_one_after_the_other(client: FlaskClient) -> None:
    panel = Panel(client, LAMP, faults=[LAMP_DARK])
    step = {"known": 1, "step": {"kind": "wait", "seconds": 2}}

    def send(_: int) -> int:
        return client.application.test_client().post(f"{panel.root}/{panel.id}/steps", json=step).status_code

    with ThreadPoolExecutor(4) as pool:
        codes = sorted(pool.map(send, range(4)))
    assert codes == [201, 409, 409, 409]


@pytest.mark.alone
def test_a_step_answers_quickly(client: FlaskClient) -> None:
    panel = Panel(client, START, sequence=STEPS, faults=[{"kind": "open", "place": "contactor", "branch": "coil"}])
    took = []
    for _ in range(5):
        begun = time.perf_counter()
        panel.read("voltmeter", "contactor:A1", "contactor:A2")
        took.append(time.perf_counter() - begun)
    assert min(took) < 0.4


def test_whoever_hides_it_weighs_what_is_held_against_it_and_the_review_says_so(client: FlaskClient) -> None:
    panel = Panel(client, LAMP, faults=[LAMP_DARK], weights={"not_found": 30, "hints": 0, "guess": 20})
    panel.end()
    review = panel.review()
    assert review["points"] == 70
    # What is as usual is no change.
    assert review["changed"] == [
        {"title": "Not found", "points": 30, "usual": 50},
        {"title": "A step of a hint", "points": 0, "usual": 3},
    ]
    usual = Panel(client, LAMP, faults=[LAMP_DARK])
    usual.end()
    assert (usual.review()["points"], usual.review()["changed"]) == (50, [])


def test_the_rule_is_told_with_the_exercises(client: FlaskClient) -> None:
    job = client.post("/api/jobs", json={"title": "Bench", "circuit": LAMP}).get_json()["id"]
    rule = client.get(f"/api/jobs/{job}/exercises").get_json()["rule"]
    assert {one["code"]: (one["points"], one["least"]) for one in rule}["risk"] == (10, 5)
    assert all(len(one["why"]) > 30 and one["title"] for one in rule)


@pytest.mark.parametrize(
    ("weights", "says"),
    [
        ({"risk": 4}, "a risk costs 5 points at least"),
        ({"former": 4}, "nothing is lost by that any more"),
        ({"hints": 101}, "100"),
        ({"beauty": 4}, "beauty"),
    ],
)
def test_what_can_hurt_always_costs_something(client: FlaskClient, weights: dict[str, int], says: str) -> None:
    job = client.post("/api/jobs", json={"title": "Bench", "circuit": LAMP}).get_json()["id"]
    body = {"circuit": LAMP, "faults": [LAMP_DARK], "weights": weights}
    answer = client.post(f"/api/jobs/{job}/exercises", json=body)
    assert answer.status_code == 422
    assert says in answer.get_json()["detail"]
