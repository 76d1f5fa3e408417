"""Every rule finds its mistake in a circuit that was right before, and only there."""

import pytest
from click.testing import CliRunner

from tests.core.circuits import circuit, device, end, wire, with_params
from wiretrace.checks.check import RULES, check
from wiretrace.checks.finding import Finding, Outcome
from wiretrace.cli.main import main
from wiretrace.document.circuit import Circuit, Conductor, Device
from wiretrace.library import library_circuit, library_names

LINE, REVERSING = "start-stop-overload-line", "reversing-interlocked"
STAR_DELTA = "star-delta-timer-first-closure"


def found(changed: Circuit) -> dict[str, list[Finding]]:
    """Findings by rule."""
    return {result.rule: list(result.findings) for result in check(changed) if result.findings}


def rewired(base: Circuit, **moves: str) -> Circuit:
    """Conductors with their end b elsewhere, or taken away with an empty text; `id="a>device:terminal"` moves end a."""
    wires: list[Conductor] = []
    for conductor in base.conductors:
        where = moves.get(conductor.id.replace("-", "_"))
        if where is None:
            wires.append(conductor)
        elif where.startswith("a>"):
            wires.append(conductor.model_copy(update={"a": end(where[2:])}))
        elif where:
            wires.append(conductor.model_copy(update={"b": end(where)}))
    return base.model_copy(update={"conductors": tuple(wires)})


def with_more(base: Circuit, *more: Device | Conductor) -> Circuit:
    devices = tuple(item for item in more if isinstance(item, Device))
    wires = tuple(item for item in more if isinstance(item, Conductor))
    return base.model_copy(update={"devices": (*base.devices, *devices), "conductors": (*base.conductors, *wires)})


def other_contact(base: Circuit, device_id: str, old: tuple[str, str], new: tuple[str, str], **params: str) -> Circuit:
    """The wires of one contact of a device on another contact of it."""
    names = dict(zip(old, new, strict=True))
    wires = []
    for conductor in base.conductors:
        for side in ("a", "b"):
            at = getattr(conductor, side)
            if at.device == device_id and at.terminal in names:
                moved = at.model_copy(update={"terminal": names[at.terminal]})
                conductor = conductor.model_copy(update={side: moved})
        wires.append(conductor)
    bare = base.model_copy(update={"conductors": tuple(wires), "sheets": ()})
    return with_params(bare, {device_id: params} if params else {})


# Mistakes that a library circuit shows on purpose, or that are a matter of where it stands.
KNOWN = {
    "control-transformer-unearthed": {"secondary"},
    "frequency-converter-contactor-mistake": {"behind_converter"},
    "hand-off-auto": {"automatic_restart"},
    "hand-off-auto-seal-in-mistake": {"automatic_restart"},
    "level-relay-pump": {"automatic_restart"},
    "residual-current-neutral-mistake": {"residual"},
    "reversing-mechanical-interlock": {"interlock"},
    "reversing-stage-1": {"open_ends"},
    "reversing-stage-2": {"open_ends"},
    "reversing-stage-3": {"open_ends"},
    "two-wire-float": {"automatic_restart"},
    "two-wire-pressure": {"automatic_restart"},
    "two-wire-thermostat": {"automatic_restart"},
    "two-wire-sensor-leakage": {"sensors"},
}


# What no wire tells: what a program makes of a contact, and whether a motor of one phase needs a relay.
UNCLEAR = {
    "capacitor-motor-rc-mistake": {"motor_overload"},
    "star-delta-plc": {"overload_contact"},
    "up-down-common-first": {"motor_overload"},
    "up-down-common-middle": {"motor_overload"},
}


@pytest.mark.parametrize("name", library_names())
def test_library_circuits_are_clear_but_for_what_they_show(name: str) -> None:
    assert set(found(library_circuit(name))) == KNOWN.get(name, set())
    unclear = {result.rule for result in check(library_circuit(name)) if result.outcome is Outcome.CANNOT_TELL}
    assert unclear == UNCLEAR.get(name, set())


def numbered(base: Circuit, **numbers: str) -> Circuit:
    """The circuit with other numbers on some wires."""
    wires = [w.model_copy(update={"number": numbers.get(w.id, w.number)}) for w in base.conductors]
    return base.model_copy(update={"conductors": tuple(wires)})


def with_kind(base: Circuit, device_id: str, kind: str, **params: float | str) -> Circuit:
    """The circuit with a device of another kind in the place of one."""
    changed = {"kind": kind, "params": params}
    devices = [d.model_copy(update=changed) if d.id == device_id else d for d in base.devices]
    return base.model_copy(update={"devices": tuple(devices), "sheets": ()})


