"""What counts as a proof of being dead, and what a review says where nothing had to be read."""

from typing import Any

import psycopg
from flask.testing import FlaskClient

from scripts.postgres import Cluster
from tests.server.panel import START, STEPS, Panel, end

COIL = ("contactor:A1", "contactor:A2")
NOTHING_THERE = "Proved dead between terminals that have no voltage under power either: it proves nothing."
STUCK: dict[str, Any] = {"kind": "stuck", "place": "stop"}


def running(client: FlaskClient, fault: dict[str, Any]) -> Panel:
    """The contactor is in, and the coil has its voltage."""
    panel = Panel(client, START, sequence=STEPS, faults=[fault])
    panel.step("work", device="start", operation="press", briefly=True)
    return panel


def locked_off(panel: Panel) -> None:
    panel.step("work", device="isolator", operation="switch", value=False)
    panel.step("work", device="isolator", operation="lock")


def proved(panel: Panel) -> list[str]:
    panel.step("prove_tester")
    risks: list[str] = panel.step("prove_dead", red=end(COIL[0]), black=end(COIL[1]))["risks"]
    panel.step("prove_tester")
    return risks


def test_where_a_voltage_was_read_finding_none_proves_that_it_is_gone(client: FlaskClient) -> None:
    panel = running(client, STUCK)
    assert float(panel.read("voltmeter", *reversed(COIL))["shown"]["display"]) > 200
    locked_off(panel)
    assert proved(panel) == []
    assert panel.do("/answers", fault=STUCK)["risks"] == []


def test_where_none_was_read_it_proves_nothing(client: FlaskClient) -> None:
    panel = running(client, STUCK)
    # Ohms are no voltage, and a voltage elsewhere is none here.
    panel.read("voltmeter", "start:13", "contactor:A2")
    locked_off(panel)
    assert proved(panel) == [NOTHING_THERE]
    assert panel.do("/answers", fault=STUCK)["risks"] == [
        "A part replaced before the circuit was locked out and proved dead."
    ]


def test_an_exercise_of_an_earlier_release_has_read_nothing(client: FlaskClient, cluster: Cluster) -> None:
    panel = running(client, STUCK)
    panel.read("voltmeter", *COIL)
    with psycopg.connect(cluster.url) as connection:
        connection.execute(
            "UPDATE exercises SET standing = jsonb_set(standing #- '{care,live}', '{version}', '1') WHERE id = %s",
            (panel.id,),
        )
    locked_off(panel)
    assert proved(panel) == [NOTHING_THERE]


def test_where_all_was_seen_a_review_says_that_no_reading_was_needed(client: FlaskClient) -> None:
    """A stop button that stays out when it is pressed is seen; what is read afterwards tells nothing more."""
    panel = running(client, STUCK)
    pressed = panel.step("work", device="stop", operation="press", briefly=True)
    assert pressed["events"] == []
    panel.read("voltmeter", "stop:11", "stop:12")
    panel.do("/answers", fault=STUCK)
    panel.do("/proof")
    panel.end()
    review = panel.review()
    assert (review["none_needed"], review["best"]) == (True, [])


def test_where_nothing_was_read_no_path_can_be_told(client: FlaskClient) -> None:
    panel = running(client, STUCK)
    panel.do("/answers", fault=STUCK)
    panel.end()
    review = panel.review()
    assert (review["none_needed"], review["best"]) == (False, [])
