import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Catalogue } from "../circuit/catalogue";
import type { Device, Frame, Kind, Operation } from "../circuit/types";
import { catalogue, row } from "../testing/circuits";
import { Bench } from "./bench";
import { letGoOf, mainOperation, press } from "./working";

const button = row.devices.find(({ id }) => id === "s-1") as Device;
const operation = { name: "press", title: "Press", style: "momentary" } as Operation;
let bench = new Bench();
let worked: { operation: string; value: boolean }[] = [];

beforeEach(() => {
  worked = [];
  vi.stubGlobal("fetch", async (_path: string, init: { body: string }) => {
    worked.push(...JSON.parse(init.body).actions);
    return Response.json({
      ref: "",
      frames: [],
      chatters: [],
      end: { time_us: 9e9, devices: {} },
    });
  });
  bench = new Bench();
  bench.start(row, catalogue);
});
afterEach(() => vi.unstubAllGlobals());

const held = (): boolean => bench.use.getState().held.has("s-1/press");
const settle = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 5));

describe("a momentary operation", () => {
  it("is held as long as the finger is down", async () => {
    press(bench, button, operation, undefined, false);
    expect(held()).toBe(true);
    letGoOf(bench, "s-1", operation);
    expect(held()).toBe(false);
    await settle();
    expect(worked.map(({ value }) => value)).toEqual([true, false]);
  });

  it("stays in when latched, and comes out when pressed again", async () => {
    press(bench, button, operation, undefined, true);
    letGoOf(bench, "s-1", operation);
    expect(held()).toBe(true);
    press(bench, button, operation, undefined, false);
    expect(held()).toBe(false);
    letGoOf(bench, "s-1", operation);
    await settle();
    expect(worked.map(({ value }) => value)).toEqual([true, false]);
    // From then on it behaves as before.
    press(bench, button, operation, undefined, false);
    expect(held()).toBe(true);
    letGoOf(bench, "s-1", operation);
    expect(held()).toBe(false);
  });

  it("can be latched while it is held", () => {
    press(bench, button, operation, undefined, false);
    press(bench, button, operation, undefined, true);
    letGoOf(bench, "s-1", operation);
    expect(held()).toBe(true);
    press(bench, button, operation, undefined, true);
    expect(held()).toBe(false);
  });
});

describe("pressing the symbol of a selector", () => {
  const turn = (name: string) => ({ name, title: name, style: "pulse" }) as Operation;
  const kinds = [
    {
      ...(catalogue.kind(button.kind) as Kind),
      operations: [turn("hand"), turn("off"), turn("auto")],
    },
  ];
  const stands = (on: Record<string, boolean>, says = "") =>
    ({ devices: { [button.id]: { on, says, active: false, attention: false } } }) as unknown as Frame;
  const next = (frame: Frame | undefined) => mainOperation(button, new Catalogue(kinds), frame)?.name;

  it("turns it one position on, from the last to the first", () => {
    expect(next(stands({ hand: true, off: false, auto: false }))).toBe("off");
    expect(next(stands({ hand: false, off: false, auto: true }))).toBe("hand");
  });

  it("goes by where it stands, and not by the words that people read", () => {
    expect(next(stands({ hand: true, off: false, auto: false }, "auto"))).toBe("off");
    expect(next(stands({ hand: false, off: true, auto: false }, "Aus"))).toBe("auto");
    expect(next(undefined)).toBe("hand");
  });
});
