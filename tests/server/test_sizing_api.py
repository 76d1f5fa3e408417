"""Sizing over HTTP: worked out in one request, kept with the job, carried into the circuit."""

import itertools
import time
from typing import Any

import psycopg
import pytest
from flask.testing import FlaskClient

from scripts.postgres import Cluster
from tests.server.saving import save
from wiretrace.library import library_circuit

PUMP = {"power": "7.5 kW", "voltage": "400", "current": "14.5", "length": "50"}
COUNT = itertools.count(1)
CIRCUIT = library_circuit("start-stop-overload-line").model_dump(mode="json")


def size(client: FlaskClient, **more: Any) -> Any:
    answer = client.post("/api/size", json={"sizing": {"fields": PUMP, **more}})
    assert answer.status_code == 200, answer.get_json()
    return answer.get_json()


def test_the_form_tells_fields_schools_and_sizes(client: FlaskClient) -> None:
    form = client.get("/api/size/form").get_json()
    assert [field["name"] for field in form["fields"]][:3] == ["power", "voltage", "connection"]
    assert form["series"]["breakers-iec"].startswith("rating_a\n1\n")


@pytest.mark.alone
def test_everything_comes_in_one_answer_within_a_tenth_of_a_second(client: FlaskClient) -> None:
    size(client)
    took = []
    for kw in ("7.5", "11", "5.5", "4", "3"):
        begun = time.perf_counter()
        found = size(client, fields={**PUMP, "power": kw, "current": ""})
        took.append(time.perf_counter() - begun)
    assert sorted(took)[2] < 0.25
    assert found["lines"]
    assert found["beside"]
    assert {curve["name"] for curve in found["chart"]["curves"]} >= {
        "start",
        "overload",
        "breaker_curve",
        "limit",
        "cable",
    }
    assert "Local codes" in found["caution"]


def test_own_figures_are_judged_and_those_that_cannot_be_read_are_said(client: FlaskClient) -> None:
    found = size(client, own={"dial": "12.3", "breaker_rating": "16 A", "locked": "lots"})
    lines = {line["key"]: line for line in found["lines"]}
    assert lines["dial"]["verdict"]["kind"] == "slip"
    assert lines["breaker_rating"]["verdict"]["says"].startswith("The next size down was taken")
    assert lines["calculated"]["verdict"] is None
    assert [trouble["field"] for trouble in found["troubles"] if trouble["error"]] == ["own.locked"]


def test_what_nobody_has_filled_in_begins_as_the_motor_of_the_circuit(client: FlaskClient) -> None:
    body = {"title": "Pump", "template": "star-delta-relay"}
    job = client.post("/api/jobs", json=body).get_json()["id"]
    place = f"/api/jobs/{job}/sizing"
    found = client.get(place).get_json()
    assert (found["version"], found["sizing"]["schools"]) == (0, {})
    assert (
        found["sizing"]["fields"] | {"power": "7.5 kW", "start": "star_delta", "length": "30 m"}
        == (found["sizing"]["fields"])
    )
    # Once somebody has, that stands, and be it nothing.
    client.put(place, json=save(0, "w", next(COUNT), sizing={}))
    assert client.get(place).get_json()["sizing"]["fields"] == {}
    american = client.post("/api/jobs", json={"title": "Pump", "template": "control-transformer-480-120"}).get_json()[
        "id"
    ]
    circuit = client.get(f"/api/jobs/{american}").get_json()["circuit"]
    begun = client.get(f"/api/jobs/{american}/sizing").get_json()["sizing"]
    assert begun["schools"] == ({"sizes": "na"} if circuit["convention"] == "nema" else {})
    told = client.post("/api/size/carry", json={"sizing": {}, "circuit": circuit}).get_json()
    assert [one["label"] for one in told["motors"]] == ["M1"]
    assert told["motors"][0]["fields"] == begun["fields"]
    empty = client.post("/api/jobs", json={"title": "Nothing drawn"}).get_json()["id"]
    assert client.get(f"/api/jobs/{empty}/sizing").get_json()["sizing"]["fields"] == {}


def test_it_is_kept_with_the_job_and_two_windows_do_not_overwrite_each_other(client: FlaskClient) -> None:
    job = client.post("/api/jobs", json={"title": "Pump"}).get_json()["id"]
    place = f"/api/jobs/{job}/sizing"
    assert client.get(place).get_json()["version"] == 0
    sizing = {"fields": PUMP, "schools": {"dial": "above"}, "own": {"dial": "15"}}
    assert client.put(place, json=save(0, "w", next(COUNT), sizing=sizing)).get_json() == {"version": 1}
    assert client.put(place, json=save(1, "w", next(COUNT), sizing=sizing)).get_json() == {"version": 2}
    late = client.put(place, json=save(1, "x", next(COUNT), sizing={}))
    behind = client.put(place, json=save(1, "w", 1, sizing={}))
    assert (behind.status_code, behind.get_json()) == (200, {"version": 2})
    assert (late.status_code, "another window" in late.get_json()["detail"]) == (409, True)
    assert client.put(place, json=save(0, "x", next(COUNT), sizing={})).status_code == 409
    kept = client.get(place).get_json()
    assert (kept["version"], kept["sizing"]["fields"], kept["sizing"]["own"]) == (2, PUMP, {"dial": "15"})
    gone = client.put("/api/jobs/999999999/sizing", json=save(0, "w", next(COUNT), sizing={}))
    assert gone.status_code == 404


