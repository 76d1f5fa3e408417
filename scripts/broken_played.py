"""Ways to break how a circuit is worked to see what it does, and what feels residual current."""

from typing import Final

from scripts.broken import Break

EXPLORE = "wiretrace/checks/playing/explore.py"
STOPPING = "wiretrace/checks/playing/stopping.py"
TELLING = "wiretrace/checks/playing/telling.py"
WITNESS = "wiretrace/checks/playing/witness.py"
STUCK = "wiretrace/checks/playing/stuck.py"
DIAGRAM = "wiretrace/checks/playing/diagram.py"
UPSET = "wiretrace/checks/upset_rules.py"
WORKING = "wiretrace/checks/working_rules.py"
RULES = "wiretrace/checks/played_rules.py"
ROLES = "wiretrace/checks/playing/roles.py"
EFFECTS = "wiretrace/checks/playing/effects.py"
JUDGING = "wiretrace/checks/intent/judging.py"
READING = "wiretrace/checks/intent/reading.py"
CHECKING = "wiretrace/checks/check.py"
INTENT = "tests/core/test_intent.py"
ROLE_TESTS = "tests/core/test_roles.py"
RESIDUAL = "wiretrace/catalogue/protection/residual.py"
PLAYED = "tests/core/test_played.py"
WORKED = "tests/core/test_worked.py -k when_the"
DRAWN = "tests/core/test_diagram.py"
FELT = "tests/core/test_residual_current.py"

