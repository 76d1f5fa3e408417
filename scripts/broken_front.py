"""Ways to break the front end on purpose, for `breaks`."""

from typing import Final

from scripts.broken import Break

BREAKS: Final = (
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
        "web/src/bench/meters.ts",
        "if (same && currentFrame(there)?.time_us === frame.time_us)",
        "if (same)",
        "src/bench",
    ),
    Break(
        "the reason for a reading is shown for other probes",
        "web/src/bench/meters.ts",
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
        "* 1000 * speed",
        "* 1000",
        "src/bench",
    ),
    Break(
        "probes are exchanged without a new reading",
        "web/src/bench/meters.ts",
        "this.moved({ red: black, black: red });",
        "this.set({ red: black, black: red });",
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
        "a free changeover is no contact left",
        "web/src/circuit/purpose.ts",
        '"normally closed", "changes over"',
        '"normally closed"',
        "src/edits",
    ),
    Break(
        "the browser numbers potentials around nothing",
        "web/src/circuit/nets.ts",
        "while (taken.has(String(count)));",
        "while (false);",
        "src/circuit",
    ),
    Break(
        "words find all places free",
        "web/src/sheet/ground.ts",
        "if (this.meets(index, box)) return false;",
        "if (this.meets(index, box)) return true;",
        "src/sheet/captions.test.ts",
    ),
    Break(
        "sheets are shown together however small",
        "web/src/sheet/arrange.ts",
        "if (scaleIn(room, all) * SMALL >= LEGIBLE_PX) return all;",
        "if (scaleIn(room, all) > 0) return all;",
        "src/sheet/captions.test.ts",
    ),
    Break(
        "the library is searched in titles alone",
        "web/src/pages/library/filter.ts",
        "`${family.title} ${line.title} ${line.shows} ${line.tries} ${devices}`",
        "`${line.title}`",
        "src/pages/library",
    ),
    Break(
        "folded panes are forgotten",
        "web/src/pages/job/panes.ts",
        '  keep("localStorage", KEPT, next.join(" "));\n',
        "",
        "src/pages/job",
    ),
    Break(
        "every number of poles is an entry of its own",
        "web/src/stages/draw/tools.ts",
        'poles.every((value) => typeof value === "number")',
        "false",
        "src/stages/draw",
    ),
    Break(
        "a miniature keeps the margins of its sheet",
        "web/src/sheet/miniature.ts",
        "const [left, top] = [least(xs) - ROOM, least(ys) - ROOM];",
        "const [left, top] = [0, 0];",
        "src/sheet/drawing.test.ts",
    ),
)
