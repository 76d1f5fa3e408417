"""What a learner cannot have of what is hidden before the end, whatever he sends, sends again, counts or times."""

import json
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import psycopg
import pytest
from flask.testing import FlaskClient

import server.subjects.exercises.exercise
import server.subjects.exercises.routes
from scripts.postgres import Cluster
from server.assemblies import likeness
from tests.server.panel import LAMP, LAMP_DARK, START, STEPS, Panel, Told, end
from wiretrace.errors import NobodyWaits, Problem, SingularNetwork
from wiretrace.library import library_circuit


def test_nothing_of_the_fault_leaves_before_the_end(client: FlaskClient) -> None:
    hidden = {"kind": "high_resistance", "place": "contactor", "branch": "coil", "resistance_ohm": 31337.0}
    panel = Panel(client, START, sequence=STEPS, faults=[hidden])
    panel.step("work", device="start", operation="press", briefly=True)
    panel.step("wait", seconds=5)
    panel.read("voltmeter", "contactor:A1", "contactor:A2")
    panel.read("ohmmeter", "contactor:A1", "contactor:A2")
    panel.step("note", text="the coil?")
    panel.step("rule_out", place="start")
    panel.get()
    panel.answers.append(client.get(panel.root).get_data(as_text=True))
    panel.answers.append(client.get(f"{panel.root}/{panel.id}/record.csv").get_data(as_text=True))
    refused = client.post(f"{panel.root}/{panel.id}/review", json={})
    panel.answers.append(refused.get_data(as_text=True))
    assert refused.status_code == 409
    for sent in ({"kind": "work", "device": "nobody", "operation": "press"}, {"kind": "rule_out", "place": "x"}):
        panel.do("/steps", 422, step=sent)
    panel.do("/answers", fault={"kind": "open", "place": "stop", "branch": "21-22"}, status=422)
    text = "\n".join(panel.answers)
    for secret in ("31337", "high_resistance", "resistance_ohm", '"faults"', '"left"', "standing", '"state"', "volts"):
        assert secret not in text, secret
    # What a frame of the bench tells of contacts, potentials and currents is not there at all.
    for more in ("closed", "terminals", "conductors_a", "figures", "due_us"):
        assert f'"{more}"' not in text.replace(json.dumps(panel.get()["circuit"])[1:-1], ""), more


def test_what_is_sent_back_cannot_take_the_fault_away(client: FlaskClient) -> None:
    panel = Panel(client, LAMP, faults=[LAMP_DARK])
    for more in ({"faults": []}, {"state": {"time_us": 0, "devices": {}}}, {"circuit": LAMP}, {"left": []}):
        answer = client.post(
            f"{panel.root}/{panel.id}/steps", json={"known": 1, "step": {"kind": "wait", "seconds": 1}, **more}
        )
        assert answer.status_code == 422
    panel.step("work", device="s1", operation="press")
    assert panel.get()["entries"][-1]["seen"]["h1"]["says"] == "dark"


def test_a_number_gives_all_the_same_and_tells_what_it_is_only_when_it_is_closed(client: FlaskClient) -> None:
    first, second = (Panel(client, LAMP, number=5, level=1, who=who) for who in ("Ida", "Ben"))
    ended = first.end()
    assert (ended["hidden"], ended["number_closed"]) == ([], False)
    assert ended["entries"][-1]["text"] == "What was hidden is told when number 5 is closed."
    assert first.post(f"/{first.id}/review", 403)["detail"] == "It is reviewed when number 5 is closed."
    told = first.post(f"/{first.id}/close", 409)
    assert told["detail"].startswith("Somebody still looks for what number 5 hides")
    assert second.end()["hidden"] == []
    closed = first.post(f"/{first.id}/close", 200)
    assert closed["hidden"] == second.get()["hidden"] != []
    assert first.review()["steps"]
    # Who has been told what it hides cannot be given it again.
    again = client.post(first.root, json={"circuit": LAMP, "number": 5, "level": 1, "who": "Eva"})
    assert (again.status_code, again.get_json()["detail"]) == (
        409,
        "Number 5 is closed, and what it hides is known: take another number.",
    )
    assert client.post(first.root, json={"circuit": LAMP, "number": 6}).status_code == 201


def test_nothing_that_can_be_sent_again_gives_the_same_without_a_number(client: FlaskClient) -> None:
    drawn = [Panel(client, LAMP, level=1) for _ in range(12)]
    told = "\n".join("\n".join(panel.answers) for panel in drawn)
    assert "seed" not in told
    assert "drawn" not in told
    hidden = {tuple(panel.end()["hidden"]) for panel in drawn}
    assert len(hidden) > 3
    assert client.post(drawn[0].root, json={"circuit": LAMP, "seed": 5}).status_code == 422


