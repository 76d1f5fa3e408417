"""The simulation over HTTP: any worker answers any request from circuit and state alone."""

import gc
import weakref
from typing import Any

import pytest
from flask.testing import FlaskClient

from server.subjects.simulation.frames import Frames
from wiretrace.errors import SingularNetwork
from wiretrace.faults.kinds.elements import Open
from wiretrace.library import library_circuit
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import frame_of, initial_state
from wiretrace.simulation.engine import run as core_run
from wiretrace.simulation.state import Action
from wiretrace.transport.report import Probes, run_data

CIRCUIT = library_circuit("start-stop-overload-line").model_dump(mode="json")
COIL = {"red": {"device": "contactor", "terminal": "A1"}, "black": {"device": "contactor", "terminal": "A2"}}
START = {"red": {"device": "start", "terminal": "13"}, "black": {"device": "start", "terminal": "14"}}


def press(at_us: int, device: str, value: bool = True) -> dict[str, Any]:
    return {"at_us": at_us, "device": device, "operation": "press", "value": value}


def run(client: FlaskClient, circuit: Any = CIRCUIT, **body: Any) -> dict[str, Any]:
    answer = client.post("/api/simulation/run", json={"circuit": circuit, "until_us": 1_000_000, **body})
    assert answer.status_code == 200, answer.get_json()
    data: dict[str, Any] = answer.get_json()
    data["frames"] = whole_frames(data["frames"])
    return data


