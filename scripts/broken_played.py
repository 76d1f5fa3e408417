"""Ways to break how a circuit is worked to see what it does, and what feels residual current."""

from typing import Final

from scripts.broken import Break

PLAY = "wiretrace/checks/play.py"
RULES = "wiretrace/checks/played_rules.py"
RESIDUAL = "wiretrace/catalogue/protection/residual.py"
PLAYED = "tests/core/test_played.py"
FELT = "tests/core/test_residual_current.py"

BREAKS: Final = (
    Break(
        "an emergency stop is there for what it ends alone",
        RULES,
        "latches = one.stop.kind.is_stop(one.stop.params) and",
        "latches = False and",
        PLAYED,
    ),
    Break("a stop that ends nothing is no finding", RULES, "its = latches or idle or", "its = latches or", PLAYED),
    Break("a selector turned to off is no stop", PLAY, "if item.kind.off))", "if False))", PLAYED),
    Break(
        "a button that nobody named is no stop",
        PLAY,
        "return silent and bool(used)",
        "return False and bool(used)",
        PLAYED,
    ),
    Break("nobody lets go of a stop", PLAY, "or not undoes:", "or True:", PLAYED),
    Break("what was not played is clear", RULES, "    if found.left_out:\n", "    if False:\n", PLAYED),
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
