"""Breaks the code on purpose, one way at a time, and sees whether a test notices.

    .venv/bin/python -m scripts.breaks            all of them, about five minutes
    .venv/bin/python -m scripts.breaks wheel      those with a word in their name

It works on a copy. A break that no test notices, or that no longer fits the code, is told, and the exit code is 1.
"""

import shutil
import subprocess
import sys
import tempfile
from dataclasses import dataclass
from pathlib import Path
from typing import Final

from scripts.site import ROOT

LEFT_OUT: Final = (".git", ".venv", ".local", "node_modules", "dist", "__pycache__", ".hypothesis", "docs")


@dataclass(frozen=True)
class Break:
    """One way to break the code: in a file, `before` becomes `after`; `tests` should notice."""

    name: str
    file: str
    before: str
    after: str
    tests: str


BREAKS: Final = (
    Break(
        "the guard of the low-rank update is dropped",
        "wiretrace/network/solve.py",
        "np.abs(back).max() > LARGEST_UPDATE",
        "np.abs(back).max() > 1e300",
        "tests/core/test_network.py",
    ),
    Break(
        "the guard against a singular pivot is off",
        "wiretrace/network/factor.py",
        "SMALLEST_PIVOT: Final = 1e-13",
        "SMALLEST_PIVOT: Final = 0.0",
        "tests/core/test_network.py",
    ),
    Break(
        "nothing heats while chatter is followed in leaps",
        "wiretrace/simulation/chatter.py",
        "    return values[-1] + changes[2] * grown\n",
        "    return values[-1]\n",
        "tests/core/test_chatter.py",
    ),
    Break(
        "a leap passes over what is due within the period",
        "wiretrace/simulation/chatter.py",
        "    return left // closer - 1 if last == then else left // (2 * closer)\n",
        "    return left // closer - 1 if last == then else LONGEST\n",
        "tests/core/test_chatter.py",
    ),
    Break(
        "devices sense before the network has settled",
        "wiretrace/simulation/engine.py",
        '        state, moved = _answered(assembly, "adapt",',
        '        state, _ = _answered(assembly, "sense", assembly.sensing, params, state, signals)\n'
        '        state, moved = _answered(assembly, "adapt",',
        "tests/core/test_truth.py",
    ),
    Break(
        "a motor looks at its speed anew at every instant",
        "wiretrace/catalogue/three_phase.py",
        '        elif not fresh and not state["anew"]:\n            return state',
        '        elif not fresh and not state["anew"] and abs(final - speed) > 0.5:\n            return state',
        "tests/core/test_truth.py",
    ),
    Break(
        "a fuse forgets what it has gathered",
        "wiretrace/catalogue/fuses.py",
        "min(1.0, melted + span_s / seconds)",
        "melted",
        "tests/core/test_models.py",
    ),
    Break(
        "a surge on closing counts one sequence alone",
        "wiretrace/catalogue/three_phase.py",
        "jumps = [abs(signals[name].voltage_v - residual * behind**n) for n, name in enumerate(self.windings)]",
        "jumps = [abs(signals[self.windings[0]].voltage_v) - abs(residual)]",
        "tests/core/test_truth.py",
    ),
    Break(
        "a bad joint lies beside a capacitor",
        "wiretrace/faults/elements.py",
        "        if value.capacitance_f:\n",
        "        if False:\n",
        "tests/core/test_truth.py",
    ),
    Break(
        "a finding waits for the delay of another",
        "wiretrace/catalogue/watching.py",
        "now_us + max(1, round(1e6 * present_s[finding]))",
        "now_us + max(1, round(1e6 * max(present_s.values())))",
        "tests/core/test_truth.py",
    ),
    Break(
        "an unbalanced inrush burns nothing",
        "wiretrace/catalogue/coils.py",
        "    if final > BURNS and not state",
        "    if final > 1e9 and not state",
        "tests/core/test_models.py",
    ),
    Break(
        "an ohmmeter overlooks a part that is fed",
        "wiretrace/instruments/ohmmeter.py",
        "            if drives or seen > LIVE_FROM_V:\n",
        "            if False:\n",
        "tests/core/test_truth.py",
    ),
    Break(
        "a joint that drops is passed over in a reason",
        "wiretrace/explain/reading.py",
        "if ref.role is not Role.LOAD and volts[number] > DROPS_V",
        "if ref.role is not Role.LOAD and volts[number] > 1e6",
        "tests/core/test_worst_reasons.py",
    ),
    Break(
        "a safety relay starts though one channel alone had opened",
        "wiretrace/catalogue/safety.py",
        "locked = fed and not neither and",
        "locked = False and not neither and",
        "tests/core/test_library.py -k safety",
    ),
    Break(
        "a motor relay forgets its heat",
        "wiretrace/catalogue/motor_relay.py",
        "return tau if max(finals) > self.FLOWS**2 else self.COOLS * tau",
        "return tau",
        "tests/core/test_protection_relays.py",
    ),
    Break(
        "the meter's own current is never recognised in an explanation",
        "wiretrace/explain/wording.py",
        "only the meter's own small current flows there, so",
        "the load takes its share, so",
        "tests/core/test_explain.py",
    ),
    Break(
        "the meter's own current is left out of the shares",
        "wiretrace/explain/reading.py",
        "loaded = drops - change",
        "loaded = drops - 0 * change",
        "tests/core/test_explain.py",
    ),
    Break(
        "a version of another job is deleted",
        "server/store/versions.py",
        "DELETE FROM job_versions WHERE job_id = %s AND id = %s",
        "DELETE FROM job_versions WHERE job_id IS DISTINCT FROM %s - 1000000 AND id = %s",
        "tests/server/test_versions.py",
    ),
    Break(
        "stray paths are left out of a circuit's name",
        "server/assemblies.py",
        '"conductors", "strays"}',
        '"conductors"}',
        "tests/server/test_simulation_api.py",
    ),
    Break(
        "faults are left out of what is compiled",
        "server/assemblies.py",
        "key = (ref, tuple(faults))",
        "key = (ref, ())",
        "tests/server/test_simulation_api.py",
    ),
    Break(
        "a page of a run loses its last frame",
        "wiretrace/simulation/engine.py",
        "return Trajectory(tuple(frames), settled.state",
        "return Trajectory(tuple(frames[:-1]), settled.state",
        "tests/server/test_simulation_api.py",
    ),
    Break(
        "work is never broken off",
        "wiretrace/work.py",
        "if time.process_time() > _bound.until_s:",
        "if False:",
        "tests/core/test_work.py",
    ),
    Break(
        "a migration is applied by itself",
        "server/store/migrations.py",
        'connection.execute("INSERT INTO migrations (name) VALUES (%s)", (file.stem,))',
        'connection.execute("INSERT INTO migrations (name) VALUES (%s)", (file.stem,)); connection.commit()',
        "tests/server/test_reliability.py -k migrations",
    ),
    Break(
        "a formula after a blank goes into a list",
        "wiretrace/formats/lists.py",
        r're.compile(r"[\s\x00-\x1f\u00a0\u200b\ufeff]*[=',
        r're.compile(r"[=',
        "tests/core/test_hostile_text.py",
    ),
    Break(
        "an edit during a save counts as saved",
        "web/src/job/document.ts",
        "const same = get().circuit === circuit;",
        "const same = true;",
        "src/job",
    ),
    Break(
        "the draft of an open window is taken over",
        "web/src/job/drafts.ts",
        "if (!left || (await isOpen(key.slice(prefix(jobId).length)))) continue;",
        "if (!left) continue;",
        "src/job",
    ),
    Break(
        "an edit that the browser cannot keep is not told",
        "web/src/common/store.ts",
        "return false;",
        "return true;",
        "src/job",
    ),
    Break(
        "a latched button cannot be released",
        "web/src/bench/working.ts",
        "latched.delete(key);",
        "",
        "src/bench",
    ),
    Break(
        "the reason for a reading is shown for another moment",
        "web/src/bench/bench.ts",
        "if (same && currentFrame(this.get())?.time_us === frame.time_us)",
        "if (same)",
        "src/bench",
    ),
    Break(
        "the reason for a reading is shown for other probes",
        "web/src/bench/bench.ts",
        "if (same && currentFrame",
        "if (currentFrame",
        "src/bench",
    ),
    Break(
        "the wheel goes the other way",
        "web/src/sheet/window.ts",
        "1.0015 ** deltaY",
        "1.0015 ** -deltaY",
        "src/sheet/window.test.ts",
    ),
    Break(
        "going to a part moves only the cursor",
        "web/src/sheet/view.ts",
        "count: (before?.count ?? 0) + 1",
        "count: before?.count ?? 0",
        "src/sheet/window.test.ts",
    ),
    Break(
        "the clock ignores the speed",
        "web/src/bench/bench.ts",
        "* 1000 * this.get().speed",
        "* 1000",
        "src/bench",
    ),
    Break(
        "probes are exchanged without a new reading",
        "web/src/bench/bench.ts",
        "this.set({ red: black, black: red, explanation: null });\n    void this.refreshReading();",
        "this.set({ red: black, black: red, explanation: null });",
        "src/bench",
    ),
    Break(
        "an action that lies behind a page is lost",
        "web/src/bench/bench.ts",
        "if (end.time_us >= beyondUs || !further || mine !== this.session) return answer;",
        "return answer;",
        "src/bench",
    ),
    Break(
        "what a check cannot tell reads as clear",
        "wiretrace/checks/check.py",
        "else Outcome.CANNOT_TELL",
        "else Outcome.CLEAR",
        "tests/core/test_checks.py",
    ),
    Break(
        "a latching relay falls back with the supply",
        "wiretrace/catalogue/latching.py",
        "moved = Moved.BY_PULSE",
        "moved = Moved.BY_COIL",
        "tests/core/test_latching_flashing_key.py",
    ),
    Break(
        "a free changeover is no contact left",
        "web/src/circuit/purpose.ts",
        '"normally closed", "changes over"',
        '"normally closed"',
        "src/edits",
    ),
    Break(
        "conductors that are exchanged go to the same terminal",
        "wiretrace/faults/wires.py",
        "_laid_to(site, self.other, self.other_end, here)",
        "_laid_to(site, self.other, self.other_end, there)",
        "tests/core/test_faults.py",
    ),
    Break(
        "sealed faults open for any circuit",
        "server/store/sealed.py",
        'row is None or row["ref"] != ref',
        "row is None",
        "tests/server/test_sealed.py",
    ),
    Break(
        "the moment of a sealed fault makes a frame",
        "wiretrace/simulation/engine.py",
        "if now or _is_due(assembly, before.state, at_us) or settled.values != before.values:",
        "if True:",
        "tests/server/test_sealed.py",
    ),
    Break(
        "an error under sealed faults says where",
        "server/api/simulation.py",
        "without_places(error) if body.sealed else error",
        "error",
        "tests/server/test_sealed.py",
    ),
    Break(
        "parts that contacts join keep their potentials",
        "wiretrace/explain/influences.py",
        "shifts[row, parts.index(part)] += sign",
        "shifts[row, parts.index(part)] += 0",
        "tests/core/test_influences.py",
    ),
    Break(
        "changes lose the order of things",
        "wiretrace/circuit/changes.py",
        "if key not in kept or not in_order or item != old[key]:",
        "if key not in kept or item != old[key]:",
        "tests/core/test_changes.py",
    ),
    Break(
        "the browser numbers potentials around nothing",
        "web/src/circuit/nets.ts",
        "while (taken.has(String(count)));",
        "while (false);",
        "src/circuit",
    ),
    Break(
        "a room of the core reads files",
        "wiretrace/checks/facts.py",
        "import math",
        "import math, os",
        "tests/core/test_layers.py",
    ),
)


