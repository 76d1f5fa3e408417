"""The catalogue: every kind is complete, can be solved, and is drawn."""

import pytest

from tests.core.circuits import Bench, circuit, device
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.registry import KINDS

each_kind = pytest.mark.parametrize("kind", KINDS.values(), ids=KINDS)


def variants(kind: Kind) -> list[dict[str, object]]:
    """The defaults, and the defaults with each choice of each parameter in turn."""
    changes = [{param.name: choice} for param in kind.params for choice in param.choices]
    return [kind.defaults() | change for change in ({}, *changes)]


@each_kind
def test_branches_and_parts_stand_on_terminals_that_exist(kind: Kind) -> None:
    for params in variants(kind):
        structure = kind.structure(params)  # type: ignore[arg-type]
        terminals = {terminal.name for terminal in structure.terminals}
        assert {end for b in structure.branches for end in (b.a, b.b)} <= terminals | set(structure.internal_nodes)
        in_parts = [name for part in structure.parts for name in part.terminals]
        assert sorted(in_parts) == sorted(terminals), "every terminal is on exactly one part"
        branches = {branch.name for branch in structure.branches}
        assert {name for part in structure.parts for name in part.branches} <= branches


@each_kind
def test_values_name_no_branch_that_the_kind_lacks(kind: Kind) -> None:
    for params in variants(kind):
        values = kind.values(params, kind.initial(params))  # type: ignore[arg-type]
        assert set(values) <= {branch.name for branch in kind.branches}


@each_kind
def test_defaults_lie_within_their_ranges(kind: Kind) -> None:
    for param in kind.params:
        if param.type == "number":
            assert param.minimum is not None
            assert param.maximum is not None
            assert param.minimum <= param.default <= param.maximum  # type: ignore[operator]
        elif param.type == "choice":
            assert param.default in param.choices


@each_kind
def test_a_device_alone_can_be_put_under_power_and_worked(kind: Kind) -> None:
    """With nothing connected, every operation goes through and nothing is undefined."""
    for params in variants(kind):
        partners = [device(label.lower(), "contactor") for label in kind.locks(params)]  # type: ignore[arg-type]
        bench = Bench(circuit([device("x1", kind.name, **params), *partners], []))  # type: ignore[arg-type]
        for operation in kind.operations:
            for value in (True, False):
                bench.do("x1", operation.name, value, wait_s=0.1)
        assert bench.frame.views["x1"].says is not None
