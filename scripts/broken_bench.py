"""Ways to break layout, predictions and the bench on purpose, for `breaks`."""

from typing import Final

from scripts.broken import Break

PREDICT: Final = "tests/core/test_predict.py"

BREAKS: Final = (
    Break(
        "an open load sees what stands at its terminals",
        "wiretrace/simulation/signals.py",
        "if math.isinf(ohm):",
        "if False:",
        "tests/core/test_inside.py",
    ),
    Break(
        "a joint inside a load leaves it all the voltage",
        "wiretrace/simulation/signals.py",
        "left = signal.voltage_v - ohm * signal.current_a",
        "left = signal.voltage_v",
        "tests/core/test_inside.py",
    ),
    Break(
        "an output that limits itself forgets its last look",
        "wiretrace/catalogue/supply/direct.py",
        '"looked_a": current_a}',
        '"looked_a": 0.0}',
        "tests/core/test_inside.py",
    ),
    Break(
        "an answer with a decimal comma is cut",
        "wiretrace/training/prediction/answers.py",
        '.replace(",", ".")',
        '.partition(",")[0]',
        PREDICT,
    ),
    Break(
        "the other pole is the same pole",
        "wiretrace/training/prediction/models.py",
        'wanted = "neutral" if standing is Standing.LIVE else "live"',
        'wanted = "live" if standing is Standing.LIVE else "neutral"',
        PREDICT,
    ),
    Break(
        "nobody thinks of a load away",
        "wiretrace/training/prediction/models.py",
        "None if ref.role is Role.LOAD else v for",
        "v for",
        PREDICT,
    ),
    Break(
        "the states of a sheet may go back in time",
        "wiretrace/training/prediction/sheet.py",
        "later.at_us <= earlier.at_us",
        "False",
        PREDICT,
    ),
    Break(
        "what was written before is forgotten",
        "server/subjects/predictions/store.py",
        "changes = changes || jsonb",
        "changes = jsonb",
        "tests/server/test_predictions.py",
    ),
    Break(
        "the last difference is told first",
        "wiretrace/simulation/difference.py",
        "key=lambda one: (one.at_us",
        "key=lambda one: (-one.at_us",
        "tests/core/test_difference.py",
    ),
    Break(
        "a refused measurement is shown as one that was made",
        "wiretrace/instruments/measures.py",
        "refused=True",
        "refused=False",
        "tests/core/test_measures.py",
    ),
    Break(
        "a seal stands before its button",
        "wiretrace/layout/control.py",
        "key=lambda piece: not piece.by_hand",
        "key=lambda piece: piece.by_hand",
        "tests/core/test_tidy.py",
    ),
    Break(
        "a level of voltage has no sheet of its own",
        "wiretrace/layout/levels.py",
        "if len(own) > 1 and first",
        "if len(own) > 99 and first",
        "tests/core/test_tidy.py",
    ),
    Break(
        "what happened is lost when a hand goes back",
        "web/src/bench/past.ts",
        "if (!lost) return lines;",
        "return lines;",
        "src/bench",
    ),
    Break(
        "a fault is there from the last event on, not from now",
        "web/src/bench/bench.ts",
        "if (frame.time_us === atUs || JSON.stringify(was) === JSON.stringify(is)) return frame.state;",
        "if (frame) return frame.state;",
        "src/bench",
    ),
)
