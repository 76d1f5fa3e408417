import { transformer as rings } from "./loads";
import { bottom, line, link, POLE, type Shape, type SymbolDrawing, TALL, top, type XY } from "./shapes";

/**
 * Symbols of NEMA ICS 19, drawn upright like all others: what stands to the left here stands above
 * in a rung. The strokes are ours.
 */
const upright = [top(0), bottom(0, TALL)];

const leads = (x: number, to = 1.55): Shape[] => [line([x, 0], [x, to]), line([x, TALL - to], [x, TALL])];
const plates = (x: number, half = 0.85): Shape[] => [
  line([x - half, 1.55], [x + half, 1.55]),
  line([x - half, 2.45], [x + half, 2.45]),
];
const slash = (x: number, half = 0.85): Shape => line([x - half, 2.85], [x + half, 1.15]);
const bridge = (x: number, branch: number): Shape => ({
  kind: "bridge",
  points: [
    [x, 1.55],
    [x, 2.45],
  ],
  branch,
});

function contact(nc: boolean, extra: readonly Shape[] = [], left = -0.9): SymbolDrawing {
  return {
    anchors: upright,
    body: [left, 0, 0.9, TALL],
    shapes: [...leads(0), ...plates(0), ...(nc ? [slash(0)] : []), bridge(0, 0), ...extra],
    label: { at: [left - 0.4, 2.15], align: "end" },
  };
}

export const contactNo = contact(false);
export const contactNc = contact(true);

/** A timed contact: an arrow at its stem, the way in which it is late. */
const late = (nc: boolean, back: boolean): SymbolDrawing => {
  const [tip, from] = back ? [-1.7, -1.2] : [-1.2, -1.7];
  const arrow: Shape[] = [line([-0.85, 2], [-1.9, 2]), line([from, 1.65], [tip, 2], [from, 2.35])];
  return contact(nc, arrow, -2);
};
export const onDelayNo = late(false, false);
export const onDelayNc = late(true, false);
export const offDelayNo = late(false, true);
export const offDelayNc = late(true, true);

/** A contact of an overload relay: the hook of a heater above it. */
const hook: Shape = { kind: "arc", d: "M -1.3 1.4 A 0.3 0.3 0 0 1 -1.3 2 A 0.3 0.3 0 0 0 -1.3 2.6" };
export const thermalNo = contact(false, [hook], -1.7);
export const thermalNc = contact(true, [hook], -1.7);

export function poles(count: number, pole: (x: number, branch: number) => readonly Shape[]): SymbolDrawing {
  const xs = Array.from({ length: count }, (_, index) => index * POLE);
  const right = (count - 1) * POLE;
  return {
    anchors: xs.flatMap((x) => [top(x), bottom(x, TALL)]),
    body: [-1, 0, right + 1, TALL],
    shapes: [...xs.flatMap(pole), ...(count > 1 ? [link([0, 2], [right, 2])] : [])],
    label: { at: [-1.3, 2.15], align: "end" },
  };
}

export const contactor3 = poles(3, (x, branch) => [...leads(x), ...plates(x), bridge(x, branch)]);

/** Knife switch. */
export const knife = (x: number, branch: number): Shape[] => [
  ...leads(x, 1.2),
  { kind: "circle", at: [x, 1.2], r: 0.16 },
  { kind: "circle", at: [x, 2.8], r: 0.16 },
  { kind: "blade", pivot: [x, 2.8], rest: [x - 0.95, 1.35], moved: [x, 1.2], branch, nc: false },
];
export const disconnect3 = poles(3, knife);

/** The bow of a breaker: away from its contacts while it is open. */
export const bow = (x: number, branch: number): Shape[] => [
  ...leads(x, 1.1),
  { kind: "circle", at: [x, 1.1], r: 0.16 },
  { kind: "circle", at: [x, 2.9], r: 0.16 },
  { kind: "arc", d: `M ${x - 0.15} 2.9 A 1.1 1.1 0 0 1 ${x - 0.15} 1.1` },
  {
    kind: "bridge",
    points: [
      [x, 1.1],
      [x, 2.9],
    ],
    branch,
  },
];
export const breaker = (count: number): SymbolDrawing => poles(count, bow);

/** Motor protector: breaker with the hook of its thermal release. */
export const motorStarter3: SymbolDrawing = poles(3, (x, branch) => [
  ...bow(x, branch),
  { kind: "arc", d: `M ${x + 0.5} 1.4 A 0.3 0.3 0 0 1 ${x + 0.5} 2 A 0.3 0.3 0 0 0 ${x + 0.5} 2.6` },
]);

