"""The one list of kinds of device."""

from types import MappingProxyType

from wiretrace.catalogue.contactor import Contactor
from wiretrace.catalogue.device import Kind
from wiretrace.catalogue.loads import Lamp, TerminalBlock, ThreePhaseMotor
from wiretrace.catalogue.overload import OverloadRelay
from wiretrace.catalogue.push_button import PushButton
from wiretrace.catalogue.supply import ThreePhaseSupply
from wiretrace.catalogue.switchgear import Breaker, Isolator

KINDS = MappingProxyType(
    {
        kind.name: kind
        for kind in (
            ThreePhaseSupply(),
            Isolator(),
            Breaker(),
            Contactor(),
            OverloadRelay(),
            PushButton(),
            Lamp(),
            ThreePhaseMotor(),
            TerminalBlock(),
        )
    }
)
"""Every kind by name, in the order in which a list of parts shows them."""


def kind_of(name: str) -> Kind:
    """The kind with this name. Raises KeyError when there is none."""
    return KINDS[name]