def whole_frames(frames: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Frames with all that holds in them: an answer leaves out what is as it was in the frame before."""
    found: list[dict[str, Any]] = []
    for frame in frames:
        last = found[-1] if found else {"state": {"devices": {}}, "devices": {}, "terminals": {}, "conductors_a": {}}
        merged = {name: {**last[name], **frame[name]} for name in ("devices", "terminals", "conductors_a")}
        state = {**frame["state"], "devices": {**last["state"]["devices"], **frame["state"]["devices"]}}
        found.append({**frame, **merged, "state": state})
    return found


def test_a_press_of_start_seals_in_and_the_reading_follows(client: FlaskClient) -> None:
    data = run(client, actions=[press(0, "start"), press(300_000, "start", False)], probes=[COIL])
    first, last = data["frames"][0], data["frames"][-1]
    assert (first["devices"]["contactor"]["says"], last["devices"]["contactor"]["says"]) == ("out", "in")
    assert last["devices"]["contactor"]["closed"]["13-14"] is True
    assert last["devices"]["contactor"]["closed"]["21-22"] is False
    assert [frame["readings"][0]["display"] for frame in (first, last)] == ["0.000", "230.7"]
    assert last["terminals"]["contactor"]["A1"] == {"standing": "live", "pole": "L1"}
    assert last["conductors_a"]["p1-motor"] == pytest.approx(3.190, abs=0.002)


def test_a_state_taken_up_again_gives_what_one_run_gives(client: FlaskClient) -> None:
    whole = run(client, actions=[press(100_000, "start"), press(600_000, "start", False)])
    half = run(client, actions=[press(100_000, "start")], until_us=500_000)
    rest = run(client, state=half["end"], actions=[press(600_000, "start", False)])
    for device, values in whole["end"]["devices"].items():
        for name, value in values.items():
            expected = pytest.approx(value, rel=1e-12) if isinstance(value, float) else value
            assert rest["end"]["devices"][device][name] == expected, (device, name)
    last, other = rest["frames"][-1]["devices"], whole["frames"][-1]["devices"]
    for device, seen in last.items():
        figures = [figure["value"] for figure in seen.pop("figures")]
        assert figures == pytest.approx([figure["value"] for figure in other[device].pop("figures")], rel=1e-9)
    assert last == other


def test_frames_leave_out_what_has_not_changed_and_nothing_else(client: FlaskClient) -> None:
    body = {"circuit": CIRCUIT, "until_us": 1_000_000, "actions": [press(0, "start")], "probes": [COIL]}
    sent = client.post("/api/simulation/run", json=body).get_json()["frames"]
    assembly = Assembly(library_circuit("start-stop-overload-line"))
    trajectory = core_run(assembly, initial_state(assembly), [Action(0, "start", "press")], 1_000_000)
    expected = run_data(assembly, trajectory, [Probes.model_validate(COIL)]).model_dump(mode="json")["frames"]
    assert whole_frames(sent) == expected
    assert len(str(sent)) < 0.6 * len(str(expected))


def test_a_circuit_is_sent_once_and_named_from_then_on(client: FlaskClient) -> None:
    first = run(client)
    asked = {"ref": first["ref"], "state": first["end"]}
    again = client.post("/api/simulation/run", json={**asked, "until_us": 2_000_000})
    assert again.get_json()["ref"] == first["ref"]
    read = client.post("/api/simulation/read", json={**asked, "probes": [START]}).get_json()
    assert read["readings"][0]["display"] == "230.9"
    why = client.post("/api/simulation/explain", json={**asked, "probes": START}).get_json()
    assert why["reading"]["display"] == "230.9"


@pytest.mark.parametrize(
    ("path", "more"), [("run", {"until_us": 1}), ("read", {"probes": [START]}), ("explain", {"probes": START})]
)
def test_a_name_that_is_not_known_asks_for_the_circuit(client: FlaskClient, path: str, more: dict[str, Any]) -> None:
    answer = client.post(f"/api/simulation/{path}", json={"ref": "0" * 64, **more})
    assert (answer.status_code, answer.data) == (204, b"")
    both = client.post(f"/api/simulation/{path}", json={"ref": "0" * 64, "circuit": CIRCUIT, **more})
    assert (both.status_code, client.post(f"/api/simulation/{path}", json=more).status_code) == (422, 422)


def test_circuits_that_differ_in_what_matters_have_different_names(client: FlaskClient) -> None:
    name = run(client)["ref"]
    stray = {"id": "s", "a": {"device": "start", "terminal": "13"}, "b": {"device": "start", "terminal": "14"}}
    longer = [{**wire, "length_m": 50.0} for wire in CIRCUIT["conductors"]]
    assert run(client, {**CIRCUIT, "title": "Another", "sheets": []})["ref"] == name
    assert run(client, {**CIRCUIT, "strays": [{**stray, "capacitance_nf": 5.0}]})["ref"] != name
    assert run(client, {**CIRCUIT, "conductors": longer})["ref"] != name
    assert run(client, {**CIRCUIT, "convention": "nema"})["ref"] != name


def test_a_circuit_with_a_fault_is_another_than_without(client: FlaskClient) -> None:
    loose = {"faults": [{"kind": "loose_terminal", "place": "contactor", "terminal": "A1"}]}
    shown = []
    for given in ({}, loose, {}):
        answer = client.post("/api/simulation/read", json={"circuit": CIRCUIT, "probes": [START], **given})
        shown.append(answer.get_json()["readings"][0]["voltage_v"])
    assert shown[0] == shown[2] != shown[1]


FLASHER: dict[str, Any] = {
    "format": "wiretrace/circuit",
    "version": 1,
    "title": "Two timers that start each other",
    "devices": [
        {"id": "g", "kind": "supply_three_phase", "label": "G1"},
        {"id": "a", "kind": "timer_relay", "label": "K1", "params": {"delay_s": 0.4}},
        {"id": "b", "kind": "timer_relay", "label": "K2", "params": {"delay_s": 0.3}},
    ],
    "conductors": [
        {"id": f"w{number}", "a": {"device": a, "terminal": x}, "b": {"device": b, "terminal": y}}
        for number, (a, x, b, y) in enumerate(
            [("g", "L1", "b", "15"), ("b", "16", "a", "A1"), ("a", "A2", "g", "N"), ("g", "L1", "a", "15"),
             ("a", "18", "b", "A1"), ("b", "A2", "g", "N")]
        )
    ],
}  # fmt: skip


def test_a_long_run_comes_in_pages_that_join_into_one(client: FlaskClient) -> None:
    day_us = 24 * 3_600_000_000
    answer = client.post("/api/simulation/run", json={"circuit": FLASHER, "until_us": day_us})
    assert len(answer.data) < 5_000_000
    first = answer.get_json()
    assert 0 < first["end"]["time_us"] == first["frames"][-1]["time_us"] < day_us
    second = run(client, FLASHER, state=first["end"], until_us=day_us)
    first["frames"] = whole_frames(first["frames"])
    for name in ("time_us", "devices", "terminals", "conductors_a", "state"):
        assert second["frames"][0][name] == first["frames"][-1][name]
    assert second["end"]["time_us"] > first["end"]["time_us"]


def test_reading_and_reason_in_a_given_state(client: FlaskClient) -> None:
    state = run(client)["end"]
    answer = client.post("/api/simulation/read", json={"circuit": CIRCUIT, "state": state, "probes": [START, COIL]})
    assert [reading["display"] for reading in answer.get_json()["readings"]] == ["230.9", "0.000"]
    why = client.post("/api/simulation/explain", json={"circuit": CIRCUIT, "state": state, "probes": START}).get_json()
    assert why["red"]["standing"] == "live"
    assert why["black"]["standing"] == "load"
    assert [load["device"] for load in why["black"]["loads"]] == ["contactor"]
    assert why["meter_completes"] is True
    assert "coil K1" in why["sentences"][1]
    assert {"S1", "K1", "S0", "F2", "F1", "Q1"} == {item["label"] for item in why["influences"]}


@pytest.mark.parametrize(
    ("change", "status", "kind", "words"),
    [
        ({"circuit": {**CIRCUIT, "version": CIRCUIT["version"] + 1}}, 422, "newer-version", "newer Wire Trace"),
        ({"circuit": {"format": "something"}}, 422, "malformed-document", "wiretrace/circuit"),
        ({"circuit": {**CIRCUIT, "devices": [{"id": "x"}]}}, 422, "malformed-document", "not shaped"),
        ({"circuit": {**CIRCUIT, "devices": CIRCUIT["devices"] * 200}}, 413, "circuit-too-large", "limit is 2000"),
        ({"probes": [{**COIL, "red": {"device": "contactor", "terminal": "99"}}]}, 422, "unknown-target", "K1:99"),
        ({"actions": [press(0, "nobody")]}, 422, "unknown-target", "nobody"),
        ({"actions": [press(2_000_000, "start")]}, 422, "unknown-target", "outside the run"),
        ({"until_us": -1}, 422, "malformed-request", "until_us"),
        ({"state": {"time_us": 0, "devices": {"contactor": {"position": 1}}}}, 422, "unknown-target", "does not fit"),
    ],
)
def test_bad_input_is_named(client: FlaskClient, change: dict[str, Any], status: int, kind: str, words: str) -> None:
    answer = client.post("/api/simulation/run", json={"circuit": CIRCUIT, "until_us": 1_000_000, **change})
    body = answer.get_json()
    assert (answer.status_code, body["type"]) == (status, f"/problems/{kind}")
    assert answer.content_type == "application/problem+json"
    assert words in body["detail"]


def test_a_kind_that_the_catalogue_lacks_is_told_with_its_device(client: FlaskClient) -> None:
    circuit = {
        **CIRCUIT,
        "devices": [{**CIRCUIT["devices"][0], "kind": "flux_capacitor"}],
        "conductors": [],
        "sheets": [],
    }
    body = client.post("/api/simulation/run", json={"circuit": circuit, "until_us": 1}).get_json()
    assert body["problems"][0]["code"] == "unknown_kind"
    assert body["problems"][0]["device"] == "supply"


def test_a_probe_on_what_was_just_shown_solves_nothing_anew(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    data = run(client, actions=[press(0, "start")])
    state = data["frames"][-1]["state"]
    body = {"circuit": CIRCUIT, "state": state, "probes": [COIL]}
    other = {**body, "state": {**state, "time_us": state["time_us"] + 1}}
    solved = client.post("/api/simulation/read", json=other).get_json()["readings"][0]

    def never(*_: object) -> None:
        raise SingularNetwork("solved again")

    monkeypatch.setattr("server.subjects.simulation.frames.frame_of", never)
    shown = client.post("/api/simulation/read", json=body).get_json()["readings"][0]
    assert shown == {**solved, "voltage_v": pytest.approx(solved["voltage_v"], rel=1e-12)}
    # Another state at the same time is another frame.
    forged = {**state, "devices": {**state["devices"], "start": {**state["devices"]["start"], "position": 0}}}
    answer = client.post("/api/simulation/read", json={**body, "state": forged})
    assert answer.get_json()["detail"] == "solved again"


def test_remembered_frames_are_bounded_and_keep_no_circuit_alive() -> None:
    frames = Frames(most_bytes=1_500_000)
    assembly = Assembly(library_circuit("start-stop-overload-line"))
    done = core_run(assembly, initial_state(assembly), [Action(0, "start", "press")], 1_000_000)
    frames.keep(assembly, done.frames)
    last = done.frames[-1]
    assert frames.at(assembly, last.state) is last
    assert frames.at(assembly, done.frames[0].state) is not done.frames[0]
    gone = weakref.ref(assembly)
    del assembly
    gc.collect()
    assert gone() is None


def test_a_frame_is_of_its_assembly_and_not_of_one_that_lies_where_that_lay() -> None:
    """What is gone leaves its place in memory to others, and with it the number by which it was called."""
    frames = Frames()
    sound = Assembly(library_circuit("start-stop-overload-line"))
    frame = frame_of(sound, initial_state(sound))
    faulty = sound.with_faults((Open("contactor", "coil"),))
    frames.keep(sound, [frame])
    (key,) = frames._known
    frames._known[id(faulty), key[1]] = frames._known.pop(key)
    assert frames.at(faulty, frame.state) is not frame
    assert frames.at(faulty, frame.state).point is not frame.point


def test_instruments_are_read_in_the_order_asked_and_reasons_come_when_asked_for(client: FlaskClient) -> None:
    body = {
        "circuit": CIRCUIT,
        "measures": [{"instrument": "voltmeter", **START}, {"instrument": "ohmmeter", **START}],
    }
    volts, ohms = client.post("/api/simulation/measure", json=body).get_json()["measured"]
    assert (volts["shown"]["display"], volts["shown"]["unit"], volts["reason"]) == ("230.9", "V AC", "")
    assert ohms["shown"]["refused"] is True
    wire = CIRCUIT["conductors"][0]["id"]
    clamp = {"circuit": CIRCUIT, "measures": [{"instrument": "clamp", "conductors": [wire]}], "why": True}
    answer = client.post("/api/simulation/measure", json=clamp).get_json()["measured"][0]
    assert answer["shown"]["unit"] == "A"
    assert answer["reason"]


def test_a_map_shows_every_terminal_to_a_reference(client: FlaskClient) -> None:
    body = {"circuit": CIRCUIT, "reference": {"device": "supply", "terminal": "N"}}
    found = client.post("/api/simulation/map", json=body).get_json()["potentials"]
    shown = {f"{one['end']['device']}:{one['end']['terminal']}": one["display"] for one in found}
    assert (shown["start:13"], shown["start:14"], shown["supply:N"]) == ("230.9", "0.001", "0.000")
    assert shown["supply:L2"] == "230.9"
    nowhere = {**body, "reference": {"device": "supply", "terminal": "X"}}
    assert client.post("/api/simulation/map", json=nowhere).status_code == 422


def test_differences_tell_what_a_fault_changes(client: FlaskClient) -> None:
    fault = {"kind": "open", "place": "contactor", "branch": "coil"}
    press = {"at_us": 1_000_000, "device": "start", "operation": "press"}
    body = {"circuit": CIRCUIT, "faults": [fault], "actions": [press], "until_us": 2_000_000}
    first = client.post("/api/simulation/first-differences", json=body).get_json()["differences"][0]
    assert (first["device"], first["faulty"]) == ("contactor", "out")