def test_a_number_of_another_installation_hides_something_else(client: FlaskClient, cluster: Cluster) -> None:
    def drawn(who: str) -> list[Told]:
        panels = [Panel(client, LAMP, number=number, level=1, who=who) for number in range(1, 9)]
        with psycopg.connect(cluster.url) as connection:
            ids = [panel.id for panel in panels]
            rows = connection.execute("SELECT faults FROM exercises WHERE id = ANY(%s) ORDER BY id", (ids,)).fetchall()
        return [row[0] for row in rows]

    here = drawn("Ida")
    assert drawn("Ben") == here
    with psycopg.connect(cluster.url) as connection:
        (kept,) = connection.execute("SELECT value FROM secrets WHERE name = 'draw'").fetchone() or ("",)
        connection.execute("UPDATE secrets SET value = 'of another one' WHERE name = 'draw'")
    assert drawn("Eva") != here
    with psycopg.connect(cluster.url) as connection:
        connection.execute("UPDATE secrets SET value = %s WHERE name = 'draw'", (kept,))


def test_a_number_is_tried_once_by_each_and_is_the_same_however_it_is_drawn(
    client: FlaskClient, cluster: Cluster
) -> None:
    """A second exercise under it would be one to try answers out in; and another convention is no other circuit."""
    first = Panel(client, LAMP, number=9, level=1, who="Ida")
    again = client.post(first.root, json={"circuit": LAMP, "number": 9, "level": 1, "who": "Ida"})
    assert (again.status_code, again.get_json()["detail"]) == (
        409,
        "You had number 9 already: take another one.",
    )
    renamed = {
        **LAMP,
        "convention": "nema",
        "title": "Else",
        "devices": [{**one, "label": f"{one['label']}9", "function": "x"} for one in LAMP["devices"]],
        "conductors": [{**one, "length_m": 7.0, "number": "8"} for one in LAMP["conductors"]],
    }
    other = Panel(client, renamed, number=9, level=1, who="Ben")
    with psycopg.connect(cluster.url) as connection:
        rows = connection.execute("SELECT faults FROM exercises WHERE id IN (%s, %s)", (first.id, other.id)).fetchall()
    assert rows[0] == rows[1]
    # Nor does it help to ask the engine of the same circuit by other names.
    first.end()
    for circuit in (LAMP, renamed):
        assert client.post("/api/trace/work", json={"circuit": circuit}).status_code == 403
    other.end()
    assert client.post("/api/trace/work", json={"circuit": LAMP}).status_code == 200


def test_deleting_what_answers_were_tried_out_in_gives_no_other_try(client: FlaskClient) -> None:
    number = {"number": 12, "level": 1, "who": "Ida"}
    tried = Panel(client, LAMP, **number)
    assert client.delete(f"{tried.root}/{tried.id}").status_code == 204
    assert client.post(tried.root, json={"circuit": LAMP, **number}).status_code == 409
    # Nor does a job of one's own, which is then deleted with all that is in it.
    other = Panel(client, LAMP, **{**number, "who": "Ben"})
    assert client.delete(f"/api/jobs/{other.job}").status_code == 204
    assert client.post(tried.root, json={"circuit": LAMP, **number, "who": "Ben"}).status_code == 409


def test_of_two_that_begin_under_a_number_at_once_one_does(client: FlaskClient) -> None:
    job = client.post("/api/jobs", json={"title": "Panel", "circuit": LAMP}).get_json()["id"]
    body = {"circuit": LAMP, "number": 13, "who": "Ida"}
    with ThreadPoolExecutor(4) as windows:
        begun = [
            windows.submit(client.application.test_client().post, f"/api/jobs/{job}/exercises", json=body)
            for _ in range(4)
        ]
    assert sorted(one.result().status_code for one in begun) == [201, 409, 409, 409]


