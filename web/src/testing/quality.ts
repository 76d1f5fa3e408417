import type { Point } from "../circuit/types";
import { boxOf } from "../sheet/captions";
import { flagLine } from "../sheet/flags";
import { overlap } from "../sheet/ground";
import type { Caption, Layout, Page } from "../sheet/page";

import { type Box, bodyOf } from "../sheet/placed";
import { strokesOf } from "../sheet/strokes";
import type { XY } from "../sheet/symbols/shapes";
import { standsAlone } from "../sheet/wiring";

/** What a person would find fault with on a sheet, in figures. */
export interface Quality {
  readonly sheet: string;
  readonly width: number;
  readonly height: number;
  /** Words that cover a line or other words. */
  readonly covered: readonly string[];
  /** Devices whose function, and potentials whose number, found no place. */
  readonly silent: readonly string[];
  /** Names that stand nearer to another device than to their own part, or far from it. */
  readonly strayed: readonly string[];
  readonly crossings: number;
  readonly bends: number;
  readonly length: number;
  /** Wires that lie askew because they found no way. */
  readonly askew: number;
}

export const qualities = (layout: Layout): Quality[] => layout.pages.map(quality);

function quality(page: Page): Quality {
  const words = page.captions;
  const lines = linesOf(page);
  const ways = page.wiring.runs.map(({ points }) => points);
  const said = new Set(page.captions.map(({ key }) => key));
  return {
    sheet: page.sheet.id,
    width: page.frame.right - page.frame.left,
    height: page.frame.bottom - page.frame.top,
    covered: words.flatMap((caption, index) => coveredBy(caption, words.slice(index + 1), lines)),
    silent: [
      ...page.parts
        .filter(({ key, part, device }) => part.leads && device.function && !said.has(`function/${key}/0`))
        .filter(({ key }) => !said.has(`reference/${key}/0`))
        .map(({ device }) => device.label),
      ...page.wiring.nets
        .filter(({ net }) => !said.has(`number/${net.conductors[0]?.id}/0`))
        .map(({ net }) => `wire ${net.number}`),
    ],
    strayed: strayed(page),
    crossings: crossings(page),
    bends: ways.reduce((sum, way) => sum + Math.max(0, way.length - 2), 0),
    length: ways.reduce((sum, way) => sum + lengthOf(way), 0),
    askew: ways.filter((way) => way.some((b, at) => at > 0 && slants(way[at - 1], b))).length,
  };
}

/** A name farther from its part than this, in modules, is looked for. */
const FAR = 3.5;

function strayed(page: Page): string[] {
  const parts = page.parts.filter(({ part }) => part.does !== "joins");
  return parts.flatMap(({ key, device, ...own }) => {
    const name = page.captions.find((one) => one.key === `designation/${key}`);
    if (!name) return [];
    const gap = (to: Box): number => between(boxOf(name), to);
    const others = parts.filter((other) => other.device.id !== device.id).map((other) => gap(bodyOf(other)));
    const nearest = Math.min(FAR, ...others);
    return gap(bodyOf({ key, device, ...own })) > nearest ? [key] : [];
  });
}

/** How far apart two boxes are. */
const between = (a: Box, b: Box): number =>
  Math.hypot(
    Math.max(0, a.left - b.right, b.left - a.right),
    Math.max(0, a.top - b.bottom, b.top - a.bottom),
  );

/** By so much words may come nearer to a line than its own thickness. */
const NEAR = 0.02;

function coveredBy(caption: Caption, others: readonly Caption[], lines: readonly Box[]): string[] {
  const box = boxOf(caption);
  const other = others.find((one) => overlap(box, boxOf(one)) > NEAR);
  if (other) return [`${caption.kind} ${caption.text} on ${other.kind} ${other.text}`];
  const at = lines.find((line) => overlap(box, line) > NEAR);
  return at ? [`${caption.kind} ${caption.text} on a line ${JSON.stringify([box, at])}`] : [];
}

function linesOf(page: Page): Box[] {
  const flags = page.wiring.flags.flatMap((flag) => {
    const { stub, mark } = flagLine(flag, standsAlone(page.wiring, flag));
    return [stub, mark];
  });
  const runs = page.wiring.runs.map(({ points }) => points.map(({ x, y }): XY => [x, y]));
  const symbols = page.parts.flatMap(({ drawing, placement }) =>
    strokesOf(drawing).map((line) => line.map(([x, y]): XY => [x + placement.x, y + placement.y])),
  );
  return [...symbols, ...flags, ...runs].flatMap(boxesAlong);
}

function boxesAlong(points: readonly XY[]): Box[] {
  return points.slice(1).flatMap(([bx, by], at): Box[] => {
    const [ax, ay] = points[at] ?? [bx, by];
    const count = ax === bx || ay === by ? 1 : 8;
    return Array.from({ length: count }, (_, step) => {
      const [s, t] = [step / count, (step + 1) / count];
      const [x0, x1, y0, y1] = [
        ax + (bx - ax) * s,
        ax + (bx - ax) * t,
        ay + (by - ay) * s,
        ay + (by - ay) * t,
      ];
      return {
        left: Math.min(x0, x1) - 0.05,
        right: Math.max(x0, x1) + 0.05,
        top: Math.min(y0, y1) - 0.05,
        bottom: Math.max(y0, y1) + 0.05,
      };
    });
  });
}

const slants = (a: Point | undefined, b: Point): boolean => a !== undefined && a.x !== b.x && a.y !== b.y;

const lengthOf = (way: readonly Point[]): number =>
  way.reduce(
    (sum, b, at) => sum + Math.hypot(b.x - (way[at - 1]?.x ?? b.x), b.y - (way[at - 1]?.y ?? b.y)),
    0,
  );

/** Places at which wires of two potentials cross. */
function crossings(page: Page): number {
  const found = new Set<string>();
  const stretches = page.wiring.runs.flatMap(({ net, points }) =>
    points.slice(1).map((b, at) => ({ net, a: points[at] ?? b, b })),
  );
  const flat = stretches.filter(({ a, b }) => a.y === b.y && a.x !== b.x);
  const upright = stretches.filter(({ a, b }) => a.x === b.x && a.y !== b.y);
  for (const h of flat)
    for (const v of upright) {
      const within = (v1: number, p: number, q: number): boolean =>
        v1 > Math.min(p, q) && v1 < Math.max(p, q);
      if (h.net !== v.net && within(v.a.x, h.a.x, h.b.x) && within(h.a.y, v.a.y, v.b.y))
        found.add(`${v.a.x},${h.a.y}`);
    }
  return found.size;
}
