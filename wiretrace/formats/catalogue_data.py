"""The catalogue as plain data, for forms, symbols and documentation."""

from wiretrace.catalogue.device import Kind
from wiretrace.catalogue.purpose import Breaks, Does, Moved
from wiretrace.catalogue.registry import KINDS
from wiretrace.catalogue.sides import leads, sides
from wiretrace.catalogue.structure import Part, Role, When
from wiretrace.circuit.document import Frozen


class WhenData(Frozen):
    param: str
    values: tuple[bool | int | str, ...]


class ParamData(Frozen):
    name: str
    title: str
    type: str
    unit: str
    default: bool | int | float | str
    minimum: float | None
    maximum: float | None
    choices: tuple[int | str, ...]
    help: str
    designation: bool
    set_on_site: bool


class TerminalKindData(Frozen):
    name: str
    nema: str
    when: WhenData | None


class ContactData(Frozen):
    a: str
    b: str
    closed_at_rest: bool


class PartData(Frozen):
    name: str
    title: str
    symbol: str
    does: Does
    leads: bool
    terminals: tuple[str, ...]
    fed: tuple[str, ...]
    leads_on: tuple[str, ...]
    contacts: tuple[ContactData, ...]
    branches: tuple[str, ...]
    when: WhenData | None


class OperationData(Frozen):
    name: str
    title: str
    style: str
    caution: str
    repairs: bool
    handle: bool


class KindData(Frozen):
    name: str
    title: str
    group: str
    letter: str
    letter_nema: str
    mounting: str
    moved: Moved
    sticks: bool
    breaks: dict[str, tuple[Breaks, ...]]
    params: tuple[ParamData, ...]
    terminals: tuple[TerminalKindData, ...]
    parts: tuple[PartData, ...]
    operations: tuple[OperationData, ...]


class CatalogueData(Frozen):
    kinds: tuple[KindData, ...]


def catalogue_data() -> CatalogueData:
    """All kinds, in the order of the registry."""
    return CatalogueData(kinds=tuple(_kind(kind) for kind in KINDS.values()))


def _kind(kind: Kind) -> KindData:
    return KindData(
        name=kind.name,
        title=kind.title,
        group=kind.group,
        letter=kind.letter,
        letter_nema=kind.letter_nema,
        mounting=kind.mounting,
        moved=kind.moved,
        sticks=kind.sticks,
        breaks={branch.name: branch.can_break for branch in kind.branches},
        params=tuple(
            ParamData(
                name=p.name,
                title=p.title,
                type=p.type,
                unit=p.unit,
                default=p.default,
                minimum=p.minimum,
                maximum=p.maximum,
                choices=p.choices,
                help=p.help,
                designation=p.designation,
                set_on_site=p.set_on_site,
            )
            for p in kind.params
        ),
        terminals=tuple(
            TerminalKindData(name=t.name, nema=t.nema or t.name, when=_when(t.when)) for t in kind.terminals
        ),
        parts=tuple(_part(kind, part) for part in kind.parts),
        operations=tuple(
            OperationData(
                name=o.name, title=o.title, style=o.style, caution=o.caution, repairs=o.repairs, handle=o.handle
            )
            for o in kind.operations
        ),
    )


def _part(kind: Kind, part: Part) -> PartData:
    fed, leads_on = sides(kind, part)
    params = kind.defaults()
    closed = kind.values(params, kind.initial(params))
    contacts = [b for b in kind.branches if b.name in part.branches and b.role is Role.CONTACT]
    return PartData(
        name=part.name,
        title=part.title,
        symbol=part.symbol,
        does=part.does,
        leads=leads(kind, part),
        terminals=part.terminals,
        fed=fed,
        leads_on=leads_on,
        contacts=tuple(ContactData(a=b.a, b=b.b, closed_at_rest=b.name in closed) for b in contacts),
        branches=part.branches,
        when=_when(part.when),
    )


def _when(when: When | None) -> WhenData | None:
    return None if when is None else WhenData(param=when.param, values=when.values)
