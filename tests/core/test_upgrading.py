"""From one version of a format to the next: pure steps, one after the other."""

from typing import Any

import pytest

from wiretrace.document.checked import circuit_from_data
from wiretrace.document.circuit import VERSION
from wiretrace.document.salvage import salvage
from wiretrace.document.upgrades import circuit_upgrades
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
