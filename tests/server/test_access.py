"""The shared password: nobody gets in without, wrong ones wait, and there is a way out."""

import base64
import shutil
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest
from flask.testing import FlaskClient

from scripts.postgres import Cluster
from scripts.site import Site, free_port
from server.app import create_app
from server.config import Config
from server.store import sign_ins
from tests.conftest import reachable_folder

PASSWORD = "glasshouse"


@pytest.fixture
def client(cluster: Cluster, tmp_path: Path) -> Iterator[FlaskClient]:
    (tmp_path / "index.html").write_text("<title>front end</title>", encoding="utf-8")
    with psycopg.connect(cluster.url) as connection:
        connection.execute("TRUNCATE jobs, wrong_passwords, sign_ins RESTART IDENTITY CASCADE")
    app = create_app(Config(cluster.url, tmp_path, password=PASSWORD))
    yield app.test_client()
    app.extensions["database"].close()


def basic(given: str, scheme: str = "Basic") -> dict[str, str]:
    return {"Authorization": f"{scheme} {base64.b64encode(f'anybody:{given}'.encode()).decode()}"}


def give(client: FlaskClient, password: str, **headers: str) -> int:
    return client.post("/sign-in", data={"password": password}, headers=headers).status_code


def test_without_the_password_there_is_nothing(client: FlaskClient) -> None:
    for path in ("/api/jobs", "/api/health", "/assets/x.js", "/api/openapi.json", "/api/session/known"):
        refused = client.get(path)
        assert (refused.status_code, refused.get_json()["type"]) == (401, "/problems/password")
    for path in ("/", "/jobs/1/run"):
        assert client.get(path).headers["Location"] == "/sign-in"
    assert b"Password of this server" in client.get("/sign-in").data


def test_a_browser_signs_in_and_out(client: FlaskClient) -> None:
    assert give(client, PASSWORD) == 302
    assert client.get("/api/session").get_json() == {"signed_in": True}
    with client.get("/") as page:
        assert b"front end" in page.data
    cookie = client.get_cookie("wiretrace-signed-in")
    assert cookie is not None
    assert cookie.http_only
    token = cookie.value
    assert client.delete("/api/session").status_code == 204
    # What the browser has is worth nothing any more, wherever it was copied to.
    client.set_cookie("wiretrace-signed-in", token)
    assert client.get("/api/jobs").status_code == 401


def test_a_sign_in_does_not_last_for_ever(client: FlaskClient, cluster: Cluster) -> None:
    give(client, PASSWORD)
    with psycopg.connect(cluster.url) as connection:
        connection.execute("UPDATE sign_ins SET made_at = made_at - interval '13 hours'")
    assert client.get("/api/jobs").status_code == 401


def test_a_program_may_send_it_with_each_request_and_in_no_other_way(client: FlaskClient) -> None:
    assert client.get("/api/jobs", headers=basic(PASSWORD)).status_code == 200
    for scheme in ("Digest", "Bearer"):
        assert client.get("/api/jobs", headers=basic(PASSWORD, scheme)).status_code == 401
    digest = {"Authorization": f'Digest username="a", password="{PASSWORD}"'}
    assert client.get("/api/jobs", headers=digest).status_code == 401


def test_wrong_ones_wait_longer_each_time_and_the_right_one_with_them(
    client: FlaskClient, cluster: Cluster, caplog: pytest.LogCaptureFixture
) -> None:
    said = [client.get("/api/jobs", headers=basic(given)) for given in ("wrong", "", "glasshous", "glassh\u00f6use")]
    assert [answer.status_code for answer in said] == [401, 401, 401, 429]
    assert said[-1].headers["Retry-After"] == "2"
    assert client.get("/api/jobs", headers=basic(PASSWORD)).status_code == 429
    assert give(client, PASSWORD) == 429
    assert "a wrong password from 127.0.0.1; the next try in 2 s" in caplog.text
    # Another address does not wait with it, and one network of IPv6 is one address.
    assert give(client, PASSWORD, **{"X-Real-IP": "192.0.2.7"}) == 302
    client.delete_cookie("wiretrace-signed-in")
    for last in ("1", "2", "3", "4"):
        give(client, "wrong", **{"X-Real-IP": f"2001:db8::{last}"})
    assert give(client, PASSWORD, **{"X-Real-IP": "2001:db8::99"}) == 429
    assert give(client, PASSWORD, **{"X-Real-IP": "2001:db8:0:1::99"}) == 302
    client.delete_cookie("wiretrace-signed-in")

    def let_pass() -> None:
        with psycopg.connect(cluster.url) as connection:
            connection.execute("UPDATE wrong_passwords SET locked_until = now()")

    waits = []
    for _ in range(12):
        let_pass()
        waits.append(client.get("/api/jobs", headers=basic("wrong")).headers["Retry-After"])
    assert waits[:4] == ["4", "8", "16", "32"]
    assert waits[-1] == str(sign_ins.LONGEST_S)
    let_pass()
    client.delete_cookie("wiretrace-signed-in")
    assert give(client, PASSWORD) == 302
    assert give(client, "wrong") == 401