export const fuse = (count: number): SymbolDrawing =>
  poles(count, (x) => [
    ...leads(x, 1),
    line([x - 0.42, 1], [x + 0.42, 1], [x + 0.42, 3], [x - 0.42, 3], [x - 0.42, 1]),
    line([x - 0.42, 1.45], [x + 0.42, 1.45]),
    line([x - 0.42, 2.55], [x + 0.42, 2.55]),
  ]);

const heater = (x: number): Shape[] => [
  ...leads(x, 1),
  { kind: "arc", d: `M ${x} 1 A 0.5 0.5 0 0 1 ${x} 2 A 0.5 0.5 0 0 0 ${x} 3` },
];
export const heater3: SymbolDrawing = {
  ...poles(3, heater),
  shapes: [0, POLE, 2 * POLE].flatMap(heater),
};

export const coilOf = (glyph: string): SymbolDrawing => ({
  anchors: upright,
  body: [-1.1, 0, 1.1, TALL],
  shapes: [
    ...leads(0, 0.9),
    { kind: "circle", at: [0, 2], r: 1.1, fills: true },
    ...(glyph ? [{ kind: "text", at: [0, 2], text: glyph, size: 1 } as const] : []),
  ],
  label: { at: [-1.4, 2.15], align: "end" },
});
export const coil = coilOf("");
export const timerCoil = coilOf("TR");

/** Pilot light with its rays. */
export const lamp: SymbolDrawing = {
  anchors: upright,
  body: [-1.3, 0, 1.3, TALL],
  shapes: [
    ...leads(0, 1.1),
    { kind: "circle", at: [0, 2], r: 0.9, fills: true },
    ...[-1, 1].flatMap((a) => [-1, 1].map((b) => line([a * 0.68, 2 + b * 0.68], [a * 1.1, 2 + b * 1.1]))),
  ],
  label: { at: [-1.6, 2.15], align: "end" },
};

export const solenoid: SymbolDrawing = {
  anchors: upright,
  body: [-0.9, 0, 0.9, TALL],
  shapes: [
    line(
      [0, 0],
      [0, 0.9],
      ...[1.15, 1.65, 2.15, 2.65].map((y, index): XY => [index % 2 ? 0.8 : -0.8, y]),
      [0, 3],
      [0, TALL],
    ),
  ],
  label: { at: [-1.2, 2.15], align: "end" },
};

/** Two round contacts that a bar joins, moved by what stands to the left. */
export function barred(nc: boolean, head: readonly Shape[], left: number): SymbolDrawing {
  const x = nc ? 0.24 : -0.75;
  return {
    anchors: upright,
    body: [left, 0, 1, TALL],
    shapes: [
      ...leads(0, 1.15),
      { kind: "circle", at: [0, 1.35], r: 0.2 },
      { kind: "circle", at: [0, 2.65], r: 0.2 },
      {
        kind: "blade",
        pivot: [x, 0.95],
        rest: [x, 3.05],
        moved: [nc ? 0.8 : -0.24, 3.05],
        lifts: [nc ? 0.8 : -0.24, 0.95],
        branch: 0,
        nc,
      },
      line([x, 2], [-1.7, 2]),
      ...head,
    ],
    label: { at: [left - 0.4, 2.15], align: "end" },
  };
}

const pushHead = [line([-1.7, 1.4], [-1.7, 2.6])];
export const pushNo = barred(false, pushHead, -1.8);
export const pushNc = barred(true, pushHead, -1.8);
const mushroom: Shape[] = [{ kind: "arc", d: "M -1.7 1.1 A 0.95 0.95 0 0 0 -1.7 2.9 Z" }];
export const emergencyNo = barred(false, mushroom, -2.4);
export const emergencyNc = barred(true, mushroom, -2.4);
export const knob = [
  line([-1.7, 2], [-2.1, 1.3]),
  line([-2.1, 1.3], [-1.75, 1.35]),
  line([-2.1, 1.3], [-2.15, 1.65]),
];
export const turnNo = barred(false, knob, -2.3);
export const turnNc = barred(true, knob, -2.3);

