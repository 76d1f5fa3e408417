import {
  type Anchor,
  bottom,
  leads,
  light,
  line,
  link,
  ncBlade,
  ncTick,
  noBlade,
  POLE,
  type Shape,
  type SymbolDrawing,
  TALL,
  top,
} from "./shapes";

const upright = [top(0), bottom(0, TALL)];

export function contact(nc: boolean, actuator: readonly Shape[], left: number): SymbolDrawing {
  return {
    anchors: upright,
    body: [left, 0, 1.4, TALL],
    shapes: [...leads(0), ...(nc ? [ncTick(0), ncBlade(0, 0)] : [noBlade(0, 0)]), ...actuator],
    label: { at: [left - 0.3, 2.15], align: "end" },
  };
}

const stem = (nc: boolean, to: number): Shape => link([nc ? 0.3 : -0.55, 2.05], [to, 2.05]);

const pushHead = (nc: boolean): Shape[] => [
  stem(nc, -2.1),
  light([-1.75, 1.55], [-2.15, 1.55], [-2.15, 2.55], [-1.75, 2.55]),
];

const thermalHead = (nc: boolean): Shape[] => [
  stem(nc, -1.7),
  light([-2.7, 1.55], [-1.7, 1.55], [-1.7, 2.55], [-2.7, 2.55], [-2.7, 1.55]),
  light([-2.7, 2.25], [-2.4, 2.25], [-2.4, 1.85], [-2.0, 1.85], [-2.0, 2.25], [-1.7, 2.25]),
];

export function poles(
  count: number,
  fixed: (x: number) => readonly Shape[],
  lever: readonly Shape[],
): SymbolDrawing {
  const xs = Array.from({ length: count }, (_, index) => index * POLE);
  const right = (count - 1) * POLE;
  return {
    anchors: xs.flatMap((x) => [top(x), bottom(x, TALL)]),
    body: [lever.length ? -2 : -1.1, 0, right + 0.6, TALL],
    shapes: [
      ...xs.flatMap((x, index) => [...leads(x), noBlade(x, index), ...fixed(x)]),
      ...(count > 1 ? [link([-0.55, 2.05], [right - 0.55, 2.05])] : []),
      ...lever,
    ],
    label: { at: [lever.length ? -2.3 : -1.4, 2.15], align: "end" },
  };
}

export const handle: Shape[] = [link([-0.55, 2.05], [-1.8, 2.05]), light([-1.8, 1.55], [-1.8, 2.55])];
export const cross = (x: number): Shape[] => [
  line([x - 0.32, 0.88], [x + 0.32, 1.52]),
  line([x - 0.32, 1.52], [x + 0.32, 0.88]),
];

/** Mushroom head that latches. */
const emergencyHead = (nc: boolean): Shape[] => [
  stem(nc, -1.75),
  { kind: "arc", d: "M -1.75 1.45 A 0.62 0.62 0 0 0 -1.75 2.65 Z" },
  light([-1.15, 2.05], [-0.95, 2.35], [-0.75, 2.05]),
];
/** Turned by hand. */
export const turnHead = (nc: boolean): Shape[] => [
  stem(nc, -1.9),
  light([-1.65, 1.5], [-1.9, 1.5], [-1.9, 2.6], [-2.15, 2.6]),
];
/** Roller of a limit switch. */
const limitHead = (nc: boolean): Shape[] => [
  stem(nc, -1.5),
  light([-1.5, 2.05], [-2.3, 1.6], [-2.3, 2.5], [-1.5, 2.05]),
];
const floatHead = (nc: boolean): Shape[] => [
  stem(nc, -1.7),
  { kind: "circle", at: [-2.1, 2.05], r: 0.4 },
  light([-2.7, 2.05], [-1.5, 2.05]),
];
const lettered =
  (letter: string) =>
  (nc: boolean): Shape[] => [
    stem(nc, -1.6),
    light([-2.7, 1.5], [-1.6, 1.5], [-1.6, 2.6], [-2.7, 2.6], [-2.7, 1.5]),
    { kind: "text", at: [-2.15, 2.05], text: letter, size: 0.95 },
  ];
const pressureHead = lettered("p");
const temperatureHead = lettered("\u03d1");

/**
 * Changeover: the common above, closed to the right at rest and to the left when moved. The second
 * terminal of the part is the one that is closed at rest, the third the one that closes.
 */
const right: Anchor = { ...bottom(1, TALL), marking: [1.35, 3.85] };
const left: Anchor = { ...bottom(-1, TALL), marking: [-1.35, 3.85], align: "end" };
const twoWays: Shape[] = [
  line([0, 0], [0, 1.2]),
  line([1, TALL], [1, 2.8], [0.45, 2.8]),
  line([-1, TALL], [-1, 2.8], [-0.45, 2.8]),
];

