"""Ways to break how faults are found that are in no list."""

from typing import Final

from scripts.broken import Break

CORE: Final = "tests/core/test_beyond.py"
SERVER: Final = "tests/server/test_beyond_api.py"

BREAKS: Final = (
    Break(
        "two parts of a network keep what they had to do with each other",
        "wiretrace/simulation/fault_readings.py",
        "    transfer[np.ix_(here, there)] = transfer[np.ix_(there, here)] = 0\n",
        "",
        CORE,
    ),
    Break(
        "an observation made twice counts once",
        "wiretrace/diagnosis/advise.py",
        "1 + (number in sure)",
        "1",
        CORE,
    ),
    Break(
        "what explains nothing is confirmed",
        "wiretrace/diagnosis/advise.py",
        "share >= SURE and not outside",
        "share >= SURE",
        CORE,
    ),
    Break(
        "what comes and goes has to be there always",
        "wiretrace/diagnosis/advise.py",
        "explained = np.all(there | away, axis=0)",
        "explained = np.all(there, axis=0)",
        CORE,
    ),
    Break(
        "the way is halved at its end",
        "wiretrace/diagnosis/splitting.py",
        "key=lambda one: abs(2 * way.index(one) - first - last)",
        "key=lambda one: way.index(one) - last",
        "tests/core/test_beyond.py tests/core/test_beyond_far.py",
    ),
    Break(
        "a reading that is not to a pole tells where on the way it is",
        "wiretrace/diagnosis/splitting.py",
        "return where.red == end and where.black in self.poles",
        "return where.red == end",
        "tests/core/test_beyond_far.py",
    ),
    Break(
        "wires of one potential are exchanged",
        "wiretrace/faults/kinds/wires.py",
        "if potential[wire.a] != potential[second.a]:",
        "if True:",
        "tests/core/test_beyond_far.py",
    ),
    Break(
        "rare faults are as likely as others",
        "wiretrace/diagnosis/hypotheses.py",
        "Hypothesis(fault, fault.about.rare or 0.0, (fault,))",
        "Hypothesis(fault, 1.0, (fault,))",
        "tests/core/test_beyond_far.py",
    ),
    Break(
        "what was found has no say",
        "server/subjects/diagnosis/advice.py",
        "weights = learned(counts) | body.weights",
        "weights = learned({}) | body.weights",
        SERVER,
    ),
    Break(
        "rare faults are advised from before they are worked out",
        "server/subjects/diagnosis/dictionaries.py",
        "if not kept.keys() >= set(plan.names):",
        "if not kept:",
        SERVER,
    ),
    Break(
        "rare faults are looked at when nobody has observed anything",
        "web/src/stages/trace/panel.ts",
        "if (!advised || made.length === 0) return null;",
        "if (!advised) return null;",
        "tests/browser/test_trace.py",
    ),
    Break(
        "what came out the same twice is kept as once",
        "web/src/stages/trace/panel.ts",
        "{ ...one, twice: true }",
        "{ ...one }",
        "tests/browser/test_trace.py",
    ),
)
