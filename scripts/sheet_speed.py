"""Prints how fast a sheet of 300 parts is panned, edited and checked in the browser; figures for docs/performance.md.

.venv/bin/python -m scripts.sheet_speed
"""

import argparse
import json
import statistics
import urllib.request
from typing import Any

from playwright.sync_api import Page

from scripts.screenshots import on_the_real_thing

COPIES = 38
FRAMES = """() => {
    const at = [];
    let on = true;
    const tick = (t) => { at.push(t); if (on) requestAnimationFrame(tick); };
    requestAnimationFrame(tick);
    window.stopFrames = () => { on = false; return at.slice(1).map((t, i) => t - at[i]); };
}"""
EDITS = """() => {
    window.edits = [];
    window.addEventListener('keydown', (event) => {
        if (event.key !== 'z') return;
        const start = performance.now();
        requestAnimationFrame(() => {
            const channel = new MessageChannel();
            channel.port1.onmessage = () => window.edits.push(performance.now() - start);
            channel.port2.postMessage(0);
        });
    }, true);
}"""


def starters(copies: int) -> dict[str, Any]:
    """So many small starters on one control sheet, eight parts each."""
    devices: list[dict[str, Any]] = [{"id": "g", "kind": "supply_single_phase", "label": "G1"}]
    symbols: list[dict[str, Any]] = [{"device": "g", "part": "supply", "x": 8, "y": 3}]
    wires: list[dict[str, Any]] = []

    def join(*ends: str) -> None:
        a, b = ({"device": end.split(":")[0], "terminal": end.split(":")[1]} for end in ends)
        wires.append({"id": f"w{len(wires)}", "a": a, "b": b})

    for i in range(copies):
        made: tuple[tuple[str, str, str, dict[str, Any]], ...] = (
            ("f", "breaker", f"F{i}", {"poles": 1}),
            ("a", "push_button", f"S{2 * i}", {"contacts": "NC"}),
            ("b", "push_button", f"S{2 * i + 1}", {}),
            ("k", "contactor", f"K{i}", {}),
            ("h", "lamp", f"H{2 * i}", {}),
            ("j", "lamp", f"H{2 * i + 1}", {}),
        )
        for stem, kind, label, params in made:
            devices.append({"id": f"{stem}{i}", "kind": kind, "label": label, "params": params})
        x, y = 10 + (i % 12) * 28, 10 + (i // 12) * 38
        for stem, part, dx, dy in (("f", "poles", 0, 0), ("a", "11-12", 0, 7), ("b", "13-14", 0, 14),
                                   ("k", "13-14", 8, 14), ("k", "coil", 0, 22), ("h", "lamp", 8, 22),
                                   ("k", "21-22", 16, 14), ("j", "lamp", 16, 22)):  # fmt: skip
            symbols.append({"device": f"{stem}{i}", "part": part, "x": x + dx, "y": y + dy})
        join("g:L" if i == 0 else f"f{i - 1}:1", f"f{i}:1")
        join("g:N" if i == 0 else f"k{i - 1}:A2", f"k{i}:A2")
        for a, b in (("f:2", "a:11"), ("a:12", "b:13"), ("b:13", "k:13"), ("b:14", "k:14"), ("b:14", "k:A1"),
                     ("k:A1", "h:X1"), ("f:2", "k:21"), ("k:22", "j:X1"), ("k:A2", "h:X2"),
                     ("h:X2", "j:X2")):  # fmt: skip
            join(a.replace(":", f"{i}:"), b.replace(":", f"{i}:"))
    sheet = {"id": "control", "title": "Control", "kind": "control", "symbols": symbols}
    return {"format": "wiretrace/circuit", "version": 1, "title": "Starters", "devices": devices,
            "conductors": wires, "sheets": [sheet]}  # fmt: skip


def measure(page: Page, address: str, copies: int) -> None:
    checks: list[float] = []
    page.on("requestfinished", lambda r: checks.append(r.timing["responseEnd"]) if r.url.endswith("/check") else None)
    body = json.dumps({"title": "Starters", "circuit": starters(copies)}).encode()
    request = urllib.request.Request(f"{address}/api/jobs", body, {"Content-Type": "application/json"})
    with urllib.request.urlopen(request) as answer:
        job = json.load(answer)["id"]
    page.goto(f"{address}/jobs/{job}/draw")
    page.wait_for_timeout(3000)
    print(f"{page.locator('.part').count()} parts")
    _pan(page)
    _edit(page)
    print(f"check after an edit: {statistics.median(checks[1:]):.0f} ms")


def _pan(page: Page) -> None:
    box = page.locator(".board-window").bounding_box()
    if box is None:
        raise RuntimeError("there is no board")
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    for _ in range(6):
        page.mouse.wheel(0, -120)
        page.wait_for_timeout(60)
    page.evaluate(FRAMES)
    page.mouse.down(button="middle")
    for step in range(120):
        page.mouse.move(x + (step * 7) % 200 - 100, y + (step * 3) % 120 - 60)
        page.wait_for_timeout(8)
    page.mouse.up(button="middle")
    spans = sorted(page.evaluate("window.stopFrames()"))
    print(f"pan: median {statistics.median(spans):.1f} ms a frame, 95 % within {spans[int(len(spans) * 0.95)]:.1f} ms")


def _edit(page: Page) -> None:
    page.locator(".board").focus()
    page.keyboard.press("/")
    page.keyboard.type("h2")
    page.keyboard.press("Enter")
    for _ in range(5):
        for key in ("m", "ArrowRight", "Enter"):
            page.keyboard.press(key)
        page.wait_for_timeout(1000)
    page.evaluate(EDITS)
    for key in ("Control+z", "Control+z", "Control+z", "Control+Shift+z", "Control+z"):
        page.keyboard.press(key)
        page.wait_for_timeout(1000)
    print(f"an edit, to the screen: median {statistics.median(page.evaluate('window.edits')):.0f} ms")


def main() -> None:
    parser = argparse.ArgumentParser(prog="python -m scripts.sheet_speed", description=__doc__)
    parser.add_argument("--copies", type=int, default=COPIES, help="starters on the sheet, of eight parts each")
    copies = parser.parse_args().copies
    on_the_real_thing(lambda page, address: measure(page, address, copies))


if __name__ == "__main__":
    main()