def test_what_it_was_before_is_kept_for_every_ten_minutes(client: FlaskClient, cluster: Cluster) -> None:
    job = client.post("/api/jobs", json={"title": "Pump"}).get_json()["id"]
    place = f"/api/jobs/{job}/sizing"
    assert client.get(f"{place}/earlier").get_json() == {"versions": []}

    def kept_as(based_on: int, power: str) -> None:
        sizing = {"fields": {**PUMP, "power": power}}
        assert client.put(place, json=save(based_on, "w", next(COUNT), sizing=sizing)).status_code == 200

    def age(version: int, minutes: int) -> None:
        with psycopg.connect(cluster.url) as connection:
            connection.execute(
                "UPDATE sizing_versions SET kept_at = kept_at - make_interval(mins => %s)"
                " WHERE job_id = %s AND version = %s",
                (minutes, job, version),
            )

    kept_as(0, "5.5 kW")
    age(1, 30)
    kept_as(1, "7.5 kW")
    # Of what is saved within the same ten minutes, only the last is kept.
    age(2, 15)
    kept_as(2, "8 kW")
    kept_as(3, "9 kW")
    kept_as(4, "11 kW")
    found = client.get(f"{place}/earlier").get_json()["versions"]
    assert [one["version"] for one in found][-2:] == [2, 1]
    assert set(range(3, 5)) >= {one["version"] for one in found[:-2]}
    assert found[-1]["plate"] == "5.5 kW, 400, 14.5"
    then = client.get(f"{place}/earlier/2").get_json()
    assert then["sizing"]["fields"]["power"] == "7.5 kW"
    assert client.get(f"{place}/earlier/77").status_code == 404
    # To take it back is to save it: nothing that came after is lost.
    assert client.put(place, json=save(5, "w", next(COUNT), sizing=then["sizing"])).get_json() == {"version": 6}
    client.delete(f"/api/jobs/{job}")
    assert client.get(f"{place}/earlier").get_json() == {"versions": []}


def test_what_the_circuit_has_otherwise(client: FlaskClient) -> None:
    answer = client.post("/api/size/carry", json={"sizing": {"fields": PUMP}, "circuit": CIRCUIT}).get_json()
    found = {(one["device"] or one["conductor"], one["name"]): one for one in answer["proposals"]}
    assert found["overload", "dial_a"]["then"] == 14.5
    assert found["overload", "dial_a"]["words"] == "F2, dial: 3.4 A → 14.5 A"
    assert sum(name == "length_m" for _, name in found) == 3
    nothing = client.post("/api/size/carry", json={"sizing": {"fields": {}}, "circuit": CIRCUIT}).get_json()
    assert nothing["proposals"] == []
    # The contactor takes 8 VA sealed and 60 at the pull-in, three lamps 2.4 VA each.
    assert (answer["coil_sealed_va"], answer["coil_inrush_va"]) == (15.2, 60.0)


def test_a_job_that_is_not_as_it_was_sized_says_where_when_it_is_checked(client: FlaskClient) -> None:
    job = client.post("/api/jobs", json={"title": "Pump"}).get_json()["id"]

    def sized() -> Any:
        results = client.post("/api/check", json={"circuit": CIRCUIT, "job": job}).get_json()["results"]
        return next((one for one in results if one["rule"] == "sizing"), None)

    assert sized() is None
    client.put(
        f"/api/jobs/{job}/sizing",
        json=save(0, "w", next(COUNT), sizing={"fields": PUMP}),
    )
    found = sized()
    assert found["outcome"] == "found"
    assert {"F2, dial: 3.4 A → 14.5 A."} <= {one["message"] for one in found["findings"]}
    assert next(one["device"] for one in found["findings"] if one["key"] == "overload/dial_a") == "overload"
    as_it_is = {"power": "1.5 kW", "voltage": "400", "current": "3.4", "speed": "1430", "locked_ratio": "5.5"}
    as_it_is |= {"power_factor": "0.81", "efficiency": "79", "length": "18 m", "area": "1.5"}
    client.put(
        f"/api/jobs/{job}/sizing",
        json=save(1, "w", next(COUNT), sizing={"fields": as_it_is}),
    )
    left = {one["key"] for one in sized()["findings"]}
    # What was chosen larger than the smallest size stays to be looked at; plate and dial agree.
    assert not any(key.startswith(("motor/", "overload/")) for key in left), left


def test_the_sheet_as_csv(client: FlaskClient) -> None:
    text = client.post("/api/size/sheet.csv", json={"sizing": {"fields": PUMP}}).get_data(as_text=True)
    assert "Dial of the overload relay" in text
    assert "Local codes and the maker's data come first." in text


def test_schools_that_are_none_and_sizes_that_are_wrong(client: FlaskClient) -> None:
    refused = client.post("/api/size", json={"sizing": {"schools": {"dial": "mine"}}})
    assert (refused.status_code, "there is no rule mine of dial" in refused.get_json()["detail"]) == (422, True)
    found = size(client, series={"breakers-iec": "rating_a\n10\n6\n"})
    assert "sizes must rise" in next(one["message"] for one in found["troubles"] if one["field"] == "breakers-iec")
