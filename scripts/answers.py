"""How long a server that is running takes to answer: `python -m scripts.answers [ADDRESS]`, on a machine that is idle.

A press with ten seconds of run-up, a reading and an explanation, on a library circuit and on one of three hundred
devices; and from a press of a button on the screen to the changed picture.
"""

import argparse
import json
import time
import urllib.request
from collections.abc import Callable
from statistics import median
from typing import Any, Final

from playwright.sync_api import sync_playwright

from wiretrace.document.circuit import Circuit, Conductor, Device, End
from wiretrace.library import library_circuit

ADDRESS: Final = "http://127.0.0.1:8000"
TIMES: Final = 15


def many(count: int) -> Circuit:
    """So many start-stop circuits on one supply, fourteen devices each."""
    one = library_circuit("start-stop-overload-line")
    source = next(device for device in one.devices if device.kind.startswith("supply"))
    devices: list[Device] = [source]
    wires: list[Conductor] = []
    for number in range(count):

        def named(end: End, number: int = number) -> End:
            own = end.device == source.id
            return end if own else End(device=f"{end.device}-{number}", terminal=end.terminal)

        devices += [
            device.model_copy(update={"id": f"{device.id}-{number}", "label": f"{device.label}.{number}"})
            for device in one.devices
            if device is not source
        ]
        wires += [
            wire.model_copy(
                update={"id": f"{wire.id}-{number}", "number": None, "a": named(wire.a), "b": named(wire.b)}
            )
            for wire in one.conductors
        ]
    return Circuit(title="Many starters", devices=tuple(devices), conductors=tuple(wires))


def ask(address: str, path: str, body: dict[str, Any]) -> Any:
    request = urllib.request.Request(
        f"{address}/api/simulation/{path}", json.dumps(body).encode(), {"Content-Type": "application/json"}
    )
    with urllib.request.urlopen(request, timeout=30) as answer:
        # A worker that has not met the circuit says nothing: it is the others that are measured.
        return json.load(answer) if answer.status == 200 else None


def took_ms(work: Callable[[], object]) -> float:
    times = []
    for _ in range(TIMES + 5):
        begun = time.perf_counter()
        work()
        times.append(1000 * (time.perf_counter() - begun))
    return median(times[5:])


def of_circuit(address: str, circuit: Circuit, start: str, coil: str) -> None:
    whole = {"circuit": circuit.model_dump(mode="json")}
    press = [{"at_us": 0, "device": start, "operation": "press", "value": True}]
    first = [ask(address, "run", {**whole, "until_us": 1_000_000}) for _ in range(24)][-1]
    named = {"ref": first["ref"], "state": first["end"]}
    at = {"actions": [{**press[0], "at_us": named["state"]["time_us"]}], "until_us": 11_000_000}
    probes = {"red": {"device": coil, "terminal": "A1"}, "black": {"device": coil, "terminal": "A2"}}
    print(f"{len(circuit.devices)} devices")
    print(f"  a press and ten seconds of run-up: {took_ms(lambda: ask(address, 'run', {**named, **at})):.1f} ms")
    print(f"  a reading: {took_ms(lambda: ask(address, 'read', {**named, 'probes': [probes]})):.1f} ms")
    print(f"  an explanation: {took_ms(lambda: ask(address, 'explain', {**named, 'probes': probes})):.1f} ms")


def press_to_picture_ms(address: str) -> float:
    """From a pointer that goes down on a button of the door to the lamp that is lit in the document, milliseconds."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{address}/jobs/1/run")
        page.get_by_role("button", name="S1 Start").wait_for()
        page.wait_for_timeout(2000)
        script = """async () => {
          const says = () => document.querySelector('[data-says="K1"]').textContent;
          const button = [...document.querySelectorAll('button')].find((b) => b.ariaLabel?.startsWith('S1 Start'));
          const before = says(), begun = performance.now();
          button.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
          while (says() === before) await new Promise(requestAnimationFrame);
          const took = performance.now() - begun;
          button.dispatchEvent(new KeyboardEvent('keyup', { key: 'Enter', bubbles: true }));
          [...document.querySelectorAll('button')].find((b) => b.ariaLabel?.startsWith('S0 Stop'))
            .dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
          await new Promise((r) => setTimeout(r, 400));
          [...document.querySelectorAll('button')].find((b) => b.ariaLabel?.startsWith('S0 Stop'))
            .dispatchEvent(new KeyboardEvent('keyup', { key: 'Enter', bubbles: true }));
          await new Promise((r) => setTimeout(r, 400));
          return took;
        }"""
        times = [page.evaluate(script) for _ in range(8)]
        browser.close()
    return float(median(times[2:]))


def main() -> None:
    parser = argparse.ArgumentParser(prog="python -m scripts.answers", description=__doc__)
    parser.add_argument("address", nargs="?", default=ADDRESS)
    parser.add_argument("--circuits", type=int, default=21, help="start-stop circuits of the large one")
    parser.add_argument("--no-picture", action="store_true", help="without a browser")
    told = parser.parse_args()
    address = told.address
    of_circuit(address, library_circuit("star-delta-timer-first-closure"), "start", "k-line")
    of_circuit(address, many(told.circuits), "start-0", "contactor-0")
    if told.no_picture:
        return
    print(f"from a press to the changed picture: {press_to_picture_ms(address):.0f} ms")


if __name__ == "__main__":
    main()
