import { bottom, light, line, POLE, type Shape, type SymbolDrawing, TALL, top } from "./shapes";

const upright = [top(0), bottom(0, TALL)];
const plainLeads = [line([0, 0], [0, 1.15]), line([0, 2.85], [0, TALL])];

export const coil: SymbolDrawing = {
  anchors: upright,
  body: [-1.3, 0, 1.3, TALL],
  shapes: [...plainLeads, line([-1.3, 1.15], [1.3, 1.15], [1.3, 2.85], [-1.3, 2.85], [-1.3, 1.15])],
  label: { at: [-1.6, 2.15], align: "end" },
};

export const lamp: SymbolDrawing = {
  anchors: upright,
  body: [-1, 0, 1, TALL],
  shapes: [
    line([0, 0], [0, 1.1]),
    line([0, 2.9], [0, TALL]),
    { kind: "circle", at: [0, 2], r: 0.9, fills: true },
    line([-0.64, 1.36], [0.64, 2.64]),
    line([-0.64, 2.64], [0.64, 1.36]),
  ],
  label: { at: [-1.3, 2.15], align: "end" },
};

const heater = (x: number): Shape[] => [
  line([x, 0], [x, 1.45], [x + 0.7, 1.45], [x + 0.7, 2.55], [x, 2.55], [x, TALL]),
];

export const heater3: SymbolDrawing = {
  anchors: [0, POLE, 2 * POLE].flatMap((x) => [top(x), bottom(x, TALL)]),
  body: [-1.2, 0, 2 * POLE + 1.5, TALL],
  shapes: [
    ...[0, POLE, 2 * POLE].flatMap(heater),
    line([-1.2, 1], [2 * POLE + 1.5, 1], [2 * POLE + 1.5, 3], [-1.2, 3], [-1.2, 1]),
  ],
  label: { at: [-1.5, 2.15], align: "end" },
};

/** A source in a list: a bar with so many lines that leave it, and what it gives. */
const sourceIcon = (lines: number, gives: string): NonNullable<SymbolDrawing["icon"]> => ({
  body: [-1, 0, 7, 6],
  shapes: [
    line([-0.6, 0.4], [6.6, 0.4], [6.6, 3.2], [-0.6, 3.2], [-0.6, 0.4]),
    { kind: "text", at: [3, 1.8], text: gives, size: 2.2 },
    ...Array.from({ length: lines }, (_, n): Shape => {
      const x = 3 + (n - (lines - 1) / 2) * 2;
      return line([x, 3.2], [x, 6]);
    }),
  ],
});

export const motor3: SymbolDrawing = {
  anchors: [
    top(0),
    top(POLE),
    top(2 * POLE),
    { at: [10, 5], leaves: "right", marking: [8.55, 4.6], align: "start" },
  ],
  body: [-0.4, 0, 9, 8.4],
  shapes: [
    line([0, 0], [0, 1.4], [1.9, 2.85]),
    line([POLE, 0], [POLE, 2]),
    line([2 * POLE, 0], [2 * POLE, 1.4], [6.1, 2.85]),
    { kind: "circle", at: [POLE, 5], r: 3, fills: true },
    line([7, 5], [10, 5]),
    { kind: "text", at: [POLE, 5], text: "M", size: 2 },
    { kind: "text", at: [POLE, 6.7], text: "3 ~", size: 1.15 },
  ],
  label: { at: [0.4, 6.4], align: "end" },
};

export const supply3: SymbolDrawing = {
  anchors: [0, 4, 8, 11, 14].map((x) => ({
    at: [x, 0] as const,
    leaves: "down" as const,
    marking: [x, -0.65] as const,
    align: "middle" as const,
  })),
  body: [-1.2, -1.9, 15.8, -0.3],
  shapes: [light([-1.2, -1.9], [15.8, -1.9], [15.8, -0.35], [-1.2, -0.35], [-1.2, -1.9])],
  label: { at: [-1.6, -1.1], align: "end" },
  icon: sourceIcon(3, "3 ~"),
};

/** Lines and earth without the neutral, or with a neutral in place of the third line. */
const bar = (xs: readonly number[], gives: string): SymbolDrawing => {
  const right = (xs.at(-1) ?? 0) + 1.8;
  return {
    anchors: xs.map((x) => ({ at: [x, 0], leaves: "down", marking: [x, -0.65], align: "middle" })),
    body: [-1.2, -1.9, right, -0.3],
    shapes: [light([-1.2, -1.9], [right, -1.9], [right, -0.35], [-1.2, -0.35], [-1.2, -1.9])],
    label: { at: [-1.6, -1.1], align: "end" },
    icon: sourceIcon(3, gives),
  };
};
export const supplyCentreTapped = bar([0, 4, 8, 11], "1 ~ 3");
export const supplyCornerEarthed = bar([0, 4, 8, 11], "3 ~");

export const terminal: SymbolDrawing = {
  anchors: [
    { ...top(0), marking: [0.4, 0.4] },
    { ...bottom(0, 2), marking: [0.4, 2.3] },
  ],
  body: [-0.5, 0, 0.5, 2],
  shapes: [line([0, 0], [0, 0.62]), { kind: "circle", at: [0, 1], r: 0.38 }, line([0, 1.38], [0, 2])],
  label: { at: [-0.7, 1.35], align: "end" },
};

