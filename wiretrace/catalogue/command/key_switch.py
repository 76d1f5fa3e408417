"""Key switch: who has the key may turn it."""

from wiretrace.catalogue.command.two_position import TwoPosition
from wiretrace.catalogue.machinery.purpose import Actuator, Does
from wiretrace.catalogue.machinery.structure import Operation, Part


class KeySwitch(TwoPosition):
    """Maintained switch of two positions, worked with a key that can be taken out in 0 alone."""

    name = "key_switch"
    title = "Key switch"
    rank = 35
    group = "command"
    letter = "S"
    letter_nema = "SS"
    mounting = "door"
    actuator = Actuator.HANDLE
    parts = (
        Part("11-12", "Contact 11-12, NC", "key_nc", Does.NORMALLY_CLOSED, ("11", "12"), ("11-12",)),
        Part("13-14", "Contact 13-14, NO", "key_no", Does.NORMALLY_OPEN, ("13", "14"), ("13-14",)),
    )
    operations = (Operation("turn", "Key turned", "toggle", handle=True),)
    statuses = ("=0", "=1")
