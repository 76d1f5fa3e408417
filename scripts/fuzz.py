"""Sends mutated documents over every route of the interface and every verb of the shell.

Nothing may end in an internal error or a traceback, nothing may take longer than its bound, no answer may be larger
than one may be. `./test` tries some; all of it: .venv/bin/python -m scripts.fuzz --documents 10000
"""

import argparse
import copy
import json
import random
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final

from click.testing import CliRunner
from flask.testing import FlaskClient

from scripts.postgres import start_cluster
from server.app import create_app
from server.config import Config
from server.store.migrations import migrate
from wiretrace.cli.main import main as shell
from wiretrace.interchange.lists import wire_list
from wiretrace.interchange.subcircuits import device_netlist
from wiretrace.library import library_circuit, library_names

MOST_S: Final = 2.6
"""Computing that a request may take: two seconds and what it takes to notice."""
WORKED_S: Final = 6.6
"""The same where a circuit is worked whole, which has six."""
MOST_BYTES: Final = 5_000_000

HOSTILE: Final[tuple[Any, ...]] = (
    *(None, True, False, 0, -1, 1, 2**31, 2**53, 2**63, -(2**64), int("9" * 400), 1e308, -1e-308, 0.1),
    *(float("nan"), float("inf"), "", " ", "\x00", "\ud800", "\u2028", "a\nb", "\r\n.control\nshell id\n.endc"),
    *("=cmd|' /C calc'!A0", "\uff1d1+1", " =1", "-1+1", "x" * 300, "y" * 5000, "../../etc/passwd", "K1", "L1", "13-14"),
    *("<script>", "%s%n", "'; DROP TABLE jobs; --", "1e999", [], {}, [[]], {"a": {"b": []}}, ["x"] * 50),
)


TELLING: Final = frozenset(("circuit", "devices", "params", "state", "faults", "actions", "probes", "strays"))
"""Where a change matters most: half of the changes are made there."""


SHEET: Final = {"title": "t", "states": [{"title": "a", "at_us": 1}, {"title": "b", "at_us": 500_000}]}
FAULT_TEXTS: Final = (
    *("K1:A1=open", "K1/coil=300ohm@2s~7", "K1/coil=open@" + "9" * 200 + "s", "K1/coil=open~" + "9" * 200),
    *("F2/dial_a=1e400", "K1/coil=" + "9" * 17 + "ohm", "w1=to K1:A1", "=@~"),
)


@dataclass(frozen=True)
class Trial:
    """One request: where it goes, what it carries, and how to make it again."""

    method: str
    path: str
    body: Any
    seed: int


@dataclass(frozen=True)
class Fault:
    """What went wrong with a trial."""

    trial: Trial
    what: str


def mutated(value: Any, chance: random.Random) -> Any:
    """A copy of a JSON value with a place or a few changed."""
    found = copy.deepcopy(value)
    for _ in range(chance.choice((1, 1, 1, 2, 4))):
        found = _changed(found, chance)
    return found


def _changed(value: Any, chance: random.Random) -> Any:
    """The value with one place in it changed: somewhere on the way down it stops."""
    if not isinstance(value, dict | list) or not value or chance.random() < 0.08:
        return _replaced(value, chance)
    places = list(value) if isinstance(value, dict) else list(range(len(value)))
    liked = [place for place in places if place in TELLING]
    place = chance.choice(liked if liked and chance.random() < 0.6 else places)
    what = chance.random()
    if what < 0.06:
        del value[place]
    elif what < 0.10 and isinstance(value, dict):
        value[str(chance.choice(HOSTILE))] = value[place]
    elif what < 0.14 and isinstance(value, list):
        value.extend(copy.deepcopy(value[place]) for _ in range(chance.choice((1, 3, 200))))
    elif what < 0.18:
        other = chance.choice(places)
        value[place], value[other] = value[other], value[place]
    else:
        value[place] = _changed(value[place], chance)
    return value