/** A coil with the box of a timer at its side. */
export const timerCoil: SymbolDrawing = {
  ...coil,
  body: [-2, 0, 1.3, TALL],
  shapes: [
    ...coil.shapes,
    line([-2, 1.15], [-1.3, 1.15], [-1.3, 2.85], [-2, 2.85], [-2, 1.15]),
    line([-2, 1.15], [-1.3, 2.85]),
    line([-2, 2.85], [-1.3, 1.15]),
  ],
  label: { at: [-2.3, 2.15], align: "end" },
};

export const solenoid: SymbolDrawing = {
  ...coil,
  body: [-1.3, 0, 2.6, TALL],
  shapes: [
    ...coil.shapes,
    line([1.3, 2], [1.7, 2]),
    line([1.7, 1.3], [2.6, 2.7], [1.7, 2.7], [2.6, 1.3], [1.7, 1.3]),
  ],
};

export const horn: SymbolDrawing = {
  anchors: upright,
  body: [-0.8, 0, 1.4, TALL],
  shapes: [
    line([0, 0], [0, 1.3]),
    line([0, 2.7], [0, TALL]),
    line([-0.6, 1.3], [0.5, 1.3], [0.5, 2.7], [-0.6, 2.7], [-0.6, 1.3]),
    line([0.5, 1.5], [1.3, 1], [1.3, 3], [0.5, 2.5]),
  ],
  label: { at: [-1.1, 2.15], align: "end" },
};

/** Six leads: the beginnings of the windings above, their ends below. */
export const motor6: SymbolDrawing = {
  anchors: [
    top(0),
    top(POLE),
    top(2 * POLE),
    ...[0, POLE, 2 * POLE].map((x) => bottom(x, 10)),
    { at: [10, 5], leaves: "right", marking: [8.55, 4.6], align: "start" },
  ],
  body: [-0.4, 0, 9, 10],
  shapes: [
    line([0, 0], [0, 1.4], [1.9, 2.85]),
    line([POLE, 0], [POLE, 2]),
    line([2 * POLE, 0], [2 * POLE, 1.4], [6.1, 2.85]),
    line([0, 10], [0, 8.6], [1.9, 7.15]),
    line([POLE, 10], [POLE, 8]),
    line([2 * POLE, 10], [2 * POLE, 8.6], [6.1, 7.15]),
    { kind: "circle", at: [POLE, 5], r: 3, fills: true },
    line([7, 5], [10, 5]),
    { kind: "text", at: [POLE, 4.6], text: "M", size: 2 },
    { kind: "text", at: [POLE, 6.3], text: "3 ~", size: 1.15 },
  ],
  label: { at: [-0.8, 5], align: "end" },
};

/** Slip rings: the lower leads go through to the rotor, the circle inside. */
export const motorWound: SymbolDrawing = {
  ...motor6,
  shapes: [
    ...motor6.shapes.filter((shape) => shape.kind !== "text"),
    { kind: "circle", at: [POLE, 5], r: 2.3 },
    line([1.9, 7.15], [2.39, 6.65]),
    line([POLE, 8], [POLE, 7.3]),
    line([6.1, 7.15], [5.61, 6.65]),
    { kind: "text", at: [POLE, 4.7], text: "M", size: 1.8 },
    { kind: "text", at: [POLE, 6.2], text: "3 ~", size: 1.1 },
  ],
};

export const supply1: SymbolDrawing = {
  anchors: [0, 4, 7].map((x) => ({
    at: [x, 0] as const,
    leaves: "down" as const,
    marking: [x, -0.65] as const,
    align: "middle" as const,
  })),
  body: [-1.2, -1.9, 8.8, -0.3],
  shapes: [light([-1.2, -1.9], [8.8, -1.9], [8.8, -0.35], [-1.2, -0.35], [-1.2, -1.9])],
  label: { at: [-1.6, -1.1], align: "end" },
  icon: sourceIcon(2, "1 ~"),
};

export const monitor3: SymbolDrawing = {
  anchors: [top(0), top(POLE), top(2 * POLE)],
  body: [-1, 0, 2 * POLE + 1, 4],
  shapes: [
    ...[0, POLE, 2 * POLE].map((x) => line([x, 0], [x, 1.2])),
    line([-1, 1.2], [2 * POLE + 1, 1.2], [2 * POLE + 1, 3.8], [-1, 3.8], [-1, 1.2]),
    { kind: "text", at: [POLE, 2.5], text: "3 ~ U", size: 1.2 },
  ],
  label: { at: [-1.4, 2.4], align: "end" },
};

/** Two windings as two rings, one above the other. */
export const transformer: SymbolDrawing = {
  anchors: [
    { ...top(0), marking: [-0.35, 0.75], align: "end" },
    { ...top(2), marking: [2.35, 0.75] },
    { ...bottom(0, 8), marking: [-0.35, 7.85], align: "end" },
    { ...bottom(2, 8), marking: [2.35, 7.85] },
  ],
  body: [-0.8, 0, 2.8, 8],
  shapes: [
    { kind: "circle", at: [1, 3.1], r: 1.5 },
    { kind: "arc", d: "M 1 3.4 A 1.5 1.5 0 0 1 1 6.4 A 1.5 1.5 0 0 1 1 3.4" },
    line([0, 0], [0, 2]),
    line([2, 0], [2, 2]),
    line([0, 8], [0, 6]),
    line([2, 8], [2, 6]),
  ],
  label: { at: [-1.1, 4.1], align: "end" },
};

export const supplyDirect: SymbolDrawing = { ...supply1, icon: sourceIcon(2, "=") };
