"""The catalogue as plain data, for forms, symbols and documentation."""

from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.purpose import Actuator, Against, Breaks, Does
from wiretrace.catalogue.machinery.sides import leads, sides
from wiretrace.catalogue.machinery.structure import Part, Role, When
from wiretrace.catalogue.registry import GROUPS, KINDS
from wiretrace.document.circuit import Frozen


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
    titles: dict[str, str]
    help: str
    designation: bool
    set_on_site: bool
    driven: bool


class TerminalKindData(Frozen):
    """`frame` where it is the frame of the device, to be joined to earth."""

    name: str
    nema: str
    frame: bool
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
    repairs: str
    handle: bool
    dead_only: bool
    locks_off: bool
    mark: str


class OperatingData(Frozen):
    """What a load is made for, as delivered."""

    voltage_v: float
    takes_va: float
    power_factor: float
    direct: bool


class ProtectsData(Frozen):
    """What a device protects against, the parameter that is its dial, and the contacts by which it tells."""

    against: tuple[Against, ...]
    dial: str
    opens: str
    closes: str


class RatingsData(Frozen):
    """What is rated of a device beside its loads, as delivered; null where it has no such rating."""

    current_a: float | None
    also_a: tuple[float, ...]
    gives_va: float | None
    ratio: float | None
    secondary_a: float | None
    holds_from: float | None
    picks_up_from: float | None
    leak_ohm: float | None
    feeds_direct: bool


class KindData(Frozen):
    name: str
    title: str
    group: str
    group_title: str
    letter: str
    letter_nema: str
    mounting: str
    actuator: Actuator
    sticks: bool
    breaks: dict[str, tuple[Breaks, ...]]
    racing: tuple[str, ...]
    protects: ProtectsData | None
    operating: dict[str, OperatingData]
    ratings: RatingsData
    params: tuple[ParamData, ...]
    terminals: tuple[TerminalKindData, ...]
    parts: tuple[PartData, ...]
    operations: tuple[OperationData, ...]
    remedies: dict[str, str]


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
        group_title=GROUPS[kind.group],
        letter=kind.letter,
        letter_nema=kind.letter_nema,
        mounting=kind.mounting,
        actuator=kind.actuator,
        sticks=kind.sticks,
        breaks={branch.name: branch.can_break for branch in kind.branches},
        racing=kind.racing,
        protects=_protects(kind),
        operating={
            branch.name: OperatingData(**vars(made_for))
            for branch in kind.branches
            if (made_for := kind.operating(kind.defaults(), branch.name))
        },
        ratings=RatingsData(**vars(kind.ratings(kind.defaults()))),
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
                titles={str(choice): p.title_of(choice) for choice in p.choices},
                help=p.help,
                designation=p.designation,
                set_on_site=p.set_on_site,
                driven=p.driven,
            )
            for p in kind.params
        ),
        terminals=tuple(
            TerminalKindData(name=t.name, nema=t.nema or t.name, frame=t.frame, when=_when(t.when))
            for t in kind.terminals
        ),
        parts=tuple(_part(kind, part) for part in kind.parts),
        operations=tuple(
            OperationData(**{name: vars(o)[name] for name in OperationData.model_fields}) for o in kind.operations
        ),
        remedies=dict(kind.remedies),
    )


def _protects(kind: Kind) -> ProtectsData | None:
    told = kind.protects
    if told is None:
        return None
    return ProtectsData(against=tuple(sorted(told.against)), dial=told.dial, opens=told.opens, closes=told.closes)


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
