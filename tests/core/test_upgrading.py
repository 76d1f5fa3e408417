"""From one version of a format to the next: pure steps, one after the other."""

from typing import Any

import pytest

from wiretrace.catalogue.registry import KINDS
from wiretrace.document.checked import circuit_from_data
from wiretrace.document.circuit import VERSION
from wiretrace.document.salvage import salvage
from wiretrace.document.upgrades import RENAMED, circuit_upgrades, upgraded_fault
from wiretrace.errors import NewerVersion
from wiretrace.upgrading import Upgrades


def document(**params: Any) -> dict[str, Any]:
    device = {"id": "k", "kind": "contactor", "label": "K1", "params": params}
    return {"format": "wiretrace/circuit", "version": 1, "title": "t", "devices": [device]}


def params_of(data: dict[str, Any]) -> Any:
    return circuit_from_data(data).devices[0].params


def test_steps_follow_each_other_and_leave_what_they_were_given() -> None:
    upgrades = Upgrades("note", lambda data: {"a": data["a"] + 1}, lambda data: {"b": data["a"]})
    given = {"a": 1}
    assert upgrades(given) == {"b": 2, "version": 3}
    assert given == {"a": 1}
    assert upgrades({"a": 5, "version": 2}) == {"b": 5, "version": 3}
    assert upgrades({"b": 5, "version": 3}) == {"b": 5, "version": 3}
    with pytest.raises(NewerVersion, match="note has version 4 of the format; this program reads up to 3"):
        upgrades({"version": 4})


@pytest.mark.parametrize("odd", [None, [], "x", {"version": "1"}, {"version": True}, {"version": 0}, {"version": 1.5}])
def test_what_is_no_document_is_left_to_whoever_reads_it(odd: Any) -> None:
    assert Upgrades("note", lambda data: {"changed": True})(odd) == odd


def test_a_coil_for_direct_current_keeps_what_it_drops_out_at() -> None:
    assert params_of(document(coil_kind="DC", drop_out_percent=12.0)) == {
        "coil_kind": "DC",
        "drop_out_dc_percent": 12.0,
    }
    # One that had both meant the new one; a coil for alternating current is as it was.
    both = params_of(document(coil_kind="DC", drop_out_percent=12.0, drop_out_dc_percent=20.0))
    assert both["drop_out_dc_percent"] == 20.0
    assert params_of(document(drop_out_percent=50.0)) == {"drop_out_percent": 50.0}


@pytest.mark.parametrize("devices", [None, 7, [None], [{"params": 3}], [{"params": {"coil_kind": "DC"}}]])
def test_a_document_that_is_half_right_is_upgraded_as_far_as_it_goes(devices: Any) -> None:
    data = {"format": "wiretrace/circuit", "version": 1, "devices": devices}
    assert circuit_upgrades(data)["version"] == VERSION


def test_what_is_read_of_a_broken_document_is_upgraded_too() -> None:
    import json

    data = document(coil_kind="DC", drop_out_percent=12.0) | {"conductors": "none"}
    circuit, problems = salvage(json.dumps(data))
    assert circuit.devices[0].params["drop_out_dc_percent"] == 12.0
    assert [problem.path for problem in problems] == ["conductors"]


@pytest.mark.parametrize(
    ("name", "params", "role"),
    [
        ("Stop", {"contacts": "NC"}, "stop"),
        ("Stop, station 2", {}, "stop"),
        ("Start", {}, "start"),
        ("Jog", {"contacts": "NO + NC"}, "jog"),
        ("Safety reset", {}, "reset"),
        # A whole word, and not a piece of one.
        ("Unstoppable", {}, None),
        ("Restart after a fault", {}, None),
        ("Halt", {}, None),
        ("", {}, None),
        # What was red stopped, whatever it was called, and does so still.
        ("Start", {"colour": "red"}, None),
        ("Stop", {"colour": "red"}, "stop"),
    ],
)
def test_what_the_name_of_a_button_said_is_its_role(name: str, params: dict[str, Any], role: str | None) -> None:
    button = {"id": "s", "kind": "push_button", "label": "S1", "function": name, "params": params}
    data = {"format": "wiretrace/circuit", "version": 2, "title": "t", "devices": [button]}
    assert params_of(data).get("role") == role
    # One that has a role keeps it, and of what is no button nothing is said.
    kept = {**button, "params": {**params, "role": "unsaid"}}
    assert circuit_upgrades({**data, "devices": [kept]})["devices"][0]["params"]["role"] == "unsaid"
    lamp = circuit_upgrades({**data, "devices": [{**button, "kind": "lamp"}]})["devices"][0]
    assert "role" not in lamp["params"]


@pytest.mark.parametrize(("name", "words", "id_"), [(n, a, b) for n, all_ in RENAMED.items() for a, b in all_.items()])
def test_a_choice_that_was_written_as_words_is_one_of_a_kind_and_reads_as_before(
    name: str, words: str, id_: str
) -> None:
    having = [kind for kind in KINDS.values() if any(p.name == name and id_ in p.choices for p in kind.params)]
    assert having
    for kind in having:
        param = next(p for p in kind.params if p.name == name)
        assert (param.title_of(id_), param.choice_named(words), param.choice_named(id_)) == (words, id_, id_)
        device = {"id": "x", "kind": kind.name, "label": "X1", "params": {name: words}}
        data = {"format": "wiretrace/circuit", "version": 2, "title": "t", "devices": [device]}
        assert params_of(data)[name] == id_
    kept = {"kind": "setting", "place": "x", "name": name, "value": words}
    assert upgraded_fault(kept) == {**kept, "value": id_}


def test_no_choice_in_a_document_is_a_sentence() -> None:
    """An id has no blank in it, but for those of a standard: what people read is its title."""
    ids = {str(one) for kind in KINDS.values() for param in kind.params for one in param.choices}
    assert {one for one in ids if " " in one} == {"NEMA 10", "NEMA 20", "NEMA 30"}


@pytest.mark.parametrize("odd", [None, 7, "open", {}, {"kind": "setting"}, {"kind": "setting", "name": 3, "value": []}])
def test_what_is_no_wrong_setting_stays_as_it_is(odd: Any) -> None:
    assert upgraded_fault(odd) == odd


def test_a_phase_monitor_of_an_earlier_version_keeps_both_its_delays() -> None:
    params = {"voltage_delay_s": 7.0, "under_percent": 90.0}
    monitor = {"id": "k5", "kind": "phase_monitor", "label": "K5", "params": params}
    data = {"format": "wiretrace/circuit", "version": 3, "title": "t", "devices": [monitor], "conductors": []}
    found = circuit_from_data(data).device("k5").params
    assert (found["under_delay_s"], found["over_delay_s"], found["under_percent"]) == (7.0, 7.0, 90.0)
    fault = {"kind": "setting", "place": "k5", "name": "voltage_delay_s", "value": 9.0}
    assert upgraded_fault(fault) == {**fault, "name": "under_delay_s"}