def test_who_begins_while_a_number_is_closed_does_not_begin(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The work order takes a while to write, and what is hidden may be told meanwhile."""
    first = Panel(client, LAMP, number=14, who="Ida")
    first.end()
    made = server.subjects.exercises.routes.work_order

    def slowly(*of: Any) -> str:
        first.post(f"/{first.id}/close", 200)
        return made(*of)

    monkeypatch.setattr(server.subjects.exercises.routes, "work_order", slowly)
    refused = client.post(first.root, json={"circuit": LAMP, "number": 14, "who": "Ben"})
    assert (refused.status_code, "is closed" in refused.get_json()["detail"]) == (409, True)
    assert len(client.get(first.root).get_json()["exercises"]) == 1


def test_lifting_a_wire_that_is_broken_tells_nothing(client: FlaskClient) -> None:
    panel = Panel(client, LAMP, faults=[{"kind": "open", "place": "w2"}])
    assert panel.step("lift", wire="w2")["events"] == []
    panel.step("bridge", red=end("h1:X1"), black=end("g1:N"))
    panel.do("/steps", 422, step={"kind": "bridge", "red": end("h1:X1"), "black": end("g1:N")})
    panel.step("bridge", red=end("h1:X1"), black=end("g1:N"), on=False)
    panel.step("lift", wire="w2", off=False)
    panel.do("/steps", 422, step={"kind": "lift", "wire": "w2", "off": False})
    panel.do("/steps", 422, step={"kind": "lift", "wire": "w9"})


def test_an_answer_counts_from_the_moment_it_is_given(client: FlaskClient, monkeypatch: pytest.MonkeyPatch) -> None:
    """Who hangs up, or is killed, before the verdict has answered; what else was sent on the same record has not."""
    panel = Panel(client, LAMP, faults=[LAMP_DARK])
    panel.step("work", device="s1", operation="press")

    def hangs_up(*_: object) -> None:
        raise NobodyWaits("gone")

    with monkeypatch.context() as broken:
        broken.setattr("server.subjects.exercises.exercise.mended", hangs_up)
        panel.do("/answers", 422, fault={"kind": "open", "place": "w1"})
    panel.do("/steps", 409, step={"kind": "note", "text": "was it?"})
    entry = panel.get()["entries"][-1]
    assert (entry["kind"], entry["right"], entry["took_s"]) == ("answer", False, 300)
    assert "is sound" in entry["text"]


def test_a_right_answer_is_judged_by_the_same_course_as_a_wrong_one(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked: list[str] = []

    def noted(name: str, work: Callable[..., Any]) -> None:
        monkeypatch.setattr(
            f"server.subjects.exercises.exercise.{name}", lambda *given: [asked.append(name), work(*given)][1]
        )

    noted("mended", server.subjects.exercises.exercise.mended)
    noted("against", server.subjects.exercises.exercise.against)
    panel = Panel(client, LAMP, faults=[LAMP_DARK])
    panel.step("work", device="s1", operation="press")
    assert panel.do("/answers", fault={"kind": "open", "place": "w1"})["right"] is False
    wrong = asked.copy()
    asked.clear()
    assert panel.do("/answers", fault=LAMP_DARK)["right"] is True
    assert asked == wrong == ["mended", "against"]


def test_a_learner_has_what_a_meter_and_a_watch_show(client: FlaskClient) -> None:
    panel = Panel(client, START, sequence=STEPS, faults=[{"kind": "open", "place": "contactor", "branch": "21-22"}])
    pressed = panel.step("work", device="start", operation="press", briefly=True)
    assert all(event["at_us"] % 100_000 == 0 for event in (*pressed["events"], pressed))
    assert panel.read("voltmeter", "contactor:A1", "contactor:A2")["shown"]["value"] is None
    told = panel.get()["entries"]
    assert [one["shown"]["value"] for one in told if one["shown"]] == [None]
    assert all(event["at_us"] % 100_000 == 0 for one in told for event in one["events"])


def test_an_error_of_a_step_does_not_say_where(client: FlaskClient, monkeypatch: pytest.MonkeyPatch) -> None:
    panel = Panel(client, LAMP, faults=[LAMP_DARK])

    def fails(*_: object) -> None:
        raise SingularNetwork("H1:X1 to H1:X2.", (Problem("short", "H1:X1 to H1:X2.", "h1"),))

    with monkeypatch.context() as broken:
        broken.setattr("wiretrace.training.exercise.bench.run", fails)
        told = panel.do("/steps", 422, step={"kind": "wait", "seconds": 2})
    assert (told["detail"], told["problems"]) == ("The circuit has no operating point in this state.", [])
    assert len(panel.get()["entries"]) == 1


def test_the_engine_beside_a_real_panel_does_not_look_for_what_is_hidden(client: FlaskClient) -> None:
    panel = Panel(client, LAMP, faults=[LAMP_DARK])
    body = {"circuit": {**LAMP, "title": "Another title"}, "sequence": {"steps": []}}
    for path in ("work", "advice", "book", "book.csv"):
        refused = client.post(f"/api/trace/{path}", json=body)
        assert (refused.status_code, refused.get_json()["type"]) == (403, "/problems/withheld"), path
    assert client.post("/api/trace/work", json={**body, "circuit": START}).status_code == 200
    panel.end()
    assert client.post("/api/trace/work", json=body).status_code == 200


def test_a_circuit_whose_buttons_are_called_otherwise_or_have_another_role_is_the_same() -> None:
    """Else a number could be tried again, and the engine asked, about a circuit that does the same."""
    base = library_circuit("start-stop-overload-line")
    same = [
        device.model_copy(update={"function": "Halt", "params": {**device.params, "role": "unsaid"}})
        if device.kind == "push_button"
        else device
        for device in base.devices
    ]
    other = [
        device.model_copy(update={"params": {**device.params, "travel_ms": 40.0}})
        if device.kind == "push_button"
        else device
        for device in base.devices
    ]
    assert likeness(base.model_copy(update={"devices": tuple(same)})) == likeness(base)
    assert likeness(base.model_copy(update={"devices": tuple(other)})) != likeness(base)
