import { module } from "./modules";
import { alike, bottom, line, POLE, type SymbolDrawing, type SymbolSet, TALL, top } from "./shapes";

/** A converter of frequency (IEC 60617): a box parted from corner to corner, what comes in above, what goes out below. */
function converter(order: readonly ("in" | "out")[], comesIn: string): SymbolDrawing {
  const right = 2 * POLE + 1.2;
  const places = { in: 0, out: 0 };
  const at = order.map((way) => [way, places[way]++ * POLE] as const);
  return {
    anchors: [
      ...at.map(([way, x]) => (way === "in" ? top(x) : bottom(x, TALL))),
      { at: [14, 2], leaves: "right", marking: [12.4, 1.6], align: "start" },
    ],
    body: [-1.2, 0, right, TALL],
    shapes: [
      ...at.map(([way, x]) => (way === "in" ? line([x, 0], [x, 0.7]) : line([x, TALL - 0.7], [x, TALL]))),
      line([-1.2, 0.7], [right, 0.7], [right, TALL - 0.7], [-1.2, TALL - 0.7], [-1.2, 0.7]),
      line([-1.2, TALL - 0.7], [right, 0.7]),
      line([right, 2], [14, 2]),
      { kind: "text", at: [1, 1.5], text: comesIn, size: 1 },
      { kind: "text", at: [2 * POLE - 1, TALL - 1.5], text: "3 ~ f", size: 1 },
    ],
    label: { at: [-1.5, 2.15], align: "end" },
  };
}

/** Inputs with the voltage for them at the left, as it leads up to the contacts. */
function inputs(count: number): SymbolDrawing {
  const plain = module([...Array.from({ length: count }, (_, at) => at + 1), -1], "IN", 5);
  return {
    ...plain,
    anchors: [{ at: [-3, 2], leaves: "left", marking: [-2.9, 1.5], align: "start" }, ...plain.anchors],
    body: [-3, plain.body[1], plain.body[2], plain.body[3]],
    shapes: [...plain.shapes, line([-1.2, 2], [-3, 2])],
    label: { at: [-3.3, 2.6], align: "end" },
  };
}

/** Three capacitors in delta, as one box with its leads. */
const capacitors: SymbolDrawing = {
  anchors: [
    top(0),
    top(POLE),
    top(2 * POLE),
    { at: [12, 4], leaves: "right", marking: [10.4, 3.6], align: "start" },
  ],
  body: [-1.2, 0, 9.2, 6],
  shapes: [
    ...[0, POLE, 2 * POLE].map((x) => line([x, 0], [x, 2])),
    line([-1.2, 2], [9.2, 2], [9.2, 6], [-1.2, 6], [-1.2, 2]),
    line([9.2, 4], [12, 4]),
    line([0.6, 3], [0.6, 5]),
    line([1.4, 3], [1.4, 5]),
    line([-0.5, 4], [0.6, 4]),
    line([1.4, 4], [2.5, 4]),
    { kind: "text", at: [5.8, 4], text: "3 ~", size: 1.15 },
  ],
  label: { at: [-1.5, 4.4], align: "end" },
};

export const symbols: SymbolSet = {
  converter_3: alike(converter(["in", "out", "in", "out", "in", "out"], "3 ~")),
  converter_1: alike(converter(["in", "out", "in", "out", "out"], "1 ~")),
  capacitors_3: alike(capacitors),
  braking_relay: alike(module([1, 2, -1, -2], "~ \u25b8 =")),
  braking_input: alike(module([1, -1], "ST")),
  converter_inputs: alike(inputs(4)),
  converter_inputs_enabled: alike(inputs(5)),
};