def test_a_form_of_another_site_signs_nobody_in(client: FlaskClient) -> None:
    assert give(client, PASSWORD, **{"Sec-Fetch-Site": "cross-site"}) == 403


def test_who_begins_something_is_told_from_others(client: FlaskClient) -> None:
    give(client, PASSWORD)
    job = client.post("/api/jobs", json={"title": "Pump", "template": "start-stop-overload-line"}).get_json()
    fault = {"kind": "open", "place": "contactor", "branch": "coil"}
    root = f"/api/jobs/{job['id']}/exercises"
    made = client.post(root, json={"circuit": job["circuit"], "faults": [fault]}).get_json()
    assert made["mine"]
    other = client.application.test_client()
    give(other, PASSWORD)
    assert [one["mine"] for one in other.get(root).get_json()["exercises"]] == [False]
    one = f"{root}/{made['id']}"
    step = {"known": 1, "step": {"kind": "wait", "seconds": 1}}
    for refused in (
        other.get(one),
        other.get(f"{one}/record.csv"),
        other.post(f"{one}/steps", json=step),
        other.post(f"{one}/answers", json={"known": 1, "fault": fault}),
        other.post(f"{one}/end", json={"known": 1}),
        other.delete(one),
        other.delete(f"/api/jobs/{job['id']}"),
    ):
        assert (refused.status_code, refused.get_json()["type"]) == (403, "/problems/not-yours")
    assert client.post(f"{one}/steps", json=step).status_code == 201
    client.post(f"{one}/end", json={"known": 2})
    assert other.get(one).status_code == 200
    assert client.delete(one).status_code == 204


def test_an_attempt_is_its_writers_and_the_answers_are_for_whoever_made_the_sheet(client: FlaskClient) -> None:
    give(client, PASSWORD)
    job = client.post("/api/jobs", json={"title": "Pump", "template": "start-stop-overload-line"}).get_json()
    ends = [{"device": "start", "terminal": name} for name in ("13", "14")]
    sheet = {
        "title": "Q",
        "meters": [{"letter": "A", "red": ends[0], "black": ends[1]}],
        "states": [{"title": "At rest", "at_us": 500_000}],
    }
    root = f"/api/jobs/{job['id']}/predictions"
    at = f"{root}/{client.post(root, json={'sheet': sheet, 'circuit': job['circuit']}).get_json()['id']}"
    learner = client.application.test_client()
    give(learner, PASSWORD)
    mine = f"{at}/attempts/{learner.post(f'{at}/attempts', json={'who': 'Ida'}).get_json()['id']}"
    answers = {"writer": "w", "answers": [{"state": 0, "place": "A", "text": "0", "serial": 1}]}
    assert client.post(mine, json=answers).status_code == 403
    assert client.get(f"{mine}/belief").status_code == 403
    assert learner.post(mine, json=answers).status_code == 200
    for path in ("key", "attempts"):
        assert learner.get(f"{at}/{path}").get_json()["type"] == "/problems/not-yours"
        assert client.get(f"{at}/{path}").get_json()["type"] == "/problems/withheld"
    assert learner.delete(at).status_code == 403
    assert client.delete(f"/api/jobs/{job['id']}").status_code == 403
    learner.patch(mine, json={"ended": True})
    assert client.get(f"{at}/attempts").get_json()["attempts"][0]["answers"] == {"0": {"A": "0"}}
    assert learner.get(f"{at}/key").status_code == 403
    assert [client.get(at).get_json()["told"], learner.get(at).get_json()["told"]] == [True, False]


def test_the_front_sends_no_script_to_who_has_not_signed_in(cluster: Cluster) -> None:
    run = reachable_folder()
    with psycopg.connect(cluster.url) as connection:
        connection.execute("TRUNCATE wrong_passwords, sign_ins")
    with Site(cluster.url, run, "127.0.0.1", free_port(), {"WIRETRACE_PASSWORD": PASSWORD}, workers=1) as site:
        assets = Path(__file__).parents[2] / "web" / "dist" / "assets"
        name = next(path.name for path in assets.glob("*.js"))
        address = f"{site.address}/assets/{name}"
        with pytest.raises(urllib.error.HTTPError) as refused:
            urllib.request.urlopen(address, timeout=30)
        with refused.value as answer:
            assert answer.code == 401
            assert answer.headers["Content-Type"] == "application/problem+json"
        for path in (address, f"{site.address}/api/health"):
            with urllib.request.urlopen(urllib.request.Request(path, headers=basic(PASSWORD)), timeout=30) as answer:
                assert answer.status == 200
    shutil.rmtree(run, ignore_errors=True)
