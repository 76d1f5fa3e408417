import { describe, expect, it } from "vitest";
import { type Circuit, endKey } from "../circuit/types";
import { layOut } from "../sheet/layout";
import type { Layout } from "../sheet/page";
import { catalogue, empty } from "../testing/circuits";
import { dice, someEdit } from "../testing/edits";
import { applyEdit, type Edit, EditRefused } from "./edits";

function soundness(circuit: Circuit): string[] {
  const faults: string[] = [];
  const twice = (names: readonly string[], what: string): void => {
    if (new Set(names).size !== names.length) faults.push(`two of one ${what}`);
  };
  twice(
    circuit.devices.map(({ id }) => id),
    "device id",
  );
  twice(
    circuit.devices.map(({ label }) => label),
    "label",
  );
  twice(
    circuit.conductors.map(({ id }) => id),
    "conductor id",
  );
  twice(
    circuit.sheets.map(({ id }) => id),
    "sheet id",
  );
  const devices = new Map(circuit.devices.map((device) => [device.id, device]));
  for (const { a, b, id } of circuit.conductors)
    for (const end of [a, b]) {
      const device = devices.get(end.device);
      if (!device || !catalogue.terminals(device).includes(end.terminal)) faults.push(`${id} ends nowhere`);
      if (endKey(a) === endKey(b)) faults.push(`${id} is a ring`);
    }
  for (const convention of ["iec", "nema"]) {
    const symbols = circuit.sheets.filter((s) => s.convention === convention).flatMap((s) => s.symbols);
    twice(
      symbols.map(({ device, part }) => `${device}/${part}`),
      `part on ${convention} sheets`,
    );
    for (const { device, part } of symbols) {
      const owner = devices.get(device);
      if (!owner || !catalogue.part(owner, part)) faults.push(`nothing stands for ${device}/${part}`);
    }
  }
  const wires = new Set(circuit.conductors.map(({ id }) => id));
  for (const sheet of circuit.sheets)
    for (const id of Object.keys(sheet.routes)) if (!wires.has(id)) faults.push(`a way of no wire ${id}`);
  return faults;
}

const TAKES_AWAY = new Set(["takeOff", "deleteParts", "addSheet", "moveToSheet"]);

describe("whatever is tried", () => {
  it.each(Array.from({ length: 20 }, (_, index) => index + 1))(
    "leaves a circuit sound, and each refusal says why (seed %i)",
    (seed) => {
      const roll = dice(seed);
      let circuit = empty;
      const made: Edit[] = [];
      for (let step = 0; step < 250; step += 1) {
        const edit = someEdit(circuit, roll, catalogue);
        try {
          circuit = applyEdit(circuit, edit, catalogue);
          made.push(edit);
        } catch (error) {
          expect(error, JSON.stringify(edit)).toBeInstanceOf(EditRefused);
          continue;
        }
        expect(soundness(circuit), `step ${step}: ${JSON.stringify(edit)}`).toEqual([]);
      }
      expect(made.length).toBeGreaterThan(60);
      // What undo after a reload relies on: the same edits give the same circuit.
      const again = made.reduce((now, edit) => applyEdit(now, structuredClone(edit), catalogue), empty);
      expect(again).toEqual(circuit);
    },
  );

  it.each([5, 6, 9, 12, 17])("is drawn with no stretch of wire for two potentials (seed %i)", (seed) => {
    const roll = dice(seed);
    let circuit = empty;
    let layout = layOut(circuit, catalogue);
    let most = 0;
    for (let step = 0; step < 120; step += 1) {
      const edit = someEdit(circuit, roll, catalogue);
      if (TAKES_AWAY.has(edit.type)) continue;
      try {
        circuit = applyEdit(circuit, edit, catalogue);
      } catch {
        continue;
      }
      layout = layOut(circuit, catalogue, layout);
      expect(shared(layout), `step ${step}`).toEqual([]);
      most = Math.max(most, layout.pages.flatMap(({ wiring }) => wiring.runs).length);
    }
    expect(most).toBeGreaterThan(2);
  });
});

/** Stretches on which two potentials lie; wires that found no way run askew and do not count. */
function shared(layout: Layout): string[] {
  const faults: string[] = [];
  for (const { wiring } of layout.pages) {
    const owners = new Map<string, unknown>();
    for (const { net, points, conductor } of wiring.runs) {
      if (points.some((p, at) => at > 0 && p.x !== points[at - 1]?.x && p.y !== points[at - 1]?.y)) continue;
      if (layout.pages.some(({ sheet }) => conductor.id in sheet.routes)) continue;
      for (const edge of edges(points)) {
        const owner = owners.get(edge) ?? net;
        if (owner !== net) faults.push(`${conductor.id} at ${edge}`);
        owners.set(edge, owner);
      }
    }
  }
  return faults;
}

function edges(points: readonly { x: number; y: number }[]): string[] {
  return points.flatMap((b, at) => {
    const a = points[at - 1];
    if (!a) return [];
    const [dx, dy] = [Math.sign(b.x - a.x), Math.sign(b.y - a.y)];
    const length = Math.abs(b.x - a.x) + Math.abs(b.y - a.y);
    return Array.from({ length }, (_, step) => {
      const ends = [step, step + 1].map((s) => `${a.x + dx * s},${a.y + dy * s}`);
      return ends.sort().join(" ");
    });
  });
}
