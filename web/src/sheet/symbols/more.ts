import { contact } from "./contacts";
import * as loads from "./loads";
import { module } from "./modules";
import { barred, coilOf } from "./nema";
import {
  type Anchor,
  alike,
  bottom,
  type Drawn,
  light,
  line,
  link,
  POLE,
  type Shape,
  type SymbolDrawing,
  type SymbolSet,
  TALL,
  top,
} from "./shapes";

const upright = [top(0), bottom(0, TALL)];
const boxed = (extra: readonly Shape[], label = -1): SymbolDrawing => ({
  anchors: upright,
  body: [-0.7, 0, 0.7, TALL],
  shapes: [
    line([0, 0], [0, 1]),
    line([0, 3], [0, TALL]),
    line([-0.55, 1], [0.55, 1], [0.55, 3], [-0.55, 3], [-0.55, 1]),
    ...extra,
  ],
  label: { at: [label, 2.15], align: "end" },
});

const lettered = (letters: string, nema: string): Drawn => ({
  iec: {
    ...loads.coil,
    shapes: [...loads.coil.shapes, { kind: "text", at: [0, 2], text: letters, size: 1 }],
  },
  nema: coilOf(nema),
});

/** A box at each of three poles. */
const poles = (inside: (x: number) => readonly Shape[]): SymbolDrawing => ({
  anchors: [0, POLE, 2 * POLE].flatMap((x) => [top(x), bottom(x, TALL)]),
  body: [-0.9, 0, 2 * POLE + 0.9, TALL],
  shapes: [0, POLE, 2 * POLE].flatMap((x) => [
    line([x, 0], [x, 1]),
    line([x, 3], [x, TALL]),
    line([x - 0.6, 1], [x + 0.6, 1], [x + 0.6, 3], [x - 0.6, 3], [x - 0.6, 1]),
    ...inside(x),
  ]),
  label: { at: [-1.2, 2.15], align: "end" },
});

/** Two thyristors against each other. */
const thyristors = (x: number): Shape[] => [
  light([x - 0.4, 1.4], [x + 0.4, 1.4], [x, 1.95], [x - 0.4, 1.4]),
  light([x - 0.4, 2.6], [x + 0.4, 2.6], [x, 2.05], [x - 0.4, 2.6]),
];

/** A winding with a tap; its far end below, the tap to the right of that. */
const tapped = (x: number): Shape[] => [
  line([x, 0], [x, 0.8]),
  ...[0.8, 1.4, 2, 2.6].map(
    (y): Shape => ({ kind: "arc", d: `M ${x} ${y} A 0.3 0.3 0 0 1 ${x} ${y + 0.6}` }),
  ),
  line([x, 3.2], [x, TALL]),
  line([x, 2], [x + 2, 2], [x + 2, TALL]),
];

const autotransformer: SymbolDrawing = {
  anchors: [0, POLE, 2 * POLE].flatMap((x): Anchor[] => [
    top(x),
    bottom(x + 2, TALL),
    { ...bottom(x, TALL), marking: [x - 0.35, TALL - 0.15], align: "end" },
  ]),
  body: [-0.9, 0, 2 * POLE + 2.6, TALL],
  shapes: [0, POLE, 2 * POLE].flatMap(tapped),
  label: { at: [-1.2, 2.15], align: "end" },
};

/** Three rods of different length in a tank. */
const electrodes: SymbolDrawing = {
  anchors: [0, 3, 6].map((x) => top(x)),
  body: [-1, 0, 7, TALL],
  shapes: [
    line([0, 0], [0, 3.5]),
    line([3, 0], [3, 2.8]),
    line([6, 0], [6, 1.9]),
    light([-1, 1.4], [-1, TALL], [7, TALL], [7, 1.4]),
    link([-1, 2.4], [7, 2.4]),
  ],
  label: { at: [-1.3, 2.15], align: "end" },
};

const motorCapacitor: SymbolDrawing = {
  anchors: [
    top(0),
    top(3),
    top(6),
    top(9),
    { at: [11, 5], leaves: "right", marking: [9.55, 4.6], align: "start" },
  ],
  body: [-0.4, 0, 10, 8.4],
  shapes: [
    line([0, 0], [0, 1.4], [2.2, 3.1]),
    line([3, 0], [3, 2.4]),
    line([6, 0], [6, 2.4]),
    line([9, 0], [9, 1.4], [6.8, 3.1]),
    { kind: "circle", at: [4.5, 5], r: 3, fills: true },
    line([7.5, 5], [11, 5]),
    { kind: "text", at: [4.5, 5], text: "M", size: 2 },
    { kind: "text", at: [4.5, 6.7], text: "1 ~", size: 1.15 },
  ],
  label: { at: [0.9, 6.4], align: "end" },
};

const led: SymbolDrawing = {
  ...loads.lamp,
  shapes: [
    line([0, 0], [0, 1.1]),
    line([0, 2.9], [0, TALL]),
    { kind: "circle", at: [0, 2], r: 0.9, fills: true },
    line([-0.5, 1.55], [0.5, 1.55], [0, 2.4], [-0.5, 1.55]),
    line([-0.5, 2.4], [0.5, 2.4]),
  ],
};

/** A contact that a turning shaft works: the letter of its speed in a box. */
const speedHead: Shape[] = [
  link([-0.55, 2.05], [-1.6, 2.05]),
  light([-2.7, 1.5], [-1.6, 1.5], [-1.6, 2.6], [-2.7, 2.6], [-2.7, 1.5]),
  { kind: "text", at: [-2.15, 2.05], text: "n", size: 0.95 },
];

export const symbols: SymbolSet = {
  impulse_coil: {
    iec: {
      ...loads.coil,
      shapes: [
        ...loads.coil.shapes,
        line([-0.9, 2.4], [-0.4, 2.4], [-0.4, 1.6], [0.4, 1.6], [0.4, 2.4], [0.9, 2.4]),
      ],
    },
    nema: coilOf("IMP"),
  },
  brake_coil: lettered("=", "BR"),
  release_u: lettered("U<", "UV"),
  release_s: lettered("U>", "ST"),
  suppressor: alike(boxed([line([-0.7, 2.7], [0.7, 1.3])], -1.3)),
  thermistors: alike(
    boxed(
      [line([-0.7, 2.7], [0.7, 1.3]), { kind: "text", at: [-1.25, 2.6], text: "\u03d1", size: 0.8 }],
      -1.9,
    ),
  ),
  lamp_led: alike(led),
  rectifier: alike(module([1, 2, -1, -2], "~ \u25b8 =")),
  resistors_3: alike(poles(() => [])),
  soft_starter_3: alike(poles(thyristors)),
  autotransformer_3: alike(autotransformer),
  electrodes: alike(electrodes),
  motor_capacitor: alike(motorCapacitor),
  speed_no: { iec: contact(false, speedHead, -2.8), nema: barred(false, speedHead, -2.8) },
};