def _replaced(value: Any, chance: random.Random) -> Any:
    if isinstance(value, int | float) and abs(value) < 1e300 and not isinstance(value, bool) and chance.random() < 0.4:
        return value * chance.choice((-1, 0, 1e-9, 1e3, 1e9, 1e30))
    if isinstance(value, str) and value and chance.random() < 0.4:
        at = chance.randrange(len(value))
        return value[:at] + str(chance.choice(HOSTILE)) + value[at + chance.randint(0, 2) :]
    return copy.deepcopy(chance.choice(HOSTILE))


def garbled(text: str, chance: random.Random) -> str:
    """A text with pieces lost, doubled, moved and replaced."""
    for _ in range(chance.randint(1, 6)):
        a, b = sorted(chance.randrange(len(text) + 1) for _ in range(2))
        b = min(b, a + chance.choice((1, 5, 60, 2000)))
        piece = chance.choice(("", text[a:b] * 2, str(chance.choice(HOSTILE)), text[a:b][::-1]))
        text = text[:a] + piece + text[b:]
    return text


def trials(first: int, count: int) -> Iterator[Trial]:
    """So many requests, the same for the same seed."""
    names = library_names()
    for seed in range(first, first + count):
        chance = random.Random(seed)
        circuit = library_circuit(chance.choice(names))
        document = circuit.model_dump(mode="json")
        if chance.random() < 0.6:
            # What is not layout is hit more often then.
            document["sheets"] = []
        method, path, body = chance.choice(_requests(document, chance))
        if path == "/api/import":
            texts = {"circuit": json.dumps(document), "wires": wire_list(circuit), "netlist": device_netlist(circuit)}
            kind = chance.choice(list(texts))
            yield Trial(method, path, {"title": "t", "format": kind, "text": garbled(texts[kind], chance)}, seed)
            continue
        yield Trial(method, path, mutated(body, chance) if body else None, seed)


