/**
 * The rooms of the front end, in one order: a room uses those in later lines, never those before it or beside it.
 * A folder that is in none of them turns the tests red.
 */
export const ORDER: readonly (readonly string[])[] = [
  ["pages"],
  ["stages"],
  ["checks"],
  ["job"],
  ["edits", "saved"],
  ["bench", "sheet"],
  ["circuit"],
  ["theme"],
  ["common"],
  ["api"],
];

/** What is held tighter: rooms that are arithmetic on documents and know no window and no server. */
export const ONLY: Readonly<Record<string, readonly string[]>> = {
  circuit: ["api"],
  edits: ["circuit", "sheet"],
  sheet: ["circuit", "common"],
  bench: ["circuit", "api", "common"],
};

/** Rooms whose folders know nothing of each other, but for what lies beside them. */
export const APART = ["stages"];

/** For tests alone. */
export const TESTING = "testing";

/** What is wrong with one import, empty if nothing is. `from` and `to` are paths within src. */
export function wrongArrow(from: string, to: string): string {
  const [room = "", inner = ""] = from.split("/");
  const [other = "", otherInner = ""] = to.split("/");
  if (room === TESTING) return "";
  if (other === TESTING) return "what ships uses what is for tests";
  const [here, there] = [level(room), level(other)];
  if (here < 0 || there < 0) return `${here < 0 ? room : other} is in no layer`;
  if (room === other) {
    const inside = APART.includes(room) && to.split("/").length > 2 && from.split("/").length > 2;
    return inside && inner !== otherInner ? `${room}: ${inner} uses ${otherInner}` : "";
  }
  if (there <= here) return `${room} uses ${other}, which is not below it`;
  const only = ONLY[room];
  return only && !only.includes(other) ? `${room} uses ${other}` : "";
}

function level(room: string): number {
  return ORDER.findIndex((line) => line.includes(room));
}

/** Files that come back to themselves by way of what they import, types included. */
export function circles(imports: ReadonlyMap<string, readonly string[]>): string[][] {
  const found: string[][] = [];
  const done = new Set<string>();
  const visit = (file: string, way: string[]): void => {
    const at = way.indexOf(file);
    if (at >= 0) {
      found.push(way.slice(at));
      return;
    }
    if (done.has(file)) return;
    for (const next of imports.get(file) ?? []) visit(next, [...way, file]);
    done.add(file);
  };
  for (const file of imports.keys()) visit(file, []);
  return found;
}
