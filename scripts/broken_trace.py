"""Ways to break why devices stand as they do, chatter, and the diagnosis engine."""

from typing import Final

from scripts.broken import Break

BREAKS: Final = (
    Break(
        "a seal-in contact is said to be what is missing",
        "wiretrace/explain/gaps.py",
        "OWN_GAP: Final = 15",
        "OWN_GAP: Final = 5",
        "tests/core/test_why.py",
    ),
    Break(
        "a lamp is said to answer to what it saw before",
        "wiretrace/explain/event.py",
        "planned = frames[at].state.time_us in due",
        "planned = True",
        "tests/core/test_why.py",
    ),
    Break(
        "a short circuit is not told as the cause of a trip",
        "wiretrace/explain/event.py",
        "if assembly.devices[device].kind.actuator is not Actuator.CURRENT:",
        "if assembly.devices:",
        "tests/core/test_why.py",
    ),
    Break(
        "a switch is turned on with its padlock on",
        "wiretrace/catalogue/protection/switchgear.py",
        '"on": value and not state["locked"]',
        '"on": value',
        "tests/core/test_why.py",
    ),
    Break(
        "a blocked motor turns",
        "wiretrace/simulation/values.py",
        "{JAMMED: True}",
        "{JAMMED: False}",
        "tests/core/test_motors.py",
    ),
    Break(
        "a motor that coasts beside chatter is carried on by its last change",
        "wiretrace/simulation/chatter.py",
        "if self._stands(item.id) and all(",
        "if not self.seen and all(",
        "tests/core/test_chatter.py",
    ),
    Break(
        "rounding grows in a leap",
        "wiretrace/simulation/chatter.py",
        "ratio = 1.0\n",
        "pass\n",
        "tests/core/test_chatter.py",
    ),
    Break(
        "a rectifier without voltage is left half way",
        "wiretrace/catalogue/supply/rectifier.py",
        "if volts == 0 or gives == before == 0:",
        "if volts < 0:",
        "tests/core/test_starting_and_parts.py",
    ),
    Break(
        "a joint has only the ohms that the dictionary holds",
        "wiretrace/diagnosis/engine.py",
        "if 1 < len(rows) == len(one.values):",
        "if 99 < len(rows) == len(one.values):",
        "tests/core/test_trace.py",
    ),
    Break(
        "a reading must agree to the last digit",
        "wiretrace/diagnosis/engine.py",
        "VOLTS: Final = (0.5, 0.02)",
        "VOLTS: Final = (0.0, 0.0)",
        "tests/core/test_trace.py",
    ),
    Break(
        "an observation that does not fit rules everything out",
        "wiretrace/diagnosis/advise.py",
        "alive: Bools = misses <= least + 1",
        "alive: Bools = misses == 0",
        "tests/core/test_slips.py",
    ),
    Break(
        "ohms are read with the supplies on",
        "wiretrace/simulation/fault_readings.py",
        "values[assembly.branch_index(item.id, branch)] = None",
        "assembly.branch_index(item.id, branch)",
        "tests/core/test_trace.py",
    ),
    Break(
        "what a sequence expects and does not get is not told",
        "wiretrace/sequences/state_table.py",
        "unmet=taken.unmet(),",
        "unmet={},",
        "tests/core/test_state_table.py",
    ),
    Break(
        "two askers lock each other up",
        "server/subjects/diagnosis/dictionary_store.py",
        "sorted(rows.items())",
        "rows.items()",
        "tests/server/test_trace_api.py",
    ),
)