def _requests(document: dict[str, Any], chance: random.Random) -> list[tuple[str, str, Any]]:
    device = chance.choice(document["devices"])["id"]
    wire = chance.choice(document["conductors"])
    probes = {"red": wire["a"], "black": chance.choice(document["conductors"])["b"]}
    place, ohm = {"place": chance.choice((device, wire["id"]))}, {"resistance_ohm": 300.0}
    times = {"slot_us": chance.choice((0, 1, 10_000, 10**9)), "seed": 3}
    fault = chance.choice((
        {"kind": chance.choice(("open", "welded", "wrong_contact")), "branch": "13-14", **place},
        {"kind": chance.choice(("high_resistance", "short")), "branch": "13-14", **place, **ohm},
        {"kind": "loose_terminal", "place": device, "terminal": wire["a"]["terminal"], **ohm},
        {"kind": "bridge", "place": device, "terminal": wire["a"]["terminal"], "to": wire["b"], **ohm},
        {"kind": "moved", "place": wire["id"], "to": wire["b"], "end": "b"},
        {"kind": "exchanged", "place": wire["id"], "other": chance.choice(document["conductors"])["id"]},
        {"kind": chance.choice(("setting", "operated")), "place": device, "name": "switch", "value": True},
    ))  # fmt: skip
    faults = [{**fault, **times}] * chance.choice((0, 0, 1, 20))
    given = {"circuit": document, "state": {"time_us": 0, "devices": {}}, "faults": faults}
    action = {"at_us": 5, "device": device, "operation": chance.choice(("press", "switch", "turn")), "value": True}
    until = chance.choice((1, 10**6, 10**9, 86_400 * 10**6))
    stroke = {"kind": "text", "layer": "texts", "points": [[1, 2]], "text": "K1", "size": 3}
    page = {"title": "Power", "width": 100, "height": 80, "strokes": [stroke, {**stroke, "kind": "line"}]}
    order = {"based_on": chance.choice((0, 1)), "writer": "w", "serial": chance.randint(1, 9)}
    seen = {"halt": 0, "device": device, "text": "x"}
    number = chance.choice(("1", "0", "-1", "9" * 30, "9" * 400, "x" * 300, "%00", "1e9", "\u0661"))
    return [
        ("POST", "/api/simulation/run", {**given, "actions": [action], "until_us": until, "probes": [probes]}),
        ("POST", "/api/simulation/read", {**given, "probes": [probes] * 3}),
        ("POST", "/api/simulation/explain", {**given, "probes": probes}),
        ("POST", "/api/faults", {"circuit": document, "text": chance.choice(FAULT_TEXTS)}),
        ("POST", "/api/size", {"sizing": {"fields": {"power": "1.5 kW", "voltage": "400", "current": "3.4"}}}),
        ("POST", "/api/predictions/positions", {"circuit": document, "sheet": {**SHEET, "meters": [
            {"letter": "A", **probes}]}, "apart": [0, 1]}),
        ("POST", f"/api/jobs/{number}/exercises", {"circuit": document, "number": 3, "faults": []}),
        ("PUT", "/api/jobs/1/panel", {**order, "panel": {"observations": [seen]}}),
        ("PUT", "/api/jobs/1/sizing", {**order, "sizing": {"fields": {"power": "1 kW"}}}),
        ("POST", "/api/check", {"circuit": document}),
        ("POST", "/api/compare", {"before": document, "after": document}),
        ("POST", "/api/tidy", {"circuit": document, "convention": "nema", "keep": True, "letters": True}),
        ("POST", "/api/pattern", {"pattern": "reversing", "control_voltage_v": 230.0}),
        ("POST", "/api/import", {}),
        *(("POST", f"/api/export/{name}", {"circuit": document})
          for name in ("wires.csv", "terminals.csv", "parts.csv", "circuit.cir", "devices.cir", f"{number}.csv")),
        *(("POST", f"/api/drawing/sheets.{kind}", {"title": "t", "pages": [page]}) for kind in ("pdf", "dxf")),
        ("POST", "/api/jobs", {"title": "t", "place": "p", "circuit": document}),
        ("PUT", "/api/jobs/1/circuit", {**order, "circuit": document}),
        ("PATCH", f"/api/jobs/{number}", {"title": "t", "place": "p", "writer": "w", "serial": 1}),
        ("POST", f"/api/jobs/{number}/versions", {"name": "n", "circuit": document}),
        ("GET", f"/api/jobs/{number}/versions/{number}", None),
        ("DELETE", f"/api/jobs/{number}/versions/{number}", None),
        ("GET", f"/api/jobs/{number}", None),
        ("GET", f"/{number}", None),
    ]  # fmt: skip


def tried(client: FlaskClient, trial: Trial) -> Fault | None:
    """Send a request; what is wrong with the answer."""
    begun = time.process_time()
    data = None if trial.body is None else json.dumps(trial.body)
    answer = client.open(trial.path, method=trial.method, data=data, content_type="application/json")
    took, content = time.process_time() - begun, answer.data
    answer.close()
    if answer.status_code >= 500:
        return Fault(trial, f"answers {answer.status_code}: {content[:200]!r}")
    if took > (WORKED_S if trial.path.startswith("/api/check/") else MOST_S):
        return Fault(trial, f"takes {took:.1f} s")
    if len(content) > MOST_BYTES:
        return Fault(trial, f"answers {len(content)} bytes")
    if answer.status_code >= 400 and answer.content_type != "application/problem+json":
        return Fault(trial, f"answers {answer.status_code} as {answer.content_type}")
    return None


