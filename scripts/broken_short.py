"""Ways to break the short way to a fault dictionary, what goes from a sizing into a circuit, and hints."""

from typing import Final

from scripts.broken import Break

ALIKE = "tests/core/test_alike.py"
INPUT = "tests/core/test_sizing_input.py"
BREAKS: Final = (
    Break(
        "short way: what is held at earth potential counts as in series",
        "wiretrace/diagnosis/alike.py",
        "if len(meeting) == 2 and node != sound.graph.ground:",
        "if len(meeting) >= 2:",
        ALIKE,
    ),
    Break(
        "short way: every bad joint of a series is the same, whatever its ohms",
        "wiretrace/diagnosis/alike.py",
        "return series.of[sound.branch_index(place, branch)], ohm",
        "return series.of[sound.branch_index(place, branch)], ohm == 0",
        ALIKE,
    ),
    Break(
        "short way: a capacitor is a way when it is dead",
        "wiretrace/simulation/fault_readings.py",
        "conducts = nodes.solution.admittance_s != 0",
        "conducts = np.ones(len(nodes.solution.admittance_s), dtype=np.bool_)",
        f"{ALIKE} tests/core/test_fault_readings.py",
    ),
    Break(
        "short way: what opens parts nothing",
        "wiretrace/simulation/fault_readings.py",
        "island[list(reached)] = island.max() + 1",
        "pass",
        f"{ALIKE} tests/core/test_fault_readings.py",
    ),
    Break(
        "short way: a device is never asked",
        "wiretrace/simulation/beside.py",
        "for device in differ | otherwise | own.keys():",
        "for device in ():",
        ALIKE,
    ),
    Break(
        "short way: what is due by itself in between is passed over",
        "wiretrace/simulation/beside.py",
        "        if _comes_first(answers, due, frame.state.time_us, upto_us):",
        "        if False:",
        ALIKE,
    ),
    Break(
        "short way: hands that were there already work once more",
        "wiretrace/diagnosis/dictionary.py",
        "run(assembly, state, stage.actions[done:], stage.until_us)",
        "run(assembly, state, stage.actions, stage.until_us)",
        ALIKE,
    ),
    Break(
        "short way: heat is that of the sound circuit",
        "wiretrace/simulation/beside.py",
        "                answers[device] = answer",
        "                pass",
        ALIKE,
    ),
    Break(
        "one branch changed: the source in it is forgotten",
        "wiretrace/network/solve.py",
        "driven = complex(self.drop_v[branch] + self.emf_v[branch])",
        "driven = complex(self.drop_v[branch])",
        "tests/core/test_network.py",
    ),
    Break(
        "with other faults the values are those of the sound circuit",
        "wiretrace/simulation/values.py",
        "                fault.disturb(values, self._graph)",
        "                pass",
        f"{ALIKE} tests/core/test_simulation.py",
    ),
    Break(
        "into a circuit: the dial is that of the windings wherever the relay stands",
        "wiretrace/sizing/places.py",
        "found[item] = Place.WINDING if past & turned else Place.LINE",
        "found[item] = Place.WINDING",
        INPUT,
    ),
    Break(
        "into a circuit: the star contactor is as large as the others",
        "wiretrace/sizing/places.py",
        "            found[item] = Place.STAR",
        "            found[item] = Place.WINDING",
        INPUT,
    ),
    Break(
        "into a circuit: half a nameplate goes over",
        "wiretrace/sizing/carry.py",
        "    why = _contradiction(item, taken)\n    if why is not None:",
        "    why = None\n    if why is not None:",
        INPUT,
    ),
    Break(
        "into a circuit: a size that the device cannot have goes over",
        "wiretrace/sizing/carry.py",
        "        if fault is None:\n",
        "        if True:\n",
        INPUT,
    ),
    Break(
        "hint: a button is advised where nothing is live",
        "wiretrace/training/exercise/hints.py",
        "None if care.locked or care.tripped else best_try",
        "best_try",
        "tests/core/test_exercise.py",
    ),
    Break(
        "alike: a lifted wire is shared",
        "wiretrace/training/exercise/following.py",
        "self.alone |= bool(leg.own)",
        "pass",
        "tests/core/test_exercise.py",
    ),
    Break(
        "sizing: what it was before is forgotten",
        "server/subjects/sizing/store.py",
        "            _note(connection, {",
        "            dict(**{",
        "tests/server/test_sizing_api.py",
    ),
)
