import { existsSync, readdirSync, readFileSync } from "node:fs";
import { dirname, join, normalize } from "node:path";
import { describe, expect, it } from "vitest";
import { circles, ORDER, TESTING, wrongArrow } from "./layers";

const ROOT = join(__dirname, "..");
const FILES = (readdirSync(ROOT, { recursive: true }) as string[])
  .map((path) => path.replaceAll("\\", "/"))
  .filter((path) => /\.tsx?$/.test(path) && !/\.test\./.test(path));

/** The files within src that a file imports, by their paths. */
function importedBy(path: string): string[] {
  const text = readFileSync(join(ROOT, path), "utf-8");
  const named = [...text.matchAll(/(?:from|import)\s*\(?\s*"(\.[^"]+)"/g)].map(([, name]) => name ?? "");
  return named
    .map((name) => normalize(join(dirname(path), name)))
    .map(
      (name) =>
        [name, `${name}.ts`, `${name}.tsx`, `${name}/index.ts`, `${name}/index.tsx`].find(
          (one) => /\.(tsx?|css)$/.test(one) && existsSync(join(ROOT, one)),
        ) ?? name,
    );
}

const IMPORTS = new Map(FILES.map((path) => [path, importedBy(path)] as const));

describe("the rooms of the front end", () => {
  it("are all in the list, and the list has no others", () => {
    const folders = readdirSync(ROOT, { withFileTypes: true })
      .filter((entry) => entry.isDirectory())
      .map((entry) => entry.name);
    expect(folders.sort()).toEqual([...ORDER.flat(), TESTING].sort());
  });

  it("use what lies below them, and nothing else", () => {
    const wrong = [...IMPORTS].flatMap(([from, all]) =>
      from.includes("/")
        ? all
            .filter((to) => wrongArrow(from, to) !== "")
            .map((to) => `${from} -> ${to}: ${wrongArrow(from, to)}`)
        : [],
    );
    expect(wrong).toEqual([]);
    expect([...IMPORTS.values()].flat().length).toBeGreaterThan(500);
  });

  it("hold no file that comes back to itself", () => {
    expect(circles(IMPORTS)).toEqual([]);
  });
});

describe("an arrow", () => {
  it.each([
    ["sheet/strokes.ts", "bench/bench.ts", "sheet uses bench, which is not below it"],
    ["circuit/nets.ts", "stages/run/Door.tsx", "circuit uses stages, which is not below it"],
    ["common/Bar.tsx", "attic/box.ts", "attic is in no layer"],
    ["attic/box.ts", "common/Bar.tsx", "attic is in no layer"],
    ["stages/run/Door.tsx", "stages/draw/tools.ts", "stages: run uses draw"],
    ["sheet/Board.tsx", "testing/circuits.ts", "what ships uses what is for tests"],
    ["circuit/nets.ts", "common/when.ts", "circuit uses common"],
    ["stages/run/Door.tsx", "stages/stage.ts", ""],
    ["stages/index.ts", "stages/run/index.tsx", ""],
    ["bench/bench.ts", "api/client.ts", ""],
  ])("from %s to %s", (from, to, wrong) => {
    expect(wrongArrow(from, to)).toBe(wrong);
  });

  it("may not lead round in a circle", () => {
    const round = new Map([
      ["a", ["b"]],
      ["b", ["c"]],
      ["c", ["a", "d"]],
      ["d", []],
    ]);
    expect(circles(round)).toEqual([["a", "b", "c"]]);
  });
});