line, reversing, delta = library_circuit(LINE), library_circuit(REVERSING), library_circuit(STAR_DELTA)
drive = library_circuit("frequency-converter-fan")
ammeter, dc = library_circuit("current-transformer-ammeter"), library_circuit("dc-control-pnp")
MISTAKES: list[tuple[str, Circuit, str]] = [
    ("wire_numbers", numbered(line, c3="2"), "The number 2 stands on two potentials: at F2:96 and at S0:12"),
    ("stop_normally_closed", other_contact(line, "stop", ("11", "12"), ("13", "14"), contacts="NO"), "S0 is a stop"),
    ("start_normally_open", other_contact(line, "start", ("13", "14"), ("11", "12"), contacts="NC"), "S1 is no stop"),
    ("colour", with_params(line, {"stop": {"colour": "green"}}), "S0 is there to stop, but it is green"),
    ("colour", with_params(line, {"start": {"colour": "red"}}), "S1 is there to start, but it is red"),
    ("seal_in_across_stop", rewired(line, c3_seal="a>stop:11", c4_seal="stop:12"), "lies across the stop S0"),
    ("coil_fed", rewired(line, n_feed="run-lamp:X1"), "No way leads from a source through the coil K1"),
    ("coil_fed", rewired(line, n_feed="a>supply:PE"), "returns through earth"),
    ("coil_voltage", with_params(line, {"contactor": {"coil_voltage_v": 400.0}}), "made for 400 V"),
    ("coil_voltage", with_params(line, {"contactor": {"coil_voltage_v": 110.0}}), "there are 231 V"),
    ("automatic_restart", other_contact(line, "start", ("13", "14"), ("11", "12"), contacts="NC"), "by itself"),
    (
        "motor_overload",
        rewired(
            line,
            p1_contactor="x1:a",
            p1_overload="",
            p2_contactor="x2:a",
            p2_overload="",
            p3_contactor="x3:a",
            p3_overload="",
        ),
        "fed at U1, V1, W1",
    ),
    ("overload_contact", rewired(line, c1="stop:11", c2="", c1_aux="a>control-breaker:2", c1_trip=""), "not at all"),
    ("residual", rewired(library_circuit("residual-current-device"), n_feed="a>supply:N"), "goes round it at A2"),
    (
        "earthed_conductor",
        rewired(line, c_feed="a>supply:N", n_feed="a>isolator:2"),
        "F1 lies in N of G1, which is earthed, and can open it alone.",
    ),
    ("dial", with_params(line, {"overload": {"dial_a": 6.0}}), "lets the motor be overloaded"),
    ("dial", with_params(line, {"overload": {"dial_a": 2.5}}), "only fully loaded"),
    ("interlock", with_params(rewired(reversing, w38="k-open:A1", w39=""), {}), ""),
    ("phase_exchange", rewired(reversing, w17="k-open:2", w19="k-open:6"), "same order"),
    ("delta", rewired(delta, w20="motor:U2", w21="motor:W2"), ""),
    ("current_transformer", rewired(ammeter, w22=""), "is not closed"),
    ("current_transformer", with_params(ammeter, {"meter": {"scale_a": 50.0}}), "P1 is set for 50 A"),
    ("current_transformer", with_params(ammeter, {"meter": {"scale_a": 15.5}}), "P1 is set for 15.5 A"),
    ("control_protection", rewired(line, c1="a>isolator:2"), "without a fuse or breaker"),
    (
        "source_rating",
        with_params(
            library_circuit("control-transformer-earthed"),
            {"transformer": {"rating_va": 10.0}, "contactor": {"sealed_va": 20.0}},
        ),
        "10 VA",
    ),
    ("sensors", with_params(rewired(dc, w19="sensor:L-", w20="sensor:L+"), {}), ""),
    ("clamps", with_more(line, wire("extra", "stop:12", "run-lamp:X1"), wire("more", "stop:12", "x1:a")), "has"),
    ("behind_converter", with_more(drive, wire("extra", "fuses:2", "converter:U")), "Mains comes to the output of T1"),
    (
        "residual_type",
        with_kind(drive, "fuses", "residual_current_device", poles=4, residual_type="A"),
        "can leak smooth direct current",
    ),
    ("sensor_kind", with_params(library_circuit("thermistor-relay"), {"motor": {"sensors": "pt100"}}), "set for PTC"),
    ("open_ends", rewired(line, n_stopped="", n_tripped=""), "has no wire"),
    ("earth", rewired(line, pe_motor=""), "not joined to earth"),
]


@pytest.mark.parametrize(
    ("rule", "changed", "told"), MISTAKES, ids=[f"{r}-{n}" for n, (r, _, _) in enumerate(MISTAKES)]
)
def test_a_mistake_is_found_and_placed(rule: str, changed: Circuit, told: str) -> None:
    findings = found(changed).get(rule, [])
    assert findings, sorted(found(changed))
    assert any(told in f.message or told in f.why for f in findings), [f.message for f in findings]
    known = {item.id for item in changed.devices}
    for finding in findings:
        assert finding.message.endswith(".")
        assert finding.why.endswith(".")
        assert finding.device in known