function changeover(extra: readonly Shape[]): SymbolDrawing {
  return {
    anchors: [top(0), right, left],
    body: [-1.6, 0, 1.6, TALL],
    shapes: [
      ...twoWays,
      { kind: "blade", pivot: [0, 1.2], rest: [0.62, 2.95], moved: [-0.62, 2.95], branch: 0, nc: true },
      ...extra,
    ],
    label: { at: [-1.9, 1.75], align: "end" },
  };
}

const delay: Shape[] = [
  link([-0.1, 1.9], [-1.1, 1.9]),
  { kind: "arc", d: "M -1.1 1.45 A 0.5 0.5 0 0 0 -1.1 2.35" },
];

/** Star and delta contact of a timer: neither, one, or the other is closed. */
const starDelta: SymbolDrawing = {
  ...changeover([]),
  anchors: [top(0), left, right],
  shapes: [
    ...twoWays,
    { kind: "blade", pivot: [0, 1.2], rest: [0, 2.7], moved: [-0.62, 2.95], branch: 0, nc: false },
    { kind: "blade", pivot: [0, 1.2], rest: [0, 2.7], moved: [0.62, 2.95], branch: 1, nc: false },
    ...delay,
  ],
};

/** A delayed contact: the half round brakes whatever it is hollow against, on the way in or on the way back. */
const late = (nc: boolean, back: boolean): SymbolDrawing => {
  const bow = back ? "M -1.85 1.6 A 0.5 0.5 0 0 1 -1.85 2.5" : "M -1.5 1.6 A 0.5 0.5 0 0 0 -1.5 2.5";
  return contact(nc, [stem(nc, -1.5), { kind: "arc", d: bow }], -2.1);
};
export const onDelayNo = late(false, false);
export const onDelayNc = late(true, false);
export const offDelayNo = late(false, true);
export const offDelayNc = late(true, true);

const box: Shape[] = [light([-1.9, 1.6], [-1.2, 1.6], [-1.2, 2.5], [-1.9, 2.5], [-1.9, 1.6])];

const fuseLink = (x: number): Shape[] => [
  line([x, 0], [x, TALL]),
  line([x - 0.45, 1.1], [x + 0.45, 1.1], [x + 0.45, 2.9], [x - 0.45, 2.9], [x - 0.45, 1.1]),
];

export const changeoverContact = changeover([]);
export const timerChangeover = changeover(delay);
export const starDeltaContacts = starDelta;
export const emergencyNo = contact(false, emergencyHead(false), -2.5);
export const emergencyNc = contact(true, emergencyHead(true), -2.5);
export const turnNo = contact(false, turnHead(false), -2.3);
export const turnNc = contact(true, turnHead(true), -2.3);
export const limitNo = contact(false, limitHead(false), -2.4);
export const limitNc = contact(true, limitHead(true), -2.4);
export const floatNo = contact(false, floatHead(false), -2.8);
export const floatNc = contact(true, floatHead(true), -2.8);
export const pressureNo = contact(false, pressureHead(false), -2.8);
export const pressureNc = contact(true, pressureHead(true), -2.8);
export const temperatureNo = contact(false, temperatureHead(false), -2.8);
export const temperatureNc = contact(true, temperatureHead(true), -2.8);
/** Manual motor starter: a breaker's cross, with the box of its thermal release at the lever. */
export const motorStarter3 = poles(3, (x) => cross(x), [link([-0.55, 2.05], [-1.2, 2.05]), ...box]);
export const fuse = (count: number): SymbolDrawing => {
  const xs = Array.from({ length: count }, (_, index) => index * POLE);
  return {
    anchors: xs.flatMap((x) => [top(x), bottom(x, TALL)]),
    body: [-0.9, 0, (count - 1) * POLE + 0.9, TALL],
    shapes: xs.flatMap(fuseLink),
    label: { at: [-1.2, 2.15], align: "end" },
  };
};

export const contactNo = contact(false, [], -1.1);
export const contactNc = contact(true, [], -0.4);
export const pushNo = contact(false, pushHead(false), -2.3);
export const pushNc = contact(true, pushHead(true), -2.3);
export const thermalNo = contact(false, thermalHead(false), -2.8);
export const thermalNc = contact(true, thermalHead(true), -2.8);

/** Contactor pole: a half circle at the fixed contact. */
export const contactor3 = poles(3, (x) => [{ kind: "arc", d: `M ${x} 0.72 A 0.24 0.24 0 0 0 ${x} 1.2` }], []);
/** Isolator: a bar across the fixed contact. */
export const isolator3 = poles(3, (x) => [line([x - 0.45, 1.2], [x + 0.45, 1.2])], handle);
export const breaker = (count: number): SymbolDrawing => poles(count, cross, handle);
