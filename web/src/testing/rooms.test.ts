import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";

const ROOT = join(__dirname, "..");

/** Every source file that ships, by its path. */
const SOURCES = (readdirSync(ROOT, { recursive: true }) as string[])
  .filter((path) => /\.tsx?$/.test(path) && !/\.(test|gen)\.|^testing\//.test(path))
  .map((path) => [path.replaceAll("\\", "/"), readFileSync(join(ROOT, path), "utf-8")] as const);

/** Stores that are the window's and know no job, and what makes those of a job. */
const MAY_MAKE_STORES = [
  "common/session.ts",
  "bench/bench.ts",
  "pages/job/panes.ts",
  "stages/trace/mode.ts",
  "stages/run/predict/answers.ts",
];

/** What is remembered for as long as the window is open, and why that is of no job. */
const MAY_REMEMBER: Readonly<Record<string, string>> = {
  "common/session.ts": "which session is open",
  "saved/drafts.ts": "drafts that the browser has no room for, by kind and job: the one place where they are",
  "saved/windows.ts": "which window this is",
  "api/client.ts": "names of circuits, which go with them",
  "sheet/useLayout.ts": "layouts of circuits, which go with them",
  "sheet/strokes.ts": "lines of symbols",
  "sheet/placed.ts": "terminals of parts, which go with them",
  "pages/job/stage.ts": "stages that were loaded",
  "pages/home/miniatures.ts": "pictures of circuits, by what is in them",
};

describe("what a window keeps", () => {
  it("hangs on the session wherever it is about a job: no store stands beside that", () => {
    const making = SOURCES.filter(([, text]) => /from "zustand"/.test(text)).map(([path]) => path);
    expect(making.filter((path) => !MAY_MAKE_STORES.includes(path))).toEqual([]);
  });

  it("is in no variable of a file", () => {
    const remembering = SOURCES.filter(([, text]) =>
      /^(export )?(let |var |const \w+(: [^=]+)? = new (Map|Set|WeakMap|\w*Cache)\b)/m.test(text),
    ).map(([path]) => path);
    const others = remembering.filter((path) => !(path in MAY_REMEMBER));
    expect(others.filter((path) => !isConstant(path))).toEqual([]);
  });
});

/** Maps and sets that are written out, and never changed. */
function isConstant(path: string): boolean {
  const text = SOURCES.find(([one]) => one === path)?.[1] ?? "";
  const names = [...text.matchAll(/^(?:export )?const (\w+)(?:: [^=]+)? = new (?:Map|Set)\b/gm)].map(
    ([, name]) => name,
  );
  return (
    !/^(export )?(let|var) /m.test(text) &&
    names.every((name) => !new RegExp(`\\b${name}\\.(set|add|delete|clear)\\(`).test(text))
  );
}
