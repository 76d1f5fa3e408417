"""What the isolator of a panel leaves live: whoever works there is told before (IEC 60204-1:2016, 5.3.5)."""

from collections.abc import Iterator, Mapping

from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.document.circuit import End
from wiretrace.simulation.assembly import Assembly
from wiretrace.simulation.engine import initial_state, run
from wiretrace.simulation.reach import Standing, reach
from wiretrace.simulation.state import Action

SETTLES_US = 1_000_000


def leaves_live(assembly: Assembly, stands: Mapping[str, Mapping[str, bool]] | None = None) -> tuple[End, ...]:
    """Terminals that a live pole reaches with everything off that can be locked off, in the order of the document.

    The switches of the supplies stand as `stands` says of each device; without that, on. Nothing where nothing can be
    locked off. Raises what a run raises.
    """
    locks = list(_locks(assembly))
    if not locks:
        return ()
    hands = [Action(0, device, name, value) for device, name, value in (*_supplies(assembly, stands or {}), *locks)]
    frame = run(assembly, initial_state(assembly), hands, SETTLES_US).frames[-1]
    standing = reach(assembly, frame).standing
    return tuple(
        end
        for item in assembly.devices.values()
        for terminal in item.structure.terminals
        if standing[assembly.node(end := End(device=item.id, terminal=terminal.name))] is Standing.LIVE
    )


def _locks(assembly: Assembly) -> Iterator[tuple[str, str, bool]]:
    """The handle of each device that can be locked off, and then its lock."""
    for item in assembly.devices.values():
        if any(one.locks_off for one in item.kind.operations):
            yield from ((item.id, one.name, False) for one in item.kind.operations if one.handle)
            yield from ((item.id, one.name, True) for one in item.kind.operations if one.locks_off)


def _supplies(assembly: Assembly, stands: Mapping[str, Mapping[str, bool]]) -> Iterator[tuple[str, str, bool]]:
    for item in assembly.devices.values():
        if item.id in stands and item.structure.parts_that(Does.FEEDS):
            for one in item.kind.operations:
                if one.style == "toggle" and one.name in stands[item.id]:
                    yield item.id, one.name, stands[item.id][one.name]


def isolation_words(assembly: Assembly) -> str:
    """What to know before working on the panel: what stays live, by device; empty where nothing does."""
    live: dict[str, list[str]] = {}
    for end in leaves_live(assembly):
        live.setdefault(end.device, []).append(end.terminal)
    if not live:
        return ""
    locks = dict.fromkeys(assembly.devices[device].label for device, _, _ in _locks(assembly))
    told = "; ".join(f"{assembly.devices[device].label} {', '.join(ends)}" for device, ends in live.items())
    return f"With {' and '.join(locks)} locked off these stay live: {told}. Prove all else dead before it is touched."