/** An arm that hangs below its contact (normally open) or lies on it, moved by what stands to the right. */
function armed(nc: boolean, mover: readonly Shape[]): SymbolDrawing {
  const rest: XY = nc ? [-0.05, 2.9] : [0.95, 2.75];
  return {
    anchors: upright,
    body: [-0.9, 0, 2.5, TALL],
    shapes: [
      ...leads(0, 1.15),
      { kind: "circle", at: [0, 1.35], r: 0.2 },
      { kind: "circle", at: [0, 2.65], r: 0.2 },
      {
        kind: "blade",
        pivot: [nc ? 0.2 : 0.1, 1.5],
        rest: nc ? [0.22, 2.85] : rest,
        moved: nc ? [0.95, 2.75] : [0.22, 2.85],
        branch: 0,
        nc,
      },
      ...mover,
    ],
    label: { at: [-1.2, 2.15], align: "end" },
  };
}

const stem = (nc: boolean): Shape => line([nc ? 0.2 : 0.5, 2.05], [1.4, 2.05]);
const wedge = (nc: boolean): Shape[] => [line([nc ? 0.22 : 0.62, 2.25], [1.5, 2.4], [nc ? 0.22 : 0.85, 2.6])];
const ball = (nc: boolean): Shape[] => [stem(nc), { kind: "circle", at: [1.9, 2.05], r: 0.5 }];
const dome = (nc: boolean): Shape[] => [
  stem(nc),
  { kind: "arc", d: "M 2.2 1.3 A 0.78 0.78 0 0 0 2.2 2.8 Z" },
];
const bimetal = (nc: boolean): Shape[] => [
  stem(nc),
  line([1.4, 2.05], [1.4, 1.6], [1.8, 1.6], [1.8, 2.5], [2.2, 2.5], [2.2, 2.05]),
];

export const limitNo = armed(false, wedge(false));
export const limitNc = armed(true, wedge(true));
export const floatNo = armed(false, ball(false));
export const floatNc = armed(true, ball(true));
export const pressureNo = armed(false, dome(false));
export const pressureNc = armed(true, dome(true));
export const temperatureNo = armed(false, bimetal(false));
export const temperatureNc = armed(true, bimetal(true));

/** Common above; the first way to the right, closed at rest unless both are open then. */
const right = { ...bottom(1, TALL), marking: [1.35, 3.85] as const };
const left = { ...bottom(-1, TALL), marking: [-1.35, 3.85] as const, align: "end" as const };

const ways = (closedAtRest: boolean): Shape[] => [
  line([0, 0], [0, 0.8]),
  line([-1, 1.55], [-1, 0.8], [1, 0.8], [1, 1.55]),
  line([1, 2.45], [1, TALL]),
  line([-1, 2.45], [-1, TALL]),
  ...plates(1, 0.6),
  ...plates(-1, 0.6),
  ...(closedAtRest ? [slash(1, 0.6)] : []),
];

function twoWays(extra: readonly Shape[], spare: readonly Shape[]): SymbolDrawing {
  return {
    anchors: [top(0), right, left],
    body: [-1.7, 0, 1.7, TALL],
    shapes: [...ways(true), ...spare, ...extra],
    label: { at: [-2.1, 1.75], align: "end" },
  };
}

/** The arrow of a contact that moves after a time. */
const timed: Shape[] = [line([-1.6, 3.1], [-1.9, 2], [-1.6, 0.9]), line([-1.9, 2], [-2.3, 2])];
/** The first branch is closed at rest, the second when moved. */
const spares = [bridge(1, 0), bridge(-1, 1)];
export const changeover = twoWays([], spares);
export const timerChangeover: SymbolDrawing = {
  ...twoWays(timed, spares),
  body: [-2.3, 0, 1.7, TALL],
  label: { at: [-2.6, 1.75], align: "end" },
};
export const starDelta: SymbolDrawing = {
  ...timerChangeover,
  anchors: [top(0), left, right],
  shapes: [...ways(false), bridge(-1, 0), bridge(1, 1), ...timed],
};

const humps = (y: number, down: 0 | 1): Shape => ({
  kind: "arc",
  d: `M -0.6 ${y} ${[0.04, 0.68, 1.32, 1.96, 2.6].map((x) => `A 0.32 0.32 0 0 ${down} ${x} ${y}`).join(" ")}`,
});

/** Two windings with an iron core between them. */
export const transformer: SymbolDrawing = {
  ...rings,
  shapes: [
    line([0, 0], [0, 1.6], [-0.6, 1.6], [-0.6, 3]),
    line([2, 0], [2, 1.6], [2.6, 1.6], [2.6, 3]),
    humps(3, 0),
    line([-0.6, 3.8], [2.6, 3.8]),
    line([-0.6, 4.2], [2.6, 4.2]),
    humps(5, 1),
    line([-0.6, 5], [-0.6, 6.4], [0, 6.4], [0, 8]),
    line([2.6, 5], [2.6, 6.4], [2, 6.4], [2, 8]),
  ],
};