BREAKS: Final = (
    Break(
        "nothing races",
        WORKING,
        "if ends and race.devices not in told:",
        "if False:",
        "tests/core/test_worked.py -k when_the",
    ),
    Break(
        "what holds a stop starts",
        RULES,
        "if edge.how is not How.HAND or edge.lets_go:",
        "if True:",
        "tests/core/test_worked.py -k when_the",
    ),
    Break(
        "a jog that stays in is no finding",
        "wiretrace/checks/role_rules.py",
        "if words is not None and effect.value",
        "if False and effect.value",
        ROLE_TESTS,
    ),
    Break(
        "a star that is passed through is jogged",
        EFFECTS,
        "gone is not None and not new else",
        "gone is not None else",
        "tests/core/test_roles.py -k passed",
    ),
    Break("what time does is done by the command", EFFECTS, "(here.runs & by_itself)", "here.runs", ROLE_TESTS),
    Break(
        "a stop that brakes is a jog", ROLES, "and not (verb is Verb.JOGS and own[effect].here.runs)", "", ROLE_TESTS
    ),
    Break(
        "of half a drawing roles are proposed",
        ROLES,
        "if any(True for _ in loose_ends(facts)):",
        "if False:",
        ROLE_TESTS,
    ),
    Break("stays is told by the end", JUDGING, "return len(when) == len(course)", "return bool(when)", INTENT),
    Break(
        "any time is the time that was said",
        JUDGING,
        "abs(when[0] - line.after_s) <= max",
        "abs(when[0] - line.after_s) >= 0 * max",
        INTENT,
    ),
    Break(
        "conditions are not asked",
        JUDGING,
        "            if not self._all(here, line.conditions):\n",
        "            if False:\n",
        INTENT,
    ),
    Break(
        "what is in between is not looked at",
        JUDGING,
        "                yield from self._in_between(line)",
        "                pass",
        INTENT,
    ),
    Break("what never came about holds", JUDGING, "    if not judge.met:\n", "    if False:\n", INTENT),
    Break(
        "a misspelt state is taken",
        READING,
        "    if code is None:\n",
        "    code = code or what\n    if code is None:\n",
        INTENT,
    ),
    Break("half a drawing is accused", CHECKING, "return finding.device in drawn or", "return False and", ROLE_TESTS),
    Break(
        "a fault is left out when rules work the circuit",
        CHECKING,
        "return played(Facts(circuit, faults))",
        "return played(Facts(circuit))",
        ROLE_TESTS,
    ),
    Break(
        "an emergency stop is there for what it ends alone",
        RULES,
        "latches = one.stop.kind.is_stop(one.stop.params) and",
        "latches = False and",
        PLAYED,
    ),
    Break("a stop that ends nothing is no finding", RULES, "its = latches or idle or", "its = latches or", PLAYED),
    Break("a selector turned to off is no stop", EXPLORE, "if item.kind.off))", "if False))", PLAYED),
    Break(
        "a button that nobody named is no stop",
        EXPLORE,
        "return silent and bool(used)",
        "return False and bool(used)",
        PLAYED,
    ),
    Break("nobody lets go of a stop", STOPPING, "    if stays or here.held", "    if True or here.held", PLAYED),
    Break("what was not played is clear", TELLING, "    if made.found.left_out:\n", "    if False:\n", PLAYED),
    Break("what lies behind a trip is clear", TELLING, "    if broken_by_hand(made):\n", "    if False:\n", PLAYED),
    Break(
        "one hand at a time", EXPLORE, "HANDS: Final = 2", "HANDS: Final = 1", "tests/core/test_worked.py -k opposing"
    ),
    Break("nobody waits for a clock", EXPLORE, "        if due is not None:\n", "        if False:\n", DRAWN),
    Break(
        "a protection that ends nothing is no finding",
        UPSET,
        "        idle = item.kind.protects",
        "        idle = False and item.kind.protects",
        WORKED,
    ),
    Break(
        "what comes with the supply is no finding",
        UPSET,
        "if not made.found.states[0].stays_on else ()",
        "if False else ()",
        WORKED,
    ),
    Break(
        "a motor may start without a line",
        UPSET,
        "    yield from _starts_without_a_line(made)\n",
        "",
        "tests/core/test_worked.py -k monitor",
    ),
    Break(
        "a stuck armature moves",
        STUCK,
        "Assembly(made.facts.circuit, [*made.facts.faults, Stuck(place=stuck)])",
        "Assembly(made.facts.circuit)",
        PLAYED,
    ),
    Break(
        "a lamp that is always lit tells something",
        WORKING,
        '(made.witness.dark, "is always lit"',
        '(made.witness.lit, "is always lit"',
        WORKED,
    ),
    Break(
        "a coil works at three fifths of its voltage",
        WITNESS,
        "WORKS: Final = (0.85, 1.12)",
        "WORKS: Final = (0.55, 1.12)",
        WORKED,
    ),
    Break("a contact parts what stands at nothing", WITNESS, "rms_v > PARTS_V:", "rms_v > -1:", WORKED),
    Break("where a selector stands is no part of a state", DIAGRAM, "for name in lasting)", "for name in ())", DRAWN),
    Break("what nothing stops is not marked", DIAGRAM, "    trap = bool(runs) and", "    trap = False and", DRAWN),
    Break(
        "an arrow within a column goes through the box",
        "web/src/checks/diagram.ts",
        "of.y + of.height, to.y];",
        "of.y + of.height, to.y + to.height];",
        "src/checks/diagram.test.ts",
    ),
    Break(
        "clear is said before the circuit has been worked",
        "web/src/checks/CheckLine.tsx",
        '  if (!worked) return "Check: working it";\n',
        "",
        "tests/browser/test_check.py",
    ),
    Break("it trips at half its rated current", RESIDUAL, "SEES_FROM: Final = 0.75", "SEES_FROM: Final = 0.45", FELT),
    Break("type S does not wait", RESIDUAL, "late_s if slow else soon_s", "soon_s", FELT),
    Break("direct current blinds no type", RESIDUAL, "return 0.0 if blind else", "return", FELT),
    Break(
        "what goes round a window is no finding",
        "wiretrace/checks/supply_rules.py",
        "if beside and len(beside) < len(at):",
        "if False:",
        "tests/core/test_checks.py",
    ),
    Break(
        "a winding of direct current raises a voltage in the netlist",
        "wiretrace/interchange/spice.py",
        '            yield f"Lo{number} o{number} 0 1e6"\n',
        "",
        "tests/core/test_spice.py",
    ),
)
