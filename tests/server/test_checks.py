"""/api/check over HTTP."""

from flask.testing import FlaskClient

from wiretrace.library import library_circuit


def test_findings_come_with_rule_reason_and_place(client: FlaskClient) -> None:
    body = {"circuit": library_circuit("two-wire-float").model_dump(mode="json")}
    answer = client.post("/api/check", json=body)
    assert answer.status_code == 200
    results = {result["rule"]: result for result in answer.get_json()["results"]}
    assert results["automatic_restart"]["outcome"] == "found"
    (finding,) = results["automatic_restart"]["findings"]
    assert finding["device"] == "contactor"
    assert finding["message"].startswith("K1 can come in by itself")
    assert finding["why"].endswith("nobody gave.")
    assert results["stop_normally_closed"]["outcome"] == "nothing of the kind here"
    assert results["dial"] == {**results["dial"], "outcome": "clear", "findings": [], "reason": ""}


def test_what_is_found_by_working_it_comes_with_the_moves_that_show_it(client: FlaskClient) -> None:
    body = {"circuit": library_circuit("hand-off-auto-seal-in-mistake").model_dump(mode="json")}
    answer = client.post("/api/check/played", json=body)
    assert answer.status_code == 200
    results = {result["rule"]: result for result in answer.get_json()["results"]}
    (finding,) = results["stop_stops"]["findings"]
    assert [(move["device"], move["operation"], move["value"]) for move in finding["moves"]] == [
        ("mode", "auto", True),
        ("sensor", "press", True),
        ("mode", "off", True),
    ]
    assert results["stop_stops"]["over"] == ""
    assert results["stop_stays"]["over"].startswith("Held in ")
    # What a run takes, and a frame tells what has changed in it: the contactor comes in and never goes out.
    run = {**body, "actions": finding["moves"], "until_us": finding["moves"][-1]["at_us"] + 400_000}
    frames = client.post("/api/simulation/run", json=run).get_json()["frames"]
    told = [frame["devices"]["contactor"]["status"] for frame in frames if "contactor" in frame["devices"]]
    assert (told[0], told[-1]) == ("dropped_out", "pulled_in")


def test_the_description_is_judged_and_what_is_done_is_proposed(client: FlaskClient) -> None:
    circuit = library_circuit("reversing-interlocked").model_dump(mode="json")
    circuit["description"] = ["when S0 is pressed, then K1 goes out", "while K2 is in, M1 runs forward", "hello"]
    for device in circuit["devices"]:
        if device["id"] == "open":
            device["params"]["role"] = "unsaid"
    answer = client.post("/api/check/played", json={"circuit": circuit}).get_json()
    lines = answer["lines"]
    assert [(line["text"], line["outcome"]) for line in lines] == [
        (circuit["description"][0], "held"),
        (circuit["description"][1], "broken"),
        ("hello", "unread"),
    ]
    assert lines[1]["reason"] == "Hold S2: M1 turns backward."
    assert [(move["device"], move["operation"]) for move in lines[1]["moves"]] == [("close", "press")]
    assert "when S2 is pressed and let go, then K2 stays in" in answer["proposed"]
    (role,) = answer["roles"]
    assert (role["device"], role["role"], role["params"]["colour"]) == ("open", "start", "black")
    described = next(result for result in answer["results"] if result["rule"] == "described")
    assert described["findings"][0]["key"] == circuit["description"][1]


def test_a_circuit_without_a_coil_has_no_lines_and_no_roles(client: FlaskClient) -> None:
    circuit = {**library_circuit("reversing-interlocked").model_dump(mode="json"), "devices": [], "conductors": []}
    answer = client.post("/api/check/played", json={"circuit": {**circuit, "sheets": []}}).get_json()
    assert (answer["lines"], answer["proposed"], answer["roles"]) == ([], [], [])


def test_what_one_circuit_does_otherwise_than_another_is_told(client: FlaskClient) -> None:
    before = library_circuit("start-stop-overload-line").model_dump(mode="json")
    after = library_circuit("start-stop-overload-line").model_dump(mode="json")
    after["conductors"].append({**after["conductors"][0], "id": "bridge"})
    after["conductors"][-1]["a"] = {"device": "stop", "terminal": "11"}
    after["conductors"][-1]["b"] = {"device": "stop", "terminal": "12"}
    answer = client.post("/api/check/difference", json={"before": before, "after": after})
    assert answer.get_json() == {"lines": ["S0 no longer stops K1"], "reason": ""}


def test_what_is_still_being_drawn_is_marked(client: FlaskClient) -> None:
    circuit = library_circuit("start-stop-overload-line").model_dump(mode="json")
    circuit["conductors"] = circuit["conductors"][:28]
    results = client.post("/api/check", json={"circuit": circuit}).get_json()["results"]
    findings = [finding for result in results for finding in result["findings"]]
    assert findings
    assert all(finding["drawing"] for finding in findings)


def test_a_contradictory_nameplate_is_a_problem_with_its_device(client: FlaskClient) -> None:
    circuit = library_circuit("two-wire-float").model_dump(mode="json")
    next(d for d in circuit["devices"] if d["id"] == "motor")["params"]["rated_current_a"] = 9.0
    answer = client.post("/api/check", json={"circuit": circuit})
    assert answer.status_code == 422
    assert "contradicts itself" in answer.get_json()["detail"]
    assert answer.get_json()["problems"][0]["device"] == "motor"


def test_notes_are_kept_with_the_circuit(client: FlaskClient) -> None:
    circuit = library_circuit("two-wire-float").model_dump(mode="json")
    circuit["set_aside"] = [{"rule": "automatic_restart", "key": "contactor", "note": "Nobody can reach the pump"}]
    made = client.post("/api/jobs", json={"title": "With a note", "circuit": circuit}).get_json()
    kept = client.get(f"/api/jobs/{made['id']}").get_json()["circuit"]["set_aside"]
    assert kept == circuit["set_aside"]


def test_the_diagram_of_states_comes_with_the_moves_to_each(client: FlaskClient) -> None:
    body = {"circuit": library_circuit("reversing-interlocked").model_dump(mode="json")}
    answer = client.post("/api/check/diagram", json=body)
    assert answer.status_code == 200
    found = answer.get_json()
    assert [one["lines"][0] for one in found["states"]] == ["at rest", "K1 in", "K2 in", "F2 tripped"]
    assert {(arrow["of"], arrow["to"]) for arrow in found["arrows"]} >= {(0, 1), (0, 2), (1, 0), (2, 0), (1, 2), (2, 1)}
    assert [move["device"] for move in found["states"][2]["moves"]] == ["close", "close"]
    bare = client.post(
        "/api/check/diagram", json={"circuit": {**body["circuit"], "devices": [], "conductors": [], "sheets": []}}
    )
    assert bare.get_json()["states"] == []
