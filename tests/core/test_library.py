"""Every circuit that ships does in every step of its sequence what was written down by hand for it."""

import pytest

from tests.core.circuits import Sequencer
from wiretrace.library import library_names


@pytest.mark.parametrize("name", library_names())
def test_the_operating_sequence_goes_as_it_is_written(name: str) -> None:
    sequencer = Sequencer(name)
    for step in sequencer.steps:
        frames = sequencer.take(step)
        says = {item.label: frames[-1].views[item.id].says for item in sequencer.plant.devices.values()}
        assert {label: says[label] for label in step.expect} == step.expect, step.text


@pytest.mark.parametrize("name", library_names())
def test_a_sequence_says_something_of_every_contactor_and_motor(name: str) -> None:
    sequencer = Sequencer(name)
    told = {label for step in sequencer.steps for label in step.expect}
    for item in sequencer.plant.devices.values():
        if item.device.kind in ("contactor", "motor_three_phase", "motor_six_leads"):
            assert item.label in told
