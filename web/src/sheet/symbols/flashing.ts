import * as loads from "./loads";
import { coilOf } from "./nema";
import { line, type SymbolSet } from "./shapes";

/** Supply of a relay that flashes: a coil with a pulse in a box beside it. */
export const symbols: SymbolSet = {
  flash_coil: {
    iec: {
      ...loads.coil,
      body: [-2.9, 0, 1.3, 4],
      shapes: [
        ...loads.coil.shapes,
        line([-1.3, 1.15], [-2.9, 1.15], [-2.9, 2.85], [-1.3, 2.85]),
        line([-2.7, 2.4], [-2.35, 2.4], [-2.35, 1.6], [-1.85, 1.6], [-1.85, 2.4], [-1.5, 2.4]),
      ],
      label: { at: [-3.2, 2.15], align: "end" },
    },
    nema: coilOf("FL"),
  },
};
