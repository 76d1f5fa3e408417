"""/api/catalogue: what devices exist; /api/library: what circuits ship."""

import hashlib
from functools import cache
from typing import Literal

from apiflask import APIBlueprint

from server.store.errors import NotFound
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.registry import KINDS
from wiretrace.document.circuit import Circuit, Frozen
from wiretrace.library import library_circuit
from wiretrace.library.families import FAMILIES, Family, Shown
from wiretrace.transport.catalogue_data import CatalogueData, catalogue_data

blueprint = APIBlueprint("catalogue", __name__, url_prefix="/api")

Supply = Literal["three-phase", "single-phase", "direct voltage"]


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
        supply=next(_supply(KINDS[kind]) for kind in kinds if any(p.does is Does.FEEDS for p in KINDS[kind].parts)),
        kinds=tuple(kinds),
        content=hashlib.sha256(circuit.model_dump_json().encode()).hexdigest()[:16],
    )


def _supply(kind: Kind) -> Supply:
    """What a supply gives: of a direct one its rating tells, of the others how many live poles they have."""
    if kind.ratings(kind.defaults()).feeds_direct:
        return "direct voltage"
    live = [what for what, _ in kind.poles.values() if what == "live"]
    return "three-phase" if len(live) == 3 else "single-phase"
