"""/api/catalogue: what devices exist; /api/library: what circuits ship."""

from apiflask import APIBlueprint

from wiretrace.circuit.document import Frozen
from wiretrace.formats.catalogue_data import CatalogueData, catalogue_data
from wiretrace.library import library_circuit
from wiretrace.library.families import FAMILIES, Family

blueprint = APIBlueprint("catalogue", __name__, url_prefix="/api")


class LibraryLine(Frozen):
    """A circuit: what it shows, and what to try on it."""

    name: str
    title: str
    shows: str
    tries: str


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
    return Library(families=tuple(_family(family) for family in FAMILIES))


def _family(family: Family) -> LibraryFamily:
    return LibraryFamily(
        title=family.title,
        circuits=tuple(
            LibraryLine(name=c.name, title=library_circuit(c.name).title, shows=c.shows, tries=c.tries)
            for c in family.circuits
        ),
    )
