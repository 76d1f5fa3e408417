"""What things are for is said once, in the catalogue, and nobody else goes by names."""

import ast
import re
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.core.played import played
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.purpose import Actuator, Does
from wiretrace.catalogue.machinery.status import WORDS, tells
from wiretrace.catalogue.machinery.structure import Role
from wiretrace.catalogue.registry import KINDS
from wiretrace.document.circuit import Circuit, Device
from wiretrace.faults.possible import possible_faults
from wiretrace.library import library_circuit, library_names
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state, run

ROOT = Path(__file__).parents[2]
SYMBOLS = ROOT / "web" / "src" / "sheet" / "symbols"
CONTACTS = {Does.NORMALLY_OPEN, Does.NORMALLY_CLOSED, Does.CHANGES_OVER}
each_kind = pytest.mark.parametrize("kind", KINDS.values(), ids=KINDS)


def drawn() -> set[str]:
    """Symbols drawn in both conventions: the type of the set asks for both, or for saying that they are alike."""
    sets = (re.search(r"symbols: SymbolSet = \{(.*?)\n\};", f.read_text("utf-8"), re.S) for f in SYMBOLS.glob("*.ts"))
    return {name for found in sets if found for name in re.findall(r"^  (\w+): ", found[1], re.M)}


@each_kind
def test_every_part_says_what_it_is_for_and_is_drawn_in_both_conventions(kind: Kind) -> None:
    assert all(part.does is not Does.UNSTATED for part in kind.parts)
    assert {part.symbol for part in kind.parts} <= drawn()


@each_kind
def test_what_has_contacts_says_what_moves_them(kind: Kind) -> None:
    moving = [part for part in kind.parts if part.does in CONTACTS or part.does is Does.SWITCHES_LOAD]
    assert bool(moving) <= (kind.actuator is not Actuator.NOTHING)
    if kind.actuator in (Actuator.COIL, Actuator.CLOCK, Actuator.PULSE):
        assert any(part.does is Does.OPERATES for part in kind.parts)
        assert kind.ratings(kind.defaults()).holds_from is not None


@each_kind
def test_every_load_says_what_it_is_made_for(kind: Kind) -> None:
    outside = [b for b in kind.branches if b.role is Role.LOAD and b.a not in kind.internal_nodes]
    silent = {b.name for b in outside if kind.operating(kind.defaults(), b.name) is None}
    assert silent <= {"capacitor", "tap_1", "tap_2"}, "parts of a winding that is rated as a whole"


@each_kind
def test_what_travels_can_race(kind: Kind) -> None:
    state = kind.initial(kind.defaults())
    armature = kind.actuator in (Actuator.COIL, Actuator.PULSE)
    assert bool(kind.racing) == (armature or kind.actuator is Actuator.HAND)
    assert set(kind.racing) <= {param.name for param in kind.params}
    assert not armature or "moves_at_us" in state


@each_kind
def test_what_protects_names_its_own_parameter_and_contacts(kind: Kind) -> None:
    if kind.protects is not None:
        branches, params = {b.name for b in kind.branches}, {p.name for p in kind.params}
        assert {kind.protects.opens, kind.protects.closes, kind.protects.tells} - {""} <= branches
        assert {kind.protects.dial} - {""} <= params


@each_kind
def test_every_kind_says_what_can_go_wrong_with_it(kind: Kind) -> None:
    device = Device(id="x", kind=kind.name, label="X1")
    partners = [Device(id=name.lower(), kind="contactor", label=name) for name in kind.locks(kind.defaults())]
    circuit = Circuit(title="t", devices=(device, *partners))
    assembly = Assembly(circuit)
    faults = [fault for fault in possible_faults(circuit, assembly.devices) if fault.where == "x"]
    breaking = any(branch.role is not Role.SOURCE for branch in kind.branches)
    assert bool(faults) == (breaking or kind.sticks)
    for fault in faults:
        broken = Assembly(circuit, [fault])
        assert run(broken, initial_state(broken), [], 1_000).frames


NAMES = (
    {kind.name for kind in KINDS.values()}
    | {part.symbol for kind in KINDS.values() for part in kind.parts}
    | {
        terminal.name
        for kind in KINDS.values()
        for terminal in kind.terminals
        if not re.fullmatch(r".|[0-9.]+", terminal.name)
    }
)
# Words that are names of the catalogue by chance: a place that was hit, a group, a rule, duties of a motor.
CHANCE = {"terminal", "current_transformer", "S1", "S2"}
PYTHON = [
    path
    for folder in ("wiretrace", "server")
    for path in (ROOT / folder).rglob("*.py")
    # What an upgrade finds was named by whoever wrote it then.
    if not {"catalogue", "patterns", "library"} & set(path.parts) and path.name != "upgrades.py"
]
TYPESCRIPT = [
    path
    for path in (ROOT / "web" / "src").rglob("*.ts*")
    if not {"symbols", "api", "testing"} & set(path.parts) and ".test." not in path.name
]


def named_in_python(path: Path) -> Iterator[str]:
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and node.value in NAMES:
            yield f"{path.relative_to(ROOT)}:{node.lineno} {node.value}"


def named_in_typescript(path: Path) -> Iterator[str]:
    text = path.read_text("utf-8")
    for found in re.finditer(r"""["'`]([^"'`\n]+)["'`]""", text):
        if found[1] in NAMES:
            yield f"{path.relative_to(ROOT)}:{text.count(chr(10), 0, found.start()) + 1} {found[1]}"


def test_no_name_of_the_catalogue_stands_outside_it() -> None:
    assert len(PYTHON) > 60
    assert len(TYPESCRIPT) > 60
    named = [line for path in PYTHON for line in named_in_python(path)]
    named += [line for path in TYPESCRIPT for line in named_in_typescript(path)]
    assert [line for line in named if line.rpartition(" ")[2] not in CHANCE] == []


def test_no_one_compares_symbols() -> None:
    """A symbol is looked up to be drawn; whoever asks what it is asks for its function."""
    compared = re.compile(
        r"\.symbol\s*(===|!==|==|in\b|\.(endsWith|startsWith|match))|(\.test|\.has)\(\w*\.?\w*\.symbol\)"
    )
    assert [path.name for path in (*PYTHON, *TYPESCRIPT) if compared.search(path.read_text("utf-8"))] == []


@each_kind
def test_remedies_are_told_in_a_sentence_with_the_way_back(kind: Kind) -> None:
    for code, sentence in kind.remedies.items():
        assert code in WORDS
        assert sentence.endswith(".")
        assert 30 < len(sentence) < 140


def test_what_calls_for_attention_in_the_library_is_told_about() -> None:
    """Every sequence that ships: a device that calls for attention and trips, welds, burns, blows or hums says why."""
    grave = ("tripped", "welded", "coil_burnt", "blown", "hums", "secondary_open", "too_hot")
    told = 0
    for name in library_names():
        kinds = {item.id: KINDS[item.kind] for item in library_circuit(name).devices}
        for step in played(name):
            views = step.frames[-1].views
            for item, kind in kinds.items():
                view = views[item]
                if view.attention and any(tells(view.status, code) for code in grave):
                    assert kind.remedy(view.status), f"{name}: {item} {view.status}"
                    told += 1
    assert told > 5
