"""A delay block on a contactor: late the one way, with the armature the other."""

import pytest

from tests.core.circuits import Bench, device
from tests.core.test_protection_relays import bench


def made(mode: str) -> Bench:
    """A contactor at a selector, lamps at the contacts of its block: H1 at 67-68, H2 at 55-56. Two seconds."""
    return bench(
        [
            device("g1", "supply_single_phase"),
            device("s1", "selector_two"),
            device("k1", "contactor", delay_block=mode, block_delay_s=2.0),
            device("h1", "lamp"),
            device("h2", "lamp"),
        ],
        ("g1:L", "s1:13"),
        ("s1:14", "k1:A1"),
        ("k1:A2", "g1:N"),
        ("g1:L", "k1:67"),
        ("k1:68", "h1:X1"),
        ("g1:L", "k1:55"),
        ("k1:56", "h2:X1"),
        ("h1:X2", "g1:N"),
        ("h2:X2", "g1:N"),
    )


def lamps(one: Bench) -> tuple[str, str]:
    return one.says("h1"), one.says("h2")


OVER, REST = ("lit", "dark"), ("dark", "lit")


def test_on_delay_moves_after_its_time_and_falls_back_with_the_armature() -> None:
    one = made("on_delay")
    assert lamps(one) == REST
    one.do("s1", "turn", wait_s=1.95)
    assert (one.says("k1"), lamps(one)) == ("in", REST)
    one.wait(0.1)
    assert lamps(one) == OVER
    one.do("s1", "turn", False, wait_s=0.05)
    assert (one.says("k1"), lamps(one)) == ("out", REST)


def test_off_delay_moves_with_the_armature_and_falls_back_after_its_time() -> None:
    one = made("off_delay")
    one.do("s1", "turn", wait_s=0.05)
    assert lamps(one) == OVER
    one.do("s1", "turn", False, wait_s=1.95)
    assert (one.says("k1"), lamps(one)) == ("out", OVER)
    one.wait(0.1)
    assert lamps(one) == REST


@pytest.mark.parametrize("mode", ["on_delay", "off_delay"])
def test_a_time_that_is_interrupted_begins_anew(mode: str) -> None:
    one = made(mode)
    if mode == "off_delay":
        one.do("s1", "turn")
    waits = mode == "on_delay"
    for _ in range(3):
        one.do("s1", "turn", waits, wait_s=1.2)
        one.do("s1", "turn", not waits, wait_s=0.1)
    assert lamps(one) == (REST if waits else OVER)
    one.do("s1", "turn", waits, wait_s=2.1)
    assert lamps(one) == (OVER if waits else REST)


def test_a_contactor_without_a_block_has_none_of_its_terminals() -> None:
    names = {terminal.name for terminal in made("on_delay").assembly.devices["k1"].structure.terminals}
    assert {"55", "56", "67", "68"} <= names
    plain = bench(
        [device("g1", "supply_single_phase"), device("k1", "contactor")], ("g1:L", "k1:A1"), ("k1:A2", "g1:N")
    )
    assert not {"55", "67"} & {terminal.name for terminal in plain.assembly.devices["k1"].structure.terminals}
    plain.wait(0.5)
    assert plain.says("k1") == "in"
