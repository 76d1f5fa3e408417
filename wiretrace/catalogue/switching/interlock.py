"""Mechanical interlock between two contactors."""

from collections.abc import Iterator, Mapping

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.element import Signal, Value
from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.structure import DeviceState, Param, Params, Part, View


class MechanicalInterlock(Kind):
    """While the armature of one contactor is in, that of the other cannot move, by coil or by hand.

    It has no terminals. Alone it still lets both coils be fed; the one that is held out burns.
    """

    name = "mechanical_interlock"
    title = "Mechanical interlock"
    rank = 20
    group = "switching"
    letter = "K"
    letter_nema = "MI"
    mounting = "plate"
    params = (
        Param("first", "Stands between", "K1", help="Designation of one contactor.", designation=True),
        Param("second", "and", "K2", help="Designation of the other.", designation=True),
    )
    terminals = ()
    branches = ()
    parts = (Part("interlock", "Interlock", "mechanical_interlock", Does.LOCKS, ()),)

    def contradictions(self, params: Params) -> Iterator[str]:
        if params["first"] == params["second"]:
            yield "a mechanical interlock stands between two contactors, not one."

    def locks(self, params: Params) -> tuple[str, ...]:
        return str(params["first"]), str(params["second"])

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        return {}

    def view(self, params: Params, state: DeviceState, signals: Mapping[str, Signal]) -> View:
        return View("", False)
