"""What several resources take."""

from typing import Annotated, Any

from pydantic import BeforeValidator

from wiretrace.circuit.checked import circuit_from_data
from wiretrace.circuit.document import Circuit


def _checked(data: Any) -> Circuit:
    return data if isinstance(data, Circuit) else circuit_from_data(data)


CheckedCircuit = Annotated[Circuit, BeforeValidator(_checked)]
"""A circuit that is refused with the core's own errors, which name device and terminal."""
