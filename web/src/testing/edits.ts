import type { Catalogue } from "../circuit/catalogue";
import { type Circuit, type Device, type ParamValue, shownSheets } from "../circuit/types";
import { copyParts } from "../edits/clip";
import type { Edit } from "../edits/edits";

/** A row of numbers that is the same for the same seed (Park and Miller). */
export function dice(seed: number): (sides: number) => number {
  let state = seed;
  return (sides) => {
    state = (state * 48_271) % 2_147_483_647;
    return state % sides;
  };
}

/** Some edit that somebody might try on this circuit, sensible or not. */
export function someEdit(circuit: Circuit, roll: (sides: number) => number, catalogue: Catalogue): Edit {
  const one = <T>(items: readonly T[]): T => items[roll(items.length)] as T;
  const sheets = shownSheets(circuit);
  const sheet = one(sheets);
  const at = { x: roll(60), y: roll(40) };
  const kind = one(catalogue.kinds);
  const part = one(kind.parts).name;
  // Whatever decides about parts is chosen, so that the part may be there.
  const deciding = kind.params.filter(({ choices }) => choices.length > 0);
  const params = Object.fromEntries(deciding.map(({ name, choices }) => [name, one(choices)]));
  const place: Edit = {
    type: "place",
    kind: kind.name,
    part: kind.parts[0]?.name ?? part,
    sheet: sheet.id,
    at,
    params,
  };
  const { devices } = circuit;
  if (devices.length < 4 || !sheet) return place;
  const [device, other] = [one(devices), one(devices)];
  const own = (id: typeof device) => ({ device: id.id, part: one(catalogue.parts(id)).name });
  const end = (id: typeof device) => ({ device: id.id, terminal: one([...catalogue.terminals(id), "?"]) });
  const conductor = one(circuit.conductors)?.id ?? "none";
  const items = sheet.symbols.slice(roll(3), 3 + roll(4));
  const clip = copyParts(circuit, sheet, items, catalogue);
  const moves: Edit[] = [
    place,
    place,
    { type: "placePart", ...own(device), sheet: sheet.id, at },
    { type: "inSeries", kind: kind.name, part, sheet: sheet.id, at, params, conductor },
    { type: "inParallel", kind: kind.name, part, sheet: sheet.id, at, params, to: [own(device)] },
    { type: "join", a: end(device), b: end(other) },
    { type: "join", a: end(device), b: end(other) },
    { type: "join", a: end(device), b: end(other) },
    { type: "move", sheet: sheet.id, items, by: { x: roll(5), y: roll(5) } },
    { type: "rename", device: device.id, label: one(["K1", "X7", "S1", "no good"]) },
    { type: "setParam", device: device.id, ...someValue(catalogue, device, roll) },
    { type: "takeOff", ...own(device) },
    { type: "deleteParts", parts: [own(device), own(other)] },
    { type: "deleteConductor", conductor },
    { type: "changeKind", device: device.id, kind: kind.name, params },
    { type: "feed", from: own(device), to: own(other) },
    { type: "reverse", first: own(device), second: own(other) },
    { type: "interlock", first: device.id, second: other.id },
    { type: "sealIn", button: own(device), contactor: other.id },
    { type: "parallel", part: own(device), to: own(other) },
    { type: "paste", clip, sheet: sheet.id, at },
    { type: "addSheet", kind: one(["power", "control"] as const) },
    { type: "deleteSheet", sheet: sheet.id },
    { type: "moveToSheet", items, sheet: one(sheets).id },
    {
      type: "pull",
      sheet: sheet.id,
      routes: {
        [conductor]: [
          [1, 1],
          [5, 1],
        ],
      },
    },
    { type: "mount", device: device.id, mounting: one(["door", null] as const) },
  ];
  return one(moves);
}

/** Some value of a device, sensible or not. */
function someValue(
  catalogue: Catalogue,
  device: Device,
  roll: (sides: number) => number,
): { name: string; value: ParamValue } {
  const params = catalogue.kind(device.kind)?.params ?? [];
  const param = params[roll(params.length + 1)];
  const values = [...(param?.choices ?? []), param?.default ?? "?", "none", 7];
  return { name: param?.name ?? "nothing", value: values[roll(values.length)] ?? true };
}
