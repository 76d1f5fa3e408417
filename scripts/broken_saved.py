"""Ways to break what the browser keeps of a job: sessions, drafts, the bench, what hangs on the window."""

from typing import Final

from scripts.broken import Break

BREAKS: Final = (
    Break(
        "hands do what only dead may be done",
        "web/src/bench/working.ts",
        "operation.dead_only && !bench.lockedOff() &&",
        "operation.dead_only && false &&",
        "src/bench",
    ),
    Break(
        "a run of another circuit is shown",
        "web/src/bench/bench.ts",
        "if (mine === this.session) this.take(answer, fromUs);",
        "this.take(answer, fromUs);",
        "src/bench",
    ),
    Break(
        "what went wrong with another circuit is shown",
        "web/src/bench/bench.ts",
        "if (mine === this.session) this.set({ problem: asProblem(error) });",
        "this.set({ problem: asProblem(error) });",
        "src/bench",
    ),
    Break(
        "what is asked of another circuit goes on",
        "web/src/bench/bench.ts",
        "if (!circuit || mine !== this.session) return;",
        "if (!circuit) return;",
        "src/bench",
    ),
    Break(
        "a meter shows what was there under the faults of now",
        "web/src/bench/bench.ts",
        "return this.under.get(frame.state) ?? [];",
        "return this.activeFaults();",
        "src/bench",
    ),
    Break(
        "an edit during a save counts as saved",
        "web/src/saved/saver.ts",
        "const same = this.owner.standing().serial === serial;",
        "const same = true;",
        "src/job",
    ),
    Break(
        "a draft that was changed since is dropped",
        "web/src/saved/drafts.ts",
        "if (draft?.writer === writer && draft.serial <= serial) dropDraft(place);",
        "dropDraft(place);",
        "src/job",
    ),
    Break(
        "a decided conflict is not counted in the draft",
        "web/src/saved/saver.ts",
        "    this.keepDraft();\n    await this.now();",
        "    await this.now();",
        "src/job",
    ),
    Break(
        "the draft of an open window is taken over",
        "web/src/saved/drafts.ts",
        "if (!left || (await isOpen(key.slice(prefix(place).length)))) continue;",
        "if (!left) continue;",
        "src/job",
    ),
    Break(
        "all jobs share their stores",
        "web/src/common/session.ts",
        "  open = new Session(job);\n",
        "  open = Object.assign(open, { job });\n",
        "src/stages src/job",
    ),
    Break(
        "a session is left without a word",
        "web/src/common/session.ts",
        "  open.end();\n",
        "",
        "src/common",
    ),
    Break(
        "a plate is filled in before it is known",
        "web/src/stages/size/sizing.ts",
        "    if (!this.store.getState().ready) return;\n",
        "",
        "src/stages/size",
    ),
    Break(
        "the chart is turned round",
        "web/src/stages/size/Chart.tsx",
        "clip(HEIGHT - BOTTOM - ((Math.log(seconds)",
        "clip(8 + ((Math.log(seconds)",
        "src/stages/size",
    ),
    Break(
        "keys work on after their page",
        "web/src/common/commands.ts",
        '    return () => window.removeEventListener("keydown", onKeyDown);\n',
        "    return undefined;\n",
        "src/common",
    ),
    Break(
        "a page listens on to the width of the window",
        "web/src/pages/job/useRoom.ts",
        '      for (const query of queries) query.removeEventListener("change", look);\n',
        "",
        "src/common",
    ),
    Break(
        "a question about a window listens on",
        "web/src/saved/windows.ts",
        '      channel.removeEventListener("message", hear);\n',
        "",
        "src/common",
    ),
)  # fmt: skip
