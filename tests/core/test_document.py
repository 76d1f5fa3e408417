"""The circuit document: a round trip that loses nothing, and errors with their place."""

import json
from typing import Any

import pytest

from wiretrace.catalogue.registry import KINDS
from wiretrace.document.checked import circuit_from_data, parse_circuit
from wiretrace.document.circuit import MAX_DEVICES, Circuit
from wiretrace.document.nets import nets
from wiretrace.errors import (
    CircuitError,
    CircuitTooLarge,
    InvalidCircuit,
    MalformedDocument,
    NewerVersion,
)
from wiretrace.library import library_circuit, library_names


def data(name: str = "start-stop-overload-line") -> dict[str, Any]:
    found: dict[str, Any] = library_circuit(name).model_dump(mode="json")
    return found


@pytest.mark.parametrize("name", library_names())
def test_a_round_trip_loses_nothing(name: str) -> None:
    circuit = library_circuit(name)
    assert parse_circuit(circuit.model_dump_json()) == circuit
    assert parse_circuit(json.dumps(data(name))) == circuit


@pytest.mark.parametrize("name", library_names())
def test_every_part_and_every_wire_of_a_library_circuit_is_on_a_sheet(name: str) -> None:
    circuit = library_circuit(name)
    shown = {(symbol.device, symbol.part) for sheet in circuit.sheets for symbol in sheet.symbols}
    for device in circuit.devices:
        parts = KINDS[device.kind].structure(KINDS[device.kind].defaults() | device.params).parts
        drawn = {terminal for part in parts if (device.id, part.name) in shown for terminal in part.terminals}
        wired = {end.terminal for c in circuit.conductors for end in (c.a, c.b) if end.device == device.id}
        assert wired <= drawn, device.label


@pytest.mark.parametrize("name", library_names())
def test_no_terminal_of_a_library_circuit_has_more_than_two_wires(name: str) -> None:
    ends = [end for c in library_circuit(name).conductors for end in (c.a, c.b)]
    assert max(ends.count(end) for end in ends) <= 2


@pytest.mark.parametrize(
    ("text", "error"),
    [
        ("{", MalformedDocument),
        ("[" * 200_000, MalformedDocument),
        ("[]", MalformedDocument),
        ('{"format": "wiretrace/circuit", "version": 5}', MalformedDocument),
        ('{"format": "wiretrace/circuit", "version": 6, "title": "x"}', NewerVersion),
        ('{"format": "wiretrace/circuit", "version": 5, "title": "x", "colour": 1}', MalformedDocument),
    ],
)
def test_what_is_no_circuit_is_refused_by_name(text: str, error: type[CircuitError]) -> None:
    with pytest.raises(error):
        parse_circuit(text)


def test_a_circuit_over_the_limit_is_refused_before_it_is_read() -> None:
    with pytest.raises(CircuitTooLarge, match=f"limit is {MAX_DEVICES}"):
        circuit_from_data({**data(), "devices": [None] * (MAX_DEVICES + 1)})


def broken(change: dict[str, Any]) -> InvalidCircuit:
    with pytest.raises(InvalidCircuit) as caught:
        circuit_from_data({**data(), **change})
    return caught.value


def changed_device(index: int, **change: Any) -> dict[str, Any]:
    devices = data()["devices"]
    devices[index] = {**devices[index], **change}
    return {"devices": devices}


@pytest.mark.parametrize(
    ("change", "code", "device", "words"),
    [
        (changed_device(0, kind="windmill"), "unknown_kind", "supply", "windmill"),
        (changed_device(4, params={"dial_a": 1e9}), "value_out_of_range", "overload", "from 0.1 to 630 A"),
        (changed_device(4, params={"dial_a": "3"}), "value_out_of_range", "overload", "must be a number"),
        (changed_device(4, params={"dial_a": True}), "value_out_of_range", "overload", "must be a number"),
        (changed_device(4, params={"trip_class": "12"}), "value_out_of_range", "overload", "10A, 10, 20, 30"),
        (changed_device(4, params={"automatic_reset": 1}), "value_out_of_range", "overload", "true or false"),
        (changed_device(4, params={"dial_v": 3.0}), "unknown_parameter", "overload", "has no dial_v"),
        (changed_device(5, label="K1"), "duplicate_label", "contactor", "called K1"),
        (changed_device(5, id="start"), "duplicate_id", "start", "id start"),
    ],
)
def test_contradictions_are_told_with_device_and_reason(
    change: dict[str, Any], code: str, device: str, words: str
) -> None:
    problem = next(p for p in broken(change).problems if p.code == code)
    assert problem.device == device
    assert words in problem.message


def test_wires_to_nothing_are_told_with_the_wire() -> None:
    conductors = data()["conductors"]
    conductors[0]["a"] = {"device": "ghost", "terminal": "1"}
    conductors[1]["b"] = {"device": "contactor", "terminal": "53"}
    conductors[2]["a"] = conductors[2]["b"]
    found = {(p.code, p.conductor) for p in broken({"conductors": conductors}).problems}
    ids = [c["id"] for c in conductors]
    assert found == {
        ("unknown_device", ids[0]),
        ("unknown_terminal", ids[1]),
        ("same_terminal", ids[2]),
    }


def test_a_stray_path_needs_a_value() -> None:
    ends = {"a": {"device": "supply", "terminal": "L1"}, "b": {"device": "supply", "terminal": "PE"}}
    (problem,) = broken({"strays": [{"id": "s1", **ends}]}).problems
    assert (problem.code, problem.conductor) == ("stray_without_value", "s1")
    assert circuit_from_data({**data(), "strays": [{"id": "s1", **ends, "capacitance_nf": 2.0}]})


def test_an_add_on_block_brings_its_terminals() -> None:
    conductors = data()["conductors"]
    conductors[1]["b"] = {"device": "contactor", "terminal": "53"}
    with_block = changed_device(7, params={"auxiliary_block": "1NO_1NC"})
    assert isinstance(circuit_from_data({**data(), **with_block, "conductors": conductors}), Circuit)


def test_shape_errors_name_the_device_they_are_about() -> None:
    with pytest.raises(MalformedDocument) as caught:
        circuit_from_data({**data(), **changed_device(3, label="two words")})
    assert caught.value.problems[0].device == "control-breaker"


def test_not_a_number_is_no_number() -> None:
    text = json.dumps({**data(), **changed_device(4, params={"dial_a": float("nan")})})
    with pytest.raises(CircuitError):
        parse_circuit(text)


def test_wire_numbers_belong_to_potentials() -> None:
    found = {
        net.number: {f"{e.device}:{e.terminal}" for e in net.ends}
        for net in nets(library_circuit("start-stop-overload-line"))
    }
    assert found["4"] == {"start:14", "contactor:A1", "contactor:14", "run-lamp:X1"}
    unnumbered = data()
    for conductor in unnumbered["conductors"]:
        conductor["number"] = "7" if conductor["id"] == "c4" else None
    numbers = [net.number for net in nets(circuit_from_data(unnumbered))]
    assert len(numbers) == len(set(numbers))
    assert numbers[:3] == ["1", "2", "3"]
    assert "7" in numbers
