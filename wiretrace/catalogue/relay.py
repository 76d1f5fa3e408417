"""Control relay with two changeover contacts."""

from collections.abc import Mapping

from wiretrace.catalogue import travel
from wiretrace.catalogue.electromagnet import Electromagnet, coil_params
from wiretrace.catalogue.element import CONTACT_OHM, Value
from wiretrace.catalogue.purpose import Does
from wiretrace.catalogue.structure import Branch, DeviceState, Params, Part, Role, Terminal


class ControlRelay(Electromagnet):
    """Small AC relay; each changeover has its common at 11 or 21, closed to 12 or 22 at rest."""

    name = "control_relay"
    title = "Control relay"
    rank = 30
    group = "switching"
    letter = "K"
    letter_nema = "CR"
    mounting = "plate"
    params = coil_params(2.4, 1.2, 10.0, 8.0)
    terminals = tuple(Terminal(name) for name in ("A1", "A2", "11", "12", "14", "21", "22", "24"))
    branches = (
        Branch("coil", "A1", "A2", Role.LOAD),
        *(Branch(f"{n}1-{n}2", f"{n}1", f"{n}2", Role.CONTACT) for n in (1, 2)),
        *(Branch(f"{n}1-{n}4", f"{n}1", f"{n}4", Role.CONTACT) for n in (1, 2)),
    )
    parts = (
        Part("coil", "Coil", "coil", Does.OPERATES, ("A1", "A2"), ("coil",)),
        *(
            Part(
                f"{n}1-{n}2-{n}4",
                f"Changeover {n}1-{n}2-{n}4",
                "changeover",
                Does.CHANGES_OVER,
                (f"{n}1", f"{n}2", f"{n}4"),
                (f"{n}1-{n}2", f"{n}1-{n}4"),
            )
            for n in (1, 2)
        ),
    )

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        closed = Value(CONTACT_OHM)
        values = dict(self.coil_value(params, state))
        if travel.nc_closed(state):
            return values | {"11-12": closed, "21-22": closed}
        return values | {"11-14": closed, "21-24": closed} if travel.no_closed(state) else values