def test_a_stop_into_a_controller_must_be_normally_closed() -> None:
    plc = library_circuit("star-delta-plc")
    changed = other_contact(plc, "stop", ("11", "12"), ("13", "14"), contacts="NO")
    assert "controller_stop" in found(changed)
    assert "stop_normally_closed" not in found(changed)


def test_a_ring_exchange_does_not_reverse() -> None:
    ring = rewired(reversing, w17="k-open:6", w18="k-open:2", w19="k-open:4")
    assert any("in a ring" in finding.message for finding in found(ring).get("phase_exchange", []))


def test_every_rule_has_a_mistake_in_this_file() -> None:
    told = {rule for rule, _, _ in MISTAKES} | {"controller_stop", "secondary"}
    assert {rule.name for rule in RULES} == told


def test_an_empty_sheet_has_nothing_to_check() -> None:
    assert {result.outcome for result in check(circuit([], []))} == {Outcome.NOT_ASKED}


def test_what_cannot_be_checked_says_why() -> None:
    """Two supplies without impedance in a loop: no voltage can be told."""
    stiff = {"source_resistance_ohm": 1e-6, "source_reactance_ohm": 0.0}
    devices = [device("g1", "supply_three_phase", **stiff), device("k1", "contactor"), device("s1", "selector_two")]
    wires = [wire("a", "g1:L1", "s1:13"), wire("b", "s1:14", "k1:A1"), wire("c", "k1:A2", "g1:N")]
    assert all(result.outcome is not Outcome.CANNOT_TELL for result in check(circuit(devices, wires)))


def test_the_command_line_tells_what_it_found() -> None:
    done = CliRunner().invoke(main, ["check", "two-wire-float"])
    assert done.exit_code == 0
    assert "found: No motor starts by itself" in done.output
    assert "clear: Stop contacts" not in done.output
    assert "K1 can come in by itself when the supply returns" in done.output


def test_links_in_the_terminal_box_that_close_delta_wrongly_are_found() -> None:
    """No contactor has a part in it: each winding lies with both ends on one line."""
    parts = [device("g1", "supply_three_phase"), device("m1", "motor_six_leads")]
    pairs = [("g1:L1", "m1:U1"), ("g1:L2", "m1:V1"), ("g1:L3", "m1:W1"), ("g1:PE", "m1:PE")]
    wrong = [("m1:U1", "m1:U2"), ("m1:V1", "m1:V2"), ("m1:W1", "m1:W2")]
    right = [("m1:U1", "m1:W2"), ("m1:V1", "m1:U2"), ("m1:W1", "m1:V2")]

    def told(links: list[tuple[str, str]]) -> list[str]:
        wires = [wire(f"w{n}", a, b) for n, (a, b) in enumerate([*pairs, *links])]
        return [finding.message for finding in found(circuit(parts, wires)).get("delta", [])]

    assert told(wrong) == ["As it is joined, winding U, V, W has one line at both ends of M1."]
    assert told(right) == []


def renamed(base: Circuit, device_id: str, name: str) -> Circuit:
    devices = tuple(d.model_copy(update={"function": name}) if d.id == device_id else d for d in base.devices)
    return base.model_copy(update={"devices": devices})


@pytest.mark.parametrize("name", ["", "Halt", "Start", "Unstoppable start", "Jog", "停止"])
def test_what_a_button_is_called_decides_nothing(name: str) -> None:
    """Its role does: a stop is one in any language, and a start that is called stop is none."""
    wrong_stop = other_contact(line, "stop", ("11", "12"), ("13", "14"), contacts="NO")
    assert set(found(renamed(wrong_stop, "stop", name))) == set(found(wrong_stop))
    assert "stop_normally_closed" in found(wrong_stop)
    unsealed = rewired(line, c4_seal="")
    assert set(found(renamed(unsealed, "start", name))) == set(found(unsealed))


@pytest.mark.parametrize(
    ("params", "outcome"),
    [
        ({"role": "stop", "colour": "black"}, Outcome.CLEAR),
        ({"role": "unsaid", "colour": "red"}, Outcome.CLEAR),
        ({"role": "start", "colour": "red"}, Outcome.FOUND),
        ({"role": "unsaid", "colour": "black"}, Outcome.CLEAR),
    ],
)
def test_a_button_stops_by_its_role_and_by_its_colour_where_none_is_said(
    params: dict[str, str], outcome: Outcome
) -> None:
    """One that opens its circuit and of which nothing is said is not accused: it is judged by what it does."""
    results = {one.rule: one for one in check(with_params(line, {"stop": params}))}
    assert results["start_normally_open"].outcome is outcome
