"""A kind of fault is one record: what it must say of itself, and that nobody forgets it."""

import math
from dataclasses import replace

import pytest

from wiretrace.catalogue.machinery.purpose import Breaks
from wiretrace.diagnosis.hypotheses import WEIGHTS, hypotheses
from wiretrace.document.circuit import End
from wiretrace.faults.fault import Fault, Sort
from wiretrace.faults.kinds.devices import Operated
from wiretrace.faults.kinds.elements import HighResistance, Open, Short
from wiretrace.faults.kinds.terminals import Bridge, LooseTerminal
from wiretrace.faults.kinds.wires import Exchanged, Misplaced
from wiretrace.faults.possible import possible_faults
from wiretrace.faults.registry import KINDS, kind_name
from wiretrace.faults.text import fault_from_text, fault_text
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.assembly import Assembly

LINE = library_circuit("start-stop-overload-line")
MUST_SAY = ("where", "misfit", "words", "written", "read")


@pytest.mark.parametrize("cls", KINDS.values(), ids=KINDS)
def test_a_kind_says_all_that_is_asked_of_it(cls: type[Fault]) -> None:
    missing = [name for name in MUST_SAY if getattr(cls, name) is getattr(Fault, name)]
    assert missing == []
    assert cls.about.title
    assert (cls.about.weight is None) == (cls.about.why == "")
    assert (cls.about.rare is None) == (cls.about.rare_why == "")
    # What has a weight as a rare one is asked where it may be.
    assert (cls.about.rare is None) == (cls.rarely.__func__ is Fault.rarely.__func__)  # type: ignore[attr-defined]


@pytest.mark.parametrize(("name", "form"), [(name, form) for name, cls in KINDS.items() for form in cls.about.forms])
def test_the_forms_that_a_kind_shows_are_read_as_this_kind(name: str, form: str) -> None:
    renamed = form.replace("U1-U2", "U1").replace("w4", LINE.conductors[3].id).replace("w7", LINE.conductors[6].id)
    fault = fault_from_text(LINE, renamed)
    assert kind_name(fault) == name
    assert fault_text(Assembly(LINE), fault).removesuffix("ohm") == renamed.removesuffix("ohm").replace("2k", "2000")
    Assembly(LINE, (fault,))


def test_every_way_an_element_can_break_is_one_kind() -> None:
    assert sorted(cls.about.breaks for cls in KINDS.values() if cls.about.breaks) == sorted(Breaks)


def test_every_sort_of_an_exercise_has_faults_to_hide() -> None:
    assert {sort for cls in KINDS.values() for sort in cls.about.sorts} == set(Sort) - {Sort.TWO}


@pytest.mark.parametrize("name", library_names())
def test_what_can_come_about_is_weighed_hidden_by_exercises_and_written(name: str) -> None:
    circuit = library_circuit(name)
    assembly = Assembly(circuit)
    for fault in possible_faults(circuit, assembly.devices):
        assert WEIGHTS[kind_name(fault)] > 0
        assert fault.about.sorts
        assert fault_from_text(circuit, fault_text(assembly, fault)) == fault


@pytest.mark.parametrize(
    "fault",
    [
        HighResistance("isolator", "1-2", 0.05, start_us=1_500_000),
        Short("motor", "U1", 0.5, slot_us=4_000_000, seed=7),
        Open("motor", "U1", slot_us=250_000, seed=11, start_us=1),
        LooseTerminal("motor", "U1", 1e12),
        Bridge("motor", "U1", End(device="motor", terminal="PE"), 1e-4),
        Misplaced(LINE.conductors[0].id, End(device="motor", terminal="V1"), "b"),
        Exchanged(LINE.conductors[0].id, LINE.conductors[1].id, "b", "a"),
        Operated("overload", "trip", value=False),
    ],
    ids=kind_name,
)
def test_what_is_written_is_read_as_the_same_fault(fault: Fault) -> None:
    assert fault_from_text(LINE, fault_text(Assembly(LINE), fault)) == fault


def test_a_bad_joint_stands_for_a_range_and_the_typical_one_comes_first() -> None:
    joint = next(one for one in hypotheses(Assembly(LINE)) if isinstance(one.fault, HighResistance))
    assert joint.fault == joint.values[0]
    assert sorted(one.resistance_ohm for one in joint.values if isinstance(one, HighResistance)) == [30, 300, 3000]


def test_what_is_in_series_and_what_is_cut_off_is_told_by_the_fault_itself() -> None:
    joint = HighResistance("k1", "coil", 300)
    assert joint.in_series() == ("k1", "coil", 300)
    assert Open("k1", "coil").in_series() == ("k1", "coil", math.inf)
    assert Short("k1", "coil").in_series() is None
    loose = LooseTerminal("k1", "A1")
    assert loose.cuts_off() == End(device="k1", terminal="A1")
    assert replace(loose, resistance_ohm=2.0).cuts_off() is None


def test_what_nobody_can_read_is_answered_with_how_faults_are_written() -> None:
    with pytest.raises(ValueError, match=r"'molten' is no fault that K1/coil can have.*K1/13-14=welded"):
        fault_from_text(LINE, "K1/coil=molten")


@pytest.mark.parametrize("label", ["K1.2", "K1/2", "K1-2", "+A1-K1", "K_1"])
def test_any_designation_that_a_device_may_have_can_be_written(label: str) -> None:
    devices = tuple(d.model_copy(update={"label": label}) if d.label == "K1" else d for d in LINE.devices)
    circuit = LINE.model_copy(update={"devices": devices})
    assembly = Assembly(circuit)
    contactor = next(device.id for device in devices if device.label == label)
    mine = [fault for fault in possible_faults(circuit, assembly.devices) if fault.where == contactor]
    assert len(mine) > 20
    assert [fault_from_text(circuit, fault_text(assembly, fault)) for fault in mine] == mine


@pytest.mark.parametrize("label", ["K1.2", "K1/2", "K1.coil_voltage_v"])
def test_of_two_designations_the_longer_one_is_meant(label: str) -> None:
    devices = tuple(d.model_copy(update={"label": label}) if d.label == "S1" else d for d in LINE.devices)
    circuit = LINE.model_copy(update={"devices": devices})
    assembly = Assembly(circuit)
    start = [fault for fault in possible_faults(circuit, assembly.devices) if fault.where == "start"]
    assert [fault_from_text(circuit, fault_text(assembly, fault)) for fault in start] == start
    assert fault_from_text(circuit, "K1=stuck").where == "contactor"


@pytest.mark.parametrize("slot", ["0s", "-1s", "1ms"])
def test_what_comes_and_goes_stays_for_a_while(slot: str) -> None:
    with pytest.raises(ValueError, match="stays for 10 ms at least"):
        fault_from_text(LINE, f"K1/coil=open ~7/{slot}")
