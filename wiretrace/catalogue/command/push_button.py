"""Momentary push button with a normally open contact, a normally closed one, or both."""

from collections.abc import Mapping
from typing import ClassVar, Final

from wiretrace.catalogue.command.two_position import TwoPosition
from wiretrace.catalogue.machinery.purpose import Actuator, CommandRole, Does
from wiretrace.catalogue.machinery.structure import Branch, Operation, Param, Params, Part, Role, Terminal, When, number

ANY: Final = ("green", "red", "black", "white", "yellow", "blue")
COLOURS: Final[Mapping[CommandRole, tuple[str, ...]]] = {
    CommandRole.UNSAID: ANY,
    CommandRole.START: ("green", "white", "black"),
    CommandRole.STOP: ("red", "black", "white"),
    CommandRole.JOG: ("black", "white"),
    CommandRole.RESET: ("blue", "white", "black"),
}
"""Colours that a button may have by what it is for (IEC 60204-1, 10.2.1), first the one that we give it."""
HAS_NC: Final = When("contacts", ("NC", "NO_NC"))
HAS_NO: Final = When("contacts", ("NO", "NO_NC"))


class PushButton(TwoPosition):
    """Both blocks move together: normally closed opens first, then normally open closes."""

    name = "push_button"
    title = "Push button"
    rank = 10
    group = "command"
    letter = "S"
    letter_nema = "PB"
    mounting = "door"
    params: ClassVar[tuple[Param, ...]] = (
        Param("contacts", "Contacts", "NO", choices=("NO", "NC", "NO_NC"), titles={"NO_NC": "NO + NC"}),
        Param(
            "role",
            "Role",
            "unsaid",
            choices=("unsaid", "start", "stop", "jog", "reset"),
            titles={"unsaid": "not said"},
            help="Checks go by this, not by its name. Where it is not said, a red button stops.",
            for_people=True,
        ),
        Param("colour", "Colour", "green", choices=ANY),
        Param("travel_ms", "Time between its contacts", 15.0, "ms", 1.0, 200.0, help="A finger is no quicker."),
    )
    terminals: ClassVar[tuple[Terminal, ...]] = (
        Terminal("11", "1", HAS_NC),
        Terminal("12", "2", HAS_NC),
        Terminal("13", "3", HAS_NO),
        Terminal("14", "4", HAS_NO),
    )
    branches: ClassVar[tuple[Branch, ...]] = (
        Branch("11-12", "11", "12", Role.CONTACT, HAS_NC),
        Branch("13-14", "13", "14", Role.CONTACT, HAS_NO),
    )
    parts: ClassVar[tuple[Part, ...]] = (
        Part("11-12", "Contact 11-12, NC", "push_nc", Does.NORMALLY_CLOSED, ("11", "12"), ("11-12",), HAS_NC),
        Part("13-14", "Contact 13-14, NO", "push_no", Does.NORMALLY_OPEN, ("13", "14"), ("13-14",), HAS_NO),
    )
    actuator = Actuator.HAND
    operations = (Operation("press", "Press", "momentary"),)

    racing = ("travel_ms",)
    """A contactor drops out while a finger lets go, or jogging seals."""
    statuses = ("released", "pressed")

    def second_us(self, params: Params) -> int:
        return round(1000 * number(params, "travel_ms"))

    def role(self, params: Params) -> CommandRole:
        said = CommandRole(str(params["role"]))
        return CommandRole.STOP if said is CommandRole.UNSAID and params["colour"] == "red" else said

    def in_role(self, params: Params, role: CommandRole) -> Params:
        colours = COLOURS[role]
        colour = params["colour"] if params["colour"] in colours else colours[0]
        return {"role": role.value, "colour": colour}

    def wears(self, params: Params) -> bool:
        return params["colour"] in COLOURS[self.role(params)]
