import { Catalogue } from "../circuit/catalogue";
import { findNets } from "../circuit/nets";
import { type Circuit, endKey, type Kind } from "../circuit/types";
import { applyEdit, EditRefused } from "../edits/edits";
import { layOut } from "../sheet/layout";
import { dice, someEdit } from "./edits";
import { qualities } from "./quality";

/** Lets the core's tests see what the browser makes of circuits: one line of JSON in, one out. */
interface Asked {
  readonly kinds: readonly Kind[];
  readonly circuits: readonly Circuit[];
  /** Edits that are tried on each circuit, and the seed that they follow. */
  readonly edits: number;
  /** Are their sheets to be looked at? */
  readonly drawn: boolean;
  readonly seed: number;
}

function seen(circuit: Circuit, catalogue: Catalogue) {
  const shown = (convention: Circuit["convention"]) => {
    const designation = catalogue.designations({ ...circuit, convention });
    return circuit.devices.flatMap((device) =>
      catalogue.terminals(device).map((terminal) => designation({ device: device.id, terminal })),
    );
  };
  return {
    nets: findNets(circuit).map(({ number, ends, conductors }) => ({
      number,
      ends: ends.map(endKey),
      conductors: conductors.map(({ id }) => id),
    })),
    devices: circuit.devices.map((device) => ({
      id: device.id,
      params: catalogue.params(device),
      terminals: catalogue.terminals(device),
      parts: catalogue.parts(device).map(({ name }) => name),
    })),
    iec: shown("iec"),
    nema: shown("nema"),
  };
}

/** What a person would find fault with on the sheets, in figures. */
const drawn = (circuit: Circuit, catalogue: Catalogue) => ({
  iec: qualities(layOut({ ...circuit, convention: "iec" }, catalogue)),
  nema: qualities(layOut({ ...circuit, convention: "nema" }, catalogue)),
});

/** The circuit after each edit that could be made. */
function worked(circuit: Circuit, catalogue: Catalogue, edits: number, seed: number): Circuit[] {
  const roll = dice(seed);
  const made: Circuit[] = [];
  for (let step = 0; step < edits; step += 1) {
    const now = made.at(-1) ?? circuit;
    try {
      made.push(applyEdit(now, someEdit(now, roll, catalogue), catalogue));
    } catch (error) {
      if (!(error instanceof EditRefused)) throw error;
    }
  }
  return made;
}

let text = "";
process.stdin.setEncoding("utf-8");
process.stdin.on("data", (part) => {
  text += part;
});
process.stdin.on("end", () => {
  const asked = JSON.parse(text) as Asked;
  const catalogue = new Catalogue(asked.kinds);
  const answer = asked.circuits.map((circuit, index) => ({
    ...seen(circuit, catalogue),
    ...(asked.drawn ? { drawn: drawn(circuit, catalogue) } : {}),
    after: worked(circuit, catalogue, asked.edits, asked.seed + index),
  }));
  process.stdout.write(JSON.stringify(answer));
});
