"""Control relay with one to four changeover contacts."""

from collections.abc import Mapping

from wiretrace.catalogue.machinery import travel
from wiretrace.catalogue.machinery.changeover import changeover
from wiretrace.catalogue.machinery.element import CONTACT_OHM, Value
from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.structure import Branch, DeviceState, Param, Params, Part, Role, Terminal, When
from wiretrace.catalogue.switching.electromagnet import Electromagnet, coil_params


def _with(changeover: int) -> When | None:
    return When("changeovers", tuple(range(changeover, 5))) if changeover > 1 else None


class ControlRelay(Electromagnet):
    """Small AC relay; each changeover has its common at 11 to 41, closed to 12 to 42 at rest."""

    name = "control_relay"
    title = "Control relay"
    rank = 30
    group = "switching"
    letter = "K"
    letter_nema = "CR"
    mounting = "plate"
    params = (
        Param("changeovers", "Changeover contacts", 2, choices=(1, 2, 3, 4)),
        *coil_params(2.4, 1.2, 10.0, 8.0),
    )
    terminals = (
        *(Terminal(name) for name in ("A1", "A2")),
        *(Terminal(f"{n}{end}", when=_with(n)) for n in (1, 2, 3, 4) for end in (1, 2, 4)),
    )
    branches = (
        Branch("coil", "A1", "A2", Role.LOAD),
        *(Branch(f"{n}1-{n}{to}", f"{n}1", f"{n}{to}", Role.CONTACT, _with(n)) for to in (2, 4) for n in (1, 2, 3, 4)),
    )
    parts = (
        Part("coil", "Coil", "coil", Does.OPERATES, ("A1", "A2"), ("coil",)),
        *(changeover(f"{n}1", f"{n}2", f"{n}4", when=_with(n)) for n in (1, 2, 3, 4)),
    )

    def values(self, params: Params, state: DeviceState) -> Mapping[str, Value]:
        closed = Value(CONTACT_OHM)
        values = dict(self.coil_value(params, state))
        way = "2" if travel.nc_closed(state) else "4" if travel.no_closed(state) else ""
        return values | ({f"{n}1-{n}{way}": closed for n in (1, 2, 3, 4)} if way else {})
