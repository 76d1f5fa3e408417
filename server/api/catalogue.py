"""/api/catalogue: what devices exist; /api/library: what circuits ship."""

import hashlib
from collections.abc import Mapping
from functools import cache
from typing import Final, Literal

from apiflask import APIBlueprint

from server.store.errors import NotFound
from wiretrace.circuit.document import Circuit, Frozen
from wiretrace.formats.catalogue_data import CatalogueData, catalogue_data
from wiretrace.library import library_circuit
from wiretrace.library.families import FAMILIES, Family, Shown

blueprint = APIBlueprint("catalogue", __name__, url_prefix="/api")

Supply = Literal["three-phase", "single-phase", "direct voltage"]
SUPPLIES: Final[Mapping[str, Supply]] = {
    "supply_three_phase": "three-phase",
    "supply_single_phase": "single-phase",
    "supply_dc": "direct voltage",
}


class LibraryLine(Frozen):
    """A circuit: what it shows, and what to try on it; `kinds` are those of its devices.

    `content` changes whenever the circuit does.
    """

    name: str
    title: str
    shows: str
    tries: str
    supply: Supply
    kinds: tuple[str, ...]
    content: str


class LibraryCircuit(Frozen):
    name: str
    circuit: Circuit


class LibraryFamily(Frozen):
    title: str
    circuits: tuple[LibraryLine, ...]


class Library(Frozen):
    families: tuple[LibraryFamily, ...]


@blueprint.get("/catalogue")
@blueprint.output(CatalogueData)
def catalogue() -> CatalogueData:
    """Every kind of device: parameters, terminals, parts, operations."""
    return catalogue_data()


@blueprint.get("/library")
@blueprint.output(Library)
def library() -> Library:
    """The circuits that ship, by family."""
    return _library()


@blueprint.get("/library/<name>")
@blueprint.output(LibraryCircuit)
def shipped(name: str) -> LibraryCircuit:
    """One of the circuits that ship."""
    try:
        return LibraryCircuit(name=name, circuit=library_circuit(name))
    except KeyError as error:
        raise NotFound(f"No circuit ships under the name {name}.") from error


@cache
def _library() -> Library:
    return Library(families=tuple(_family(family) for family in FAMILIES))


def _family(family: Family) -> LibraryFamily:
    return LibraryFamily(title=family.title, circuits=tuple(_line(shown) for shown in family.circuits))


def _line(shown: Shown) -> LibraryLine:
    circuit = library_circuit(shown.name)
    kinds = dict.fromkeys(device.kind for device in circuit.devices)
    return LibraryLine(
        name=shown.name,
        title=circuit.title,
        shows=shown.shows,
        tries=shown.tries,
        supply=next(SUPPLIES[kind] for kind in kinds if kind in SUPPLIES),
        kinds=tuple(kinds),
        content=hashlib.sha256(circuit.model_dump_json().encode()).hexdigest()[:16],
    )
