"""Documents that are half right: what can be read is read, all else is named."""

import json
from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from wiretrace.document.checked import check_circuit, circuit_from_data
from wiretrace.document.circuit import VERSION
from wiretrace.document.salvage import salvage
from wiretrace.errors import CircuitTooLarge, MalformedDocument
from wiretrace.library import library_circuit, library_names


def document(name: str = "start-stop-overload-line") -> dict[str, Any]:
    data: dict[str, Any] = json.loads(library_circuit(name).model_dump_json())
    return data


@pytest.mark.parametrize("name", library_names())
def test_a_sound_document_is_read_whole(name: str) -> None:
    circuit, problems = salvage(json.dumps(document(name)))
    assert problems == ()
    assert circuit == library_circuit(name)


def strange_kind(data: dict[str, Any]) -> None:
    data["devices"][-1]["kind"] = "flux_capacitor"


def broken_value(data: dict[str, Any]) -> None:
    contactor = next(device for device in data["devices"] if device["label"] == "K1")
    contactor["params"] = {"coil_voltage_v": 1e9, "polish": "high", "coil_frequency_hz": 60.0}


def wire_to_nowhere(data: dict[str, Any]) -> None:
    data["conductors"][0]["b"]["terminal"] = "99"


def second_designation(data: dict[str, Any]) -> None:
    data["devices"][-1]["label"] = data["devices"][0]["label"]


def unknown_fields(data: dict[str, Any]) -> None:
    data["author"] = "nobody"
    data["devices"][0]["mood"] = "good"


def newer(data: dict[str, Any]) -> None:
    data["version"] = 7


def no_sheets(data: dict[str, Any]) -> None:
    data["sheets"] = "none"


def strange_symbol(data: dict[str, Any]) -> None:
    data["sheets"][0]["symbols"].append({"device": "ghost", "part": "coil", "x": 1, "y": 1})
    data["sheets"][0]["symbols"][0]["x"] = 1e300


@pytest.mark.parametrize(
    ("damage", "told", "devices_lost"),
    [
        (strange_kind, "the catalogue has no flux_capacitor", 1),
        (broken_value, "K1, coil_voltage_v: is 1e+09 V; it must lie from 6 to 690 V", 0),
        (wire_to_nowhere, "has no terminal 99", 0),
        (second_designation, "there is one already", 1),
        (unknown_fields, "the field mood is not known", 0),
        (newer, f"version: is 7, read as {VERSION}", 0),
        (no_sheets, "sheets: is no list", 0),
        (strange_symbol, "nothing is known of the part coil of ghost", 0),
    ],
    ids=lambda value: value.__name__ if callable(value) else "",
)
def test_what_is_wrong_is_left_out_and_named(
    damage: Callable[[dict[str, Any]], None], told: str, devices_lost: int
) -> None:
    data = document()
    whole = len(data["devices"])
    damage(data)
    circuit, problems = salvage(json.dumps(data))
    check_circuit(circuit)
    assert len(circuit.devices) == whole - devices_lost
    assert any(told in problem.message for problem in problems)
    if damage is broken_value:
        kept = next(device for device in circuit.devices if device.label == "K1")
        assert kept.params == {"coil_frequency_hz": 60.0}


@pytest.mark.parametrize("text", ["", "null", "[]", '{"format": "other"}', "[" * 100_000, '{"format":'])
def test_what_is_no_document_is_refused(text: str) -> None:
    with pytest.raises(MalformedDocument):
        salvage(text)


def test_too_many_devices_are_refused() -> None:
    data = document()
    data["devices"] = data["devices"] * 200
    with pytest.raises(CircuitTooLarge, match="3000 devices; the limit is 2000"):
        salvage(json.dumps(data))


JUNK = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=30),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
    max_leaves=6,
)


@given(st.data())
def test_junk_anywhere_gives_a_circuit_that_is_sound(data: st.DataObject) -> None:
    whole = document("two-wire-float")
    for _ in range(data.draw(st.integers(1, 4))):
        place: Any = whole
        for _ in range(data.draw(st.integers(0, 3))):
            key = data.draw(st.sampled_from(sorted(place) if isinstance(place, dict) else range(len(place))))
            if not isinstance(place[key], dict | list) or not place[key]:
                break
            place = place[key]
        key = data.draw(st.sampled_from(sorted(place) if isinstance(place, dict) else range(len(place))))
        if place is not whole or key != "format":
            place[key] = data.draw(JUNK)
    circuit, _ = salvage(json.dumps(whole))
    check_circuit(circuit)
    assert circuit_from_data(json.loads(circuit.model_dump_json())) == circuit
