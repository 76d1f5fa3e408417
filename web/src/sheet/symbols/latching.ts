import * as loads from "./loads";
import { coilOf } from "./nema";
import type { Drawn, SymbolSet } from "./shapes";

/** Coils of a latching relay: set and reset; in North America latch and unlatch. */
const coil = (letter: string, nema: string): Drawn => ({
  iec: {
    ...loads.coil,
    shapes: [...loads.coil.shapes, { kind: "text", at: [0, 2], text: letter, size: 1.1 }],
  },
  nema: coilOf(nema),
});

export const symbols: SymbolSet = {
  set_coil: coil("S", "L"),
  reset_coil: coil("R", "U"),
};
