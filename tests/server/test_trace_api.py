"""Fault dictionaries worked out a little at a time, and advice from them."""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from typing import Any

import numpy as np
import psycopg
import pytest
from flask.testing import FlaskClient
from psycopg.rows import dict_row

from scripts.postgres import Cluster
from server.subjects.diagnosis import dictionary_store as store
from server.subjects.diagnosis.dictionaries import packed, unpacked
from tests.core.circuits import lamp
from wiretrace.diagnosis.dictionary import Shown

CIRCUIT = lamp().model_dump(mode="json")
LAMP = {"red": {"device": "h1", "terminal": "X1"}, "black": {"device": "h1", "terminal": "X2"}}


@pytest.fixture
def ready(client: FlaskClient) -> FlaskClient:
    for _ in range(60):
        progress = client.post("/api/trace/work", json={"circuit": CIRCUIT}).get_json()
        if progress["done"] >= progress["all"]:
            return client
    raise AssertionError(progress)


def advice(client: FlaskClient, *made: dict[str, Any]) -> dict[str, Any]:
    answer = client.post("/api/trace/advice", json={"circuit": CIRCUIT, "observations": list(made)})
    assert answer.status_code == 200, answer.get_json()
    found: dict[str, Any] = answer.get_json()
    return found


def seen(halt: int, device: str, text: str) -> dict[str, Any]:
    return {"halt": halt, "device": device, "text": text}


def test_without_a_dictionary_there_is_no_advice(client: FlaskClient) -> None:
    other = {**CIRCUIT, "conductors": CIRCUIT["conductors"][:3]}
    answer = client.post("/api/trace/advice", json={"circuit": other})
    assert (answer.status_code, answer.get_json()["detail"]) == (
        404,
        "The fault dictionary of this circuit is not made yet.",
    )


def test_from_what_is_seen_and_read_to_the_fault(ready: FlaskClient) -> None:
    nothing = advice(ready)
    assert nothing["halts"] == ["Under power, nothing touched", "Hold S1", "Let S1 go"]
    assert [look["label"] for look in nothing["looks"]] == ["F1", "H1"]
    dark = advice(ready, seen(1, "h1", "dark"))
    assert dark["count"] < nothing["count"]
    assert dark["taken"][0]["before"] == nothing["count"]
    found = advice(ready, seen(1, "h1", "dark"), {"halt": 1, **LAMP, "text": "230 V"})
    assert all("H1" in one["words"] for one in found["likely"] if one["fits"])
    assert 0.9 < sum(one["likelihood"] for one in found["likely"]) <= 1.0
    assert (dark["of"], dark["confirming"]) == (dark["count"], False)
    # Three are left that volts cannot part: what is advised now is to confirm that it is one of them.
    assert (found["count"], found["confirming"], found["confirmed"]) == (3, True, False)
    assert found["of"] > 3
    # What is open inside cannot be told from what is loose at its terminals by volts alone; ohms are next.
    assert {one["kind"] for one in found["next"]} <= {"look", "volts", "ohms"}


def test_what_does_not_fit_is_named_and_the_rest_goes_on(ready: FlaskClient) -> None:
    found = advice(ready, seen(1, "h1", "dark"), {"halt": 1, **LAMP, "text": "4711"})
    assert found["unfitting"] == [1]
    assert found["count"] > 0


@pytest.mark.parametrize(
    ("made", "message"),
    [
        ({"halt": 9, "device": "h1", "text": "dark"}, "there are 3 states"),
        ({"halt": 1, "device": "ghost", "text": "dark"}, "of this device nothing is seen"),
        ({"halt": 1, "text": "dark"}, "neither a device nor two terminals"),
        ({"halt": 1, **LAMP, "text": "much"}, "is no reading"),
        ({"halt": 1, "red": LAMP["red"], "black": {"device": "ghost", "terminal": "1"}, "text": "0"}, "measure across"),
    ],
)
def test_an_observation_that_cannot_be_understood_is_named(
    ready: FlaskClient, made: dict[str, Any], message: str
) -> None:
    answer = ready.post("/api/trace/advice", json={"circuit": CIRCUIT, "observations": [made]})
    assert answer.status_code == 422
    assert message in answer.get_json()["detail"]


def test_the_fault_book_has_symptom_reading_and_setting_of_every_fault(ready: FlaskClient) -> None:
    lines = ready.post("/api/trace/book.csv", json={"circuit": CIRCUIT}).get_data(as_text=True).splitlines()
    assert lines[0] == "Fault,Symptom,Told apart by,Shows,To set it on a board"
    (loose,) = [line for line in lines if line.startswith("H1:X1 is loose,")]
    assert loose.startswith("H1:X1 is loose,Hold S1: H1 dark,")
    assert loose.endswith("Lift all wires off H1:X1; keep them together.")
    book = ready.post("/api/trace/book", json={"circuit": CIRCUIT}).get_json()
    assert len(book["entries"]) == len(lines) - 1
    assert "never a short circuit" in book["caution"]


def test_a_row_comes_back_from_the_database_as_it_was() -> None:
    shown = Shown((("on", "dark"), ("on", "lit")), np.array([[0.0, 230.9]]), np.array([np.inf]))
    first, why, last = unpacked(packed([shown, "It cannot be solved.", replace(shown, ohms=np.array([5.0]))]))
    assert isinstance(first, Shown)
    assert (first.looks, first.volts.tolist(), first.ohms.tolist()) == (shown.looks, [[0.0, 230.9]], [np.inf])
    assert why == "It cannot be solved."
    assert isinstance(last, Shown)
    assert last.ohms.tolist() == [5.0]
    assert unpacked(packed(["It cannot be solved."])) == ["It cannot be solved."]
    assert unpacked(packed([])) == []


def test_two_who_keep_the_same_rows_at_once_do_not_lock_each_other_up(cluster: Cluster) -> None:
    """Each in the order of its own: the database broke one of them off, and its asker was told to come again."""
    ref = "f" * 64
    rows = {f"{number:064d}": b"row" for number in range(300)}

    def keep(order: list[str]) -> None:
        with psycopg.connect(cluster.url, row_factory=dict_row) as connection:
            store.keep(connection, ref, {name: rows[name] for name in order})

    for _ in range(5):
        with psycopg.connect(cluster.url) as connection:
            connection.execute("DELETE FROM fault_rows WHERE ref = %s", (ref,))
        with ThreadPoolExecutor(2) as pool:
            list(pool.map(keep, (list(rows), list(reversed(rows)))))
    with psycopg.connect(cluster.url, row_factory=dict_row) as connection:
        assert store.names(connection, ref) == set(rows)
