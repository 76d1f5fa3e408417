"""/api/catalogue: what devices exist; /api/library: what circuits ship."""

from apiflask import APIBlueprint

from wiretrace.circuit.document import Frozen
from wiretrace.formats.catalogue_data import CatalogueData, catalogue_data
from wiretrace.library import library_circuit, library_names

blueprint = APIBlueprint("catalogue", __name__, url_prefix="/api")


class LibraryLine(Frozen):
    name: str
    title: str


class Library(Frozen):
    circuits: tuple[LibraryLine, ...]


@blueprint.get("/catalogue")
@blueprint.output(CatalogueData)
def catalogue() -> CatalogueData:
    """Every kind of device: parameters, terminals, parts, operations."""
    return catalogue_data()


@blueprint.get("/library")
@blueprint.output(Library)
def library() -> Library:
    """The circuits that ship."""
    return Library(
        circuits=tuple(LibraryLine(name=name, title=library_circuit(name).title) for name in library_names())
    )
