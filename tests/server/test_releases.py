"""Two releases on one database: what one has worked out is never taken for its own by the other."""

import json
from typing import Any

import psycopg
import pytest
from flask.testing import FlaskClient

import server.release
import server.subjects.diagnosis.dictionaries
from scripts.postgres import Cluster
from tests.core.circuits import lamp
from wiretrace.diagnosis.hypotheses import Hypothesis, hypotheses
from wiretrace.document.circuit import Sheet
from wiretrace.sequences.sequence import Sequence
from wiretrace.simulation.assembly import Assembly
from wiretrace.work import bounded, bounded_anew

LAMP = lamp().model_dump(mode="json")


def forget() -> None:
    """As another process begins."""
    server.subjects.diagnosis.dictionaries._plans.clear()
    server.subjects.diagnosis.dictionaries._engines.clear()


def as_release(patch: pytest.MonkeyPatch, name: str) -> None:
    patch.setattr("server.release.release", lambda: name)
    forget()


def worked(client: FlaskClient) -> int:
    for count in range(1, 200):
        told = client.post("/api/trace/work", json={"circuit": LAMP}).get_json()
        if told["done"] == told["all"]:
            return count
    raise AssertionError(told)


def book(client: FlaskClient) -> dict[str, Any]:
    entries = client.post("/api/trace/book", json={"circuit": LAMP}).get_json()["entries"]
    return {entry["fault"]: entry for entry in entries}


def refs(cluster: Cluster) -> set[str]:
    with psycopg.connect(cluster.url) as connection:
        return {row[0] for row in connection.execute("SELECT ref FROM fault_dictionaries").fetchall()}


def test_a_release_with_one_fault_more_shows_every_fault_its_own(
    client: FlaskClient, cluster: Cluster, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The list of faults begins with another one, so each has another number than before."""
    every = hypotheses(Assembly(lamp()))

    def without_some(circuit: Any) -> tuple[Hypothesis, ...]:
        return tuple(one for number, one in enumerate(every) if number == 0 or number > 3)

    monkeypatch.setattr(server.subjects.diagnosis.dictionaries, "hypotheses", without_some)
    as_release(monkeypatch, "one")
    worked(client)
    before = book(client)
    monkeypatch.setattr(server.subjects.diagnosis.dictionaries, "hypotheses", hypotheses)
    forget()
    worked(client)
    after = book(client)
    assert len(after) == len(before) + 3
    assert {name: entry["symptom"] for name, entry in after.items() if name in before} == {
        name: entry["symptom"] for name, entry in before.items()
    }
    # The list alone tells the two apart; a release with the same list and other code is another one too.
    assert len(refs(cluster)) == 2
    as_release(monkeypatch, "two")
    assert client.post("/api/trace/advice", json={"circuit": LAMP}).status_code == 404
    worked(client)
    assert len(refs(cluster)) == 3
    as_release(monkeypatch, "one")
    assert client.post("/api/trace/advice", json={"circuit": LAMP}).status_code == 200


def test_a_row_is_called_by_its_faults(client: FlaskClient) -> None:
    forget()
    plan = server.subjects.diagnosis.dictionaries.plan_of(lamp(), Sequence(steps=()))
    some = server.subjects.diagnosis.dictionaries._plan(
        server.subjects.diagnosis.dictionaries.Task(
            plan.task.circuit, plan.task.halts, plan.task.every[:1] + plan.task.every[4:]
        )
    )

    def named(one: server.subjects.diagnosis.dictionaries.Plan) -> dict[str, str]:
        groups = (repr([one.task.rows[number][1] for number in alike]) for alike in one.task.alike)
        return dict(zip(groups, one.names, strict=True))

    here, there = named(plan), named(some)
    assert len(set(plan.names)) == len(plan.names)
    assert {faults for faults in here if here[faults] == there.get(faults)} == here.keys() & there.keys()
    assert {here[faults] for faults in here.keys() - there.keys()}.isdisjoint(some.names)
    assert here.keys() != there.keys()


def test_what_has_no_say_is_neither_in_the_name_nor_in_the_work(client: FlaskClient) -> None:
    forget()
    other = lamp().model_copy(
        update={"title": "Else", "sheets": (Sheet(id="spare", title="Spare", kind="power"),), "set_aside": ()}
    )
    plans = [server.subjects.diagnosis.dictionaries.plan_of(circuit, Sequence(steps=())) for circuit in (lamp(), other)]
    assert plans[0].ref == plans[1].ref
    forget()
    assert server.subjects.diagnosis.dictionaries.plan_of(other, Sequence(steps=())).task.circuit.sheets == ()
    longer = lamp().model_copy(
        update={"conductors": tuple(one.model_copy(update={"length_m": 99.0}) for one in lamp().conductors)}
    )
    assert server.subjects.diagnosis.dictionaries.plan_of(longer, Sequence(steps=())).ref != plans[0].ref


def test_the_release_is_what_the_code_is(monkeypatch: pytest.MonkeyPatch, tmp_path: Any) -> None:
    assert server.release.release() == server.release.release()
    assert len(server.release.release()) == 64
    for text in ("a = 1\n", "a = 2\n"):
        (tmp_path / "one.py").write_text(text, encoding="utf-8")
        monkeypatch.setattr(server.release, "_ROOTS", (tmp_path,))
        server.release.release.cache_clear()
        monkeypatch.setattr(server.release, f"seen_{text[4]}", server.release.release(), raising=False)
    server.release.release.cache_clear()
    assert server.release.seen_1 != server.release.seen_2  # type: ignore[attr-defined]


def test_every_row_may_take_the_same_whatever_the_request_did_before() -> None:
    def long() -> bytes:
        sum(range(10_000_000))
        return b"made"

    made: dict[int, bytes] = {}
    with bounded(5, "This"):
        server.subjects.diagnosis.dictionaries.ROW_S, kept = 0.02, server.subjects.diagnosis.dictionaries.ROW_S  # type: ignore[misc]
        try:
            made = server.subjects.diagnosis.dictionaries.worked_for_a_while({0}, lambda number: long(), b"too long")
        finally:
            server.subjects.diagnosis.dictionaries.ROW_S = kept  # type: ignore[misc]
    assert made == {0: b"too long"}
    with bounded(0.1, "This"), bounded_anew(5):
        assert long() == b"made"


def test_a_plan_is_the_same_text_in_every_process() -> None:
    """Names are made of what faults print as: nothing of it may hang on where they lie in memory."""
    assert " at 0x" not in repr(hypotheses(Assembly(lamp())))
    assert json.dumps(repr(hypotheses(Assembly(lamp())))) == json.dumps(repr(hypotheses(Assembly(lamp()))))
