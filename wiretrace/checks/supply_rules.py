"""Rules about what feeds the control circuit: protection, transformers, supplies, sensors."""

import math
from collections.abc import Iterator

from wiretrace.catalogue.device import Role
from wiretrace.checks.facts import COILS, PROTECTION, Facts
from wiretrace.checks.finding import Finding, NothingToCheck, Rule
from wiretrace.circuit.checked import Installed


def control_circuit_is_protected(facts: Facts) -> Iterator[Finding]:
    coils = facts.coils
    if not coils:
        raise NothingToCheck
    bare = facts.parts(lambda ref: not facts.is_pole(ref) and facts.kind(ref) not in PROTECTION)
    # A power supply limits its current by itself.
    limits = {item.id for item in facts.of("power_supply_dc")}
    for item, a, b in coils:
        for node, terminal in ((a, "A1"), (b, "A2")):
            live = [pole for pole in bare.poles_at(node) if pole.what == "live" and pole.device not in limits]
            if live:
                yield Finding(
                    item.id,
                    f"{item.clamp(terminal)} gets {live[0].terminal} of {facts.label(live[0].device)} without a fuse "
                    "or breaker.",
                    "A short circuit in the control circuit burns the wires.",
                    item.id,
                    terminal,
                )


def _loads_va(facts: Facts) -> dict[str, float]:
    """By source, what the loads on it take when all of them are on and every armature is in, volt-amperes."""
    total: dict[str, float] = {}
    for item in facts.items:
        for branch in item.structure.branches:
            inside = item.structure.internal_nodes
            if branch.role is not Role.LOAD or branch.a in inside or branch.b in inside:
                continue
            poles = facts.all_closed.feeds(facts.node(item, branch.a), facts.node(item, branch.b))
            if poles is not None and poles[0].device == poles[1].device != item.id:
                total[poles[0].device] = total.get(poles[0].device, 0.0) + _rated_va(item)
    return total


def _rated_va(item: Installed) -> float:
    params = item.params
    if params.get("coil_kind") == "DC":
        return float(params["coil_power_w"])
    for name in ("sealed_va", "rated_va", "rated_power_w", "supply_power_w", "idle_power_w"):
        if name in params:
            return float(params[name])
    return 0.0


def sources_are_large_enough(facts: Facts) -> Iterator[Finding]:
    sources = facts.of("control_transformer", "power_supply_dc")
    if not sources:
        raise NothingToCheck
    taken_va = _loads_va(facts)
    for item in sources:
        if item.device.kind == "control_transformer":
            rating = float(item.params["rating_va"])
        else:
            rating = float(item.params["output_voltage_v"]) * float(item.params["rated_current_a"])
        taken = taken_va.get(item.id, 0.0)
        if taken > rating:
            yield Finding(
                item.id,
                f"{item.label} can give {rating:g} VA; all that hangs on it takes {taken:.0f} VA.",
                "Its voltage falls, coils let go, and it runs hot.",
                item.id,
            )


def secondaries_are_earthed_and_fused(facts: Facts) -> Iterator[Finding]:
    transformers = facts.of("control_transformer")
    if not transformers:
        raise NothingToCheck
    earths = {int(facts.wired.label[pole.node]) for pole in facts.poles if pole.what == "earth"}
    bare = facts.parts(lambda ref: not facts.is_pole(ref) and facts.kind(ref) not in PROTECTION)
    at_coils = {int(bare.label[node]) for _, a, b in facts.coils for node in (a, b)}
    for item in transformers:
        ends = [facts.node(item, name) for name in ("2.1", "2.2")]
        if not any(int(facts.wired.label[end]) in earths for end in ends):
            yield Finding(
                f"{item.id}/earth",
                f"The secondary of {item.label} is not earthed.",
                "A first earth fault goes unnoticed; a second one may go around the stop. Unearthed needs watching.",
                item.id,
                "2.2",
            )
        if int(bare.label[facts.node(item, "2.1")]) in at_coils:
            yield Finding(
                f"{item.id}/fuse",
                f"The secondary of {item.label} is not fused.",
                "A short circuit behind it burns the transformer: the primary fuse sees too little.",
                item.id,
                "2.1",
            )


def sensors_fit_their_circuit(facts: Facts) -> Iterator[Finding]:
    sensors = facts.of("sensor_three_wire", "sensor_two_wire")
    if not sensors:
        raise NothingToCheck
    for item in sensors:
        if item.device.kind == "sensor_three_wire":
            yield from _on_direct_voltage(facts, item)
        else:
            yield from _leaks_into_coils(facts, item)


def _on_direct_voltage(facts: Facts, item: Installed) -> Iterator[Finding]:
    poles = facts.all_closed.feeds(facts.node(item, "L+"), facts.node(item, "L-"))
    if poles is None:
        return
    makes_dc = all(facts.plant.devices[pole.device].device.kind in ("supply_dc", "power_supply_dc") for pole in poles)
    if not makes_dc or poles[0].what != "live":
        told = "on alternating voltage" if not makes_dc else "with plus and minus exchanged"
        yield Finding(
            item.id,
            f"The DC sensor {item.label} stands {told}.",
            "It needs direct voltage, plus at L+: from a power supply.",
            item.id,
            "L+",
        )


def _leaks_into_coils(facts: Facts, item: Installed) -> Iterator[Finding]:
    """What of the supply lies at a coil through the leakage of a sensor that is off?"""
    leak_ohm = 1000 * float(item.params["rated_voltage_v"]) / float(item.params["leakage_ma"])
    others = facts.joined_by(facts.control, but=tuple(facts.contacts_of(item.id)))
    ends = (facts.node(item, "1"), facts.node(item, "2"))
    for coil in facts.of(*COILS):
        nodes = (facts.node(coil, "A1"), facts.node(coil, "A2"))
        if not any(others.joined(node, end) for node in nodes for end in ends):
            continue
        volts = float(coil.params["coil_voltage_v"])
        factor = float(coil.params["sealed_power_factor"])
        size = volts**2 / float(coil.params["sealed_va"])
        total = complex(size * factor + leak_ohm, size * math.sqrt(1 - factor**2))
        percent = 100 * size / abs(total)
        if _hangs_on(facts, item, coil) and percent >= float(coil.params["drop_out_percent"]):
            yield Finding(
                f"{item.id}/{coil.id}",
                f"With {item.label} off, {percent:.0f} % of its voltage stays at the coil {coil.label}; it drops out "
                f"below {float(coil.params['drop_out_percent']):g} %.",
                "Once in it stays in. Put a larger coil or a resistor across it.",
                coil.id,
                "A1",
            )


def _hangs_on(facts: Facts, sensor: Installed, coil: Installed) -> bool:
    """Is the coil fed only through the sensor?"""

    without = facts.joined_by(facts.control, but=tuple(facts.contacts_of(sensor.id)))
    ends = facts.node(coil, "A1"), facts.node(coil, "A2")
    return without.feeds(*ends) is None and facts.all_closed.feeds(*ends) is not None


RULES = (
    Rule("control_protection", "The control circuit is protected", control_circuit_is_protected),
    Rule("source_rating", "Transformers and supplies are large enough", sources_are_large_enough),
    Rule("secondary", "Secondaries are earthed and fused", secondaries_are_earthed_and_fused),
    Rule("sensors", "Sensors fit their circuit", sensors_fit_their_circuit),
)
