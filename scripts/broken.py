"""Ways to break the code on purpose, for `breaks`: each is noticed by the tests that it names."""

from dataclasses import dataclass
from typing import Final


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
        "wiretrace/catalogue/motors/three_phase.py",
        '        elif not fresh and not state["anew"]:\n            return state',
        '        elif not fresh and not state["anew"] and abs(final - speed) > 0.5:\n            return state',
        "tests/core/test_truth.py",
    ),
    Break(
        "a fuse forgets what it has gathered",
        "wiretrace/catalogue/protection/fuses.py",
        "min(1.0, melted + span_s / seconds)",
        "melted",
        "tests/core/test_models.py",
    ),
    Break(
        "a surge on closing counts one sequence alone",
        "wiretrace/catalogue/motors/residual.py",
        "jumps = [abs(one.voltage_v - voltage(state) * behind**n) for n, one in enumerate(windings)]",
        "jumps = [abs(windings[0].voltage_v) - abs(voltage(state))]",
        "tests/core/test_truth.py",
    ),
    Break(
        "a bad joint lies beside a capacitor",
        "wiretrace/faults/kinds/elements.py",
        "        if value.capacitance_f:\n",
        "        if False:\n",
        "tests/core/test_truth.py",
    ),
    Break(
        "a finding waits for the delay of another",
        "wiretrace/catalogue/machinery/watching.py",
        "now_us + max(1, round(1e6 * present_s[finding]))",
        "now_us + max(1, round(1e6 * max(present_s.values())))",
        "tests/core/test_truth.py",
    ),
    Break(
        "a coil that is held open burns nothing",
        "wiretrace/catalogue/machinery/coils.py",
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
        "wiretrace/catalogue/switching/safety.py",
        "locked = fed and not neither and",
        "locked = False and not neither and",
        "tests/core/test_library.py -k safety",
    ),
    Break(
        "a motor relay forgets its heat",
        "wiretrace/catalogue/protection/motor_relay.py",
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
        "server/subjects/versions/store.py",
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
        "wiretrace/interchange/lists.py",
        r're.compile(r"[\s\x00-\x1f\u00a0\u200b\ufeff]*[=',
        r're.compile(r"[=',
        "tests/core/test_hostile_text.py",
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
        "wiretrace/catalogue/switching/latching.py",
        "actuator = Actuator.PULSE",
        "actuator = Actuator.COIL",
        "tests/core/test_latching_flashing_key.py",
    ),
    Break(
        "conductors that are exchanged go to the same terminal",
        "wiretrace/faults/kinds/wires.py",
        "_laid_to(site, self.other, self.other_end, here)",
        "_laid_to(site, self.other, self.other_end, there)",
        "tests/core/test_faults.py",
    ),
    Break(
        "the moment of a hidden fault makes a frame",
        "wiretrace/simulation/engine.py",
        "if now or _is_due(assembly, before.state, at_us) or settled.values != before.values:",
        "if True:",
        "tests/core/test_faults.py",
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
        "wiretrace/document/changes.py",
        "if key not in kept or not in_order or item != old[key]:",
        "if key not in kept or item != old[key]:",
        "tests/core/test_changes.py",
    ),
    Break(
        "a room of the core reads files",
        "wiretrace/checks/facts.py",
        "import math",
        "import math, os",
        "tests/core/test_layers.py",
    ),
    Break(
        "a rectifier looks where its load points for ever",
        "wiretrace/catalogue/supply/rectifier.py",
        "nearer = wanted if inside and looks < self.TRUSTED else math.sqrt(low * high)",
        "nearer = wanted",
        "tests/core/test_starting_and_parts.py",
    ),
    Break(
        "a wound rotor knows nothing of what stands at its rings",
        "wiretrace/catalogue/motors/wound_rotor.py",
        "ohm = machine.rotor_running_ohm.real + external_ohm",
        "ohm = machine.rotor_running_ohm.real",
        "tests/core/test_wound_rotor.py",
    ),
    Break(
        "what hangs on slip rings is laid out anywhere",
        "wiretrace/layout/power.py",
        "    walk.go(behind, through_motors=True)\n",
        "",
        "tests/core/test_tidy.py",
    ),
    Break(
        "a tripped overload relay says nothing of why",
        "wiretrace/catalogue/protection/overload.py",
        '"tripped": "The motor took',
        '"gone": "The motor took',
        "tests/core/test_purpose.py",
    ),
)
