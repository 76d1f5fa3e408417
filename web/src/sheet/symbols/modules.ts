import { motor3 } from "./loads";
import { type Anchor, bottom, line, POLE, type Shape, type SymbolDrawing, TALL, top } from "./shapes";

/**
 * Devices whose inside no symbol tells: a box with its terminals above and below and a word in it.
 * `order` gives the terminals in the order of the part: positive numbers count those above, negative
 * numbers those below, both from 1.
 */
export function module(order: readonly number[], text: string, step = POLE): SymbolDrawing {
  const above = order.filter((place) => place > 0).length;
  const below = order.length - above;
  const width = Math.max(above, below, 1) - 1;
  const right = width * step + 1.2;
  const height = below > 0 ? TALL : 3.4;
  const box = [0.9, below > 0 ? TALL - 0.9 : 3.4] as const;
  const anchor = (place: number): Anchor =>
    place > 0 ? top((place - 1) * step) : bottom((-place - 1) * step, TALL);
  const leads = order.map(
    (place): Shape =>
      place > 0
        ? line([(place - 1) * step, 0], [(place - 1) * step, box[0]])
        : line([(-place - 1) * step, box[1]], [(-place - 1) * step, TALL]),
  );
  return {
    anchors: order.map(anchor),
    body: [-1.2, 0, right, height],
    shapes: [
      ...leads,
      line([-1.2, box[0]], [right, box[0]], [right, box[1]], [-1.2, box[1]], [-1.2, box[0]]),
      { kind: "text", at: [(width * step) / 2, (box[0] + box[1]) / 2], text, size: 1.05 },
    ],
    label: { at: [-1.5, 2.15], align: "end" },
  };
}

export const powerSupply = module([1, 2, -1, -2], "~ / =");
export const meterSupply = module([1, -1], "~");
export const plcSupply = module([1, 2], "U");
export const plcInputs = module([1, 2, 3, 4, 5, 6, 7, 8, -1], "IN", 3);
export const plcOutputs = module([1, -1, -2, -3], "OUT", 3);
export const sensor2 = module([1, -1], "<>");
export const sensor3 = module([1, 2, -1], "<>", 3);
export const transformerTapped = module([1, 2, 3, 4, -1, -2], "T", 3);

/** The conductor through the window from above to below, the secondary to the right. */
export const currentTransformer: SymbolDrawing = {
  anchors: [
    { ...top(0), marking: [-0.35, 0.75], align: "end" },
    { ...bottom(0, TALL), marking: [-0.35, 3.85], align: "end" },
    { at: [4, 1], leaves: "right", marking: [3.1, 0.7], align: "start" },
    { at: [4, 3], leaves: "right", marking: [3.1, 3.7], align: "start" },
  ],
  body: [-1.2, 0, 3, TALL],
  shapes: [
    line([0, 0], [0, TALL]),
    { kind: "circle", at: [0, 2], r: 1.1 },
    line([1.1, 2], [2, 2]),
    line([2, 1], [4, 1]),
    line([2, 3], [4, 3]),
    line([2, 1], [2, 3]),
  ],
  label: { at: [-1.5, 2.15], align: "end" },
};

const upright = [top(0), bottom(0, TALL)];

export const ammeter: SymbolDrawing = {
  anchors: upright,
  body: [-1, 0, 1, TALL],
  shapes: [
    line([0, 0], [0, 1]),
    line([0, 3], [0, TALL]),
    { kind: "circle", at: [0, 2], r: 1 },
    { kind: "text", at: [0, 2.05], text: "A", size: 1.2 },
  ],
  label: { at: [-1.3, 2.15], align: "end" },
};

/** Two terminals, with a link between them on the side they are fed from. */
export const terminalShorting: SymbolDrawing = {
  anchors: [top(0), bottom(0, TALL), top(3), bottom(3, TALL)],
  body: [-0.8, 0, 3.8, TALL],
  shapes: [
    line([0, 0], [0, 1.6]),
    line([0, 2.4], [0, TALL]),
    line([3, 0], [3, 1.6]),
    line([3, 2.4], [3, TALL]),
    { kind: "circle", at: [0, 2], r: 0.4 },
    { kind: "circle", at: [3, 2], r: 0.4 },
    line([0, 1.1], [0.8, 1.1]),
    { kind: "blade", pivot: [0.8, 1.1], rest: [2, 0.5], moved: [2.2, 1.1], branch: 2, nc: false },
    line([2.2, 1.1], [3, 1.1]),
  ],
  label: { at: [-1.1, 2.15], align: "end" },
};

/** Two triangles that touch: neither side can move while the other has. */
export const mechanicalInterlock: SymbolDrawing = {
  anchors: [],
  body: [-1.2, 1, 3.2, 3],
  shapes: [
    {
      kind: "line",
      points: [
        [-1.2, 2],
        [0, 2],
      ],
      light: true,
      dashed: true,
    },
    line([0, 1.2], [1, 2], [0, 2.8], [0, 1.2]),
    line([2, 1.2], [1, 2], [2, 2.8], [2, 1.2]),
    {
      kind: "line",
      points: [
        [2, 2],
        [3.2, 2],
      ],
      light: true,
      dashed: true,
    },
  ],
  label: { at: [-1.5, 2.15], align: "end" },
};

const up = (branch: number): Shape => ({
  kind: "blade",
  pivot: [0, 1.2],
  rest: [0, 2.6],
  moved: [-0.9, 2.8],
  branch,
  nc: false,
});
const down = (branch: number): Shape => ({
  kind: "blade",
  pivot: [0, 1.2],
  rest: [0, 2.6],
  moved: [0.9, 2.8],
  branch,
  nc: false,
});
const ways: Shape[] = [
  line([0, 0], [0, 1.2]),
  line([-1, TALL], [-1, 2.8]),
  line([1, TALL], [1, 2.8]),
  line([-2.2, 1.9], [-0.2, 1.9]),
  line([-2.2, 1.4], [-2.2, 2.4]),
];
const upLeft: Anchor = { ...bottom(-1, TALL), marking: [-1.35, 3.85], align: "end" };
const downRight: Anchor = { ...bottom(1, TALL), marking: [1.35, 3.85] };
const switchBody = {
  body: [-2.2, 0, 1.6, TALL] as const,
  label: { at: [-2.5, 2.15] as const, align: "end" as const },
};

/** The common is the first terminal. */
export const upDown: SymbolDrawing = {
  anchors: [top(0), upLeft, downRight],
  shapes: [...ways, up(0), down(1)],
  ...switchBody,
};
/** The common is the second terminal. */
export const upDownB: SymbolDrawing = {
  anchors: [upLeft, top(0), downRight],
  shapes: [...ways, up(0), down(1)],
  ...switchBody,
};

/** Neutral, the two ends of the windings, and the frame; the capacitor stands inside. */
const [left, middle, rightmost, frame] = motor3.anchors as readonly [Anchor, Anchor, Anchor, Anchor];
export const motor1: SymbolDrawing = {
  ...motor3,
  anchors: [middle, left, rightmost, frame],
  shapes: motor3.shapes.map((shape) =>
    shape.kind === "text" && shape.text === "3 ~" ? { ...shape, text: "1 ~" } : shape,
  ),
};