def noticed(broken: Break, copy: Path) -> str:
    """Whether a test fails once the code is broken this way: "noticed", or what is wrong."""
    file = copy / broken.file
    sound = file.read_text("utf-8")
    if sound.count(broken.before) != 1:
        return f"does not fit: it stands {sound.count(broken.before)} times in {broken.file}"
    file.write_text(sound.replace(broken.before, broken.after), encoding="utf-8")
    try:
        front = broken.file.startswith("web/")
        python = str(copy / ".venv" / "bin" / "python")
        command = ["npx", "vitest", "run"] if front else [python, "-m", "pytest", "-q", "-x", "-p", "no:cacheprovider"]
        done = subprocess.run(
            [*command, *broken.tests.split()], cwd=copy / "web" if front else copy, capture_output=True, check=False
        )
        return "noticed" if done.returncode == 1 else f"NOT NOTICED by {broken.tests} (exit {done.returncode})"
    finally:
        file.write_text(sound, encoding="utf-8")


def main() -> int:
    words = sys.argv[1:]
    chosen = [broken for broken in BREAKS if all(word in broken.name for word in words)]
    with tempfile.TemporaryDirectory(prefix="wiretrace-breaks-") as made:
        copy = Path(made) / "copy"
        shutil.copytree(ROOT, copy, ignore=shutil.ignore_patterns(*LEFT_OUT))
        (copy / ".venv").symlink_to(ROOT / ".venv")
        (copy / "web" / "node_modules").symlink_to(ROOT / "web" / "node_modules")
        told = []
        for broken in chosen:
            told.append(noticed(broken, copy))
            print(f"{told[-1]}: {broken.name}", flush=True)
    print(f"{told.count('noticed')} of {len(told)} noticed.")
    return 0 if told.count("noticed") == len(told) else 1


if __name__ == "__main__":
    raise SystemExit(main())