VERBS: Final = (
    ("run", "FILE", "--until", "2s"),
    ("run", "FILE", "--json", "--fault", "K1:A1=open"),
    ("explain", "FILE", "K1:A1,K1:A2"),
    ("explain", "FILE", "K1:A1,K1:A2", "--ohms"),
    ("explain", "FILE", "w1", "--amperes"),
    ("measure", "FILE", "--volts", "K1:A1,K1:A2", "--insulation", "M1:U1,M1:PE", "--capture", "w1"),
    ("map", "FILE", "M1:PE"),
    ("table", "FILE", "--sequence", "OTHER"),
    ("races", "FILE", "--do", "S1.press@0.1s"),
    ("validate", "FILE"),
    ("check", "FILE"),
    ("export", "spice", "FILE"),
    ("export", "list", "FILE", "wires"),
    ("export", "list", "FILE", "devices"),
    ("import", "OTHER"),
)


def shell_tried(seed: int, folder: Path) -> Fault | None:
    """One verb of the shell on a mutated file; what is wrong with how it ends."""
    chance = random.Random(seed)
    circuit = library_circuit(chance.choice(library_names()))
    verb = chance.choice(VERBS)
    document = mutated(circuit.model_dump(mode="json"), chance)
    text = json.dumps(document) if chance.random() < 0.7 else garbled(json.dumps(document), chance)
    file, other = folder / "circuit.json", folder / "other.txt"
    file.write_bytes(text.encode("utf-8", "surrogatepass"))
    steps = {"steps": [{"text": "t", "do": [["S1", "press", True]], "wait_s": 0.5, "expect": {"K1": "in"}}]}
    lists = (wire_list(circuit), device_netlist(circuit), json.dumps(steps))
    other.write_bytes(garbled(chance.choice(lists), chance).encode("utf-8", "surrogatepass"))
    words = [{"FILE": str(file), "OTHER": str(other)}.get(word, word) for word in verb]
    begun = time.process_time()
    done = CliRunner().invoke(shell, ["--seconds", "2", *words])
    took = time.process_time() - begun
    trial = Trial("shell", " ".join(verb), None, seed)
    if done.exception is not None and not isinstance(done.exception, SystemExit):
        return Fault(trial, f"ends in {done.exception!r}")
    return Fault(trial, f"takes {took:.1f} s") if took > MOST_S else None


def main() -> int:
    parser = argparse.ArgumentParser(prog="python -m scripts.fuzz", description=__doc__)
    parser.add_argument("--documents", type=int, default=10_000, help="how many over HTTP; a tenth as many by shell")
    parser.add_argument("--first", type=int, default=0, help="first seed")
    arguments = parser.parse_args()
    with tempfile.TemporaryDirectory() as made:
        folder = Path(made)
        folder.chmod(0o755)
        cluster = start_cluster(folder / "postgres", "-c", "fsync=off")
        try:
            migrate(cluster.url)
            app = create_app(Config(cluster.url, folder))
            app.config["PROPAGATE_EXCEPTIONS"] = False
            faults = _all(app.test_client(), folder, arguments.first, arguments.documents)
            app.extensions["database"].close()
        finally:
            cluster.stop()
    return 1 if faults else 0


def _all(client: FlaskClient, folder: Path, first: int, count: int) -> list[Fault]:
    faults: list[Fault] = []
    answered: Counter[str] = Counter()
    for trial in trials(first, count):
        fault = tried(client, trial)
        answered[trial.path.split("/")[2] if trial.path.startswith("/api/") else "/"] += 1
        if fault:
            faults.append(fault)
            print(f"seed {trial.seed}: {trial.method} {trial.path[:60]} {fault.what}", flush=True)
    for seed in range(first, first + count // 10):
        fault = shell_tried(seed, folder)
        answered["shell"] += 1
        if fault:
            faults.append(fault)
            print(f"shell seed {seed}: {fault.trial.path} {fault.what}", flush=True)
    print(f"{sum(answered.values())} tried, {len(faults)} went wrong. {dict(answered)}")
    return faults


if __name__ == "__main__":
    raise SystemExit(main())
