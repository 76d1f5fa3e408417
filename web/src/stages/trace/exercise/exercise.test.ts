import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { openSession } from "../../../common/session";
import { Answering } from "../../../testing/answering";
import {
  begin,
  closeNumber,
  type Exercise,
  end,
  load,
  marksOf,
  name,
  probe,
  seenNow,
  setExercise,
  take,
  useExercise,
} from "./exercise";

const line = (id: number, more = {}) => ({
  id,
  mine: true,
  number: null,
  who: "",
  work_order: "",
  made_at: "",
  ended_at: null,
  ...more,
});
const entry = (number: number, more = {}) => ({
  number,
  kind: "wait",
  words: "",
  seen: {},
  events: [],
  risks: [],
  ...more,
});
const exercise = (id: number, count = 1, more = {}) => ({
  ...line(id),
  number_closed: false,
  circuit: {},
  entries: Array.from({ length: count }, (_, at) => entry(at)),
  mended: false,
  hidden: [],
  ...more,
});

let server: Answering;

const answers = (job: number, id: number) => ({
  [`GET /api/jobs/${job}/exercises`]: () => ({ exercises: [line(id)] }),
  [`GET /api/jobs/${job}/sequences`]: () => ({ sequences: [] }),
  [`GET /api/jobs/${job}/exercises/${id}`]: () => exercise(id, 3),
});

beforeEach(() => {
  server = new Answering({
    ...answers(1, 11),
    ...answers(2, 22),
    "POST /api/jobs/1/exercises/11/steps": ({ body }) => entry(Number(body["known"])),
    "POST /api/jobs/1/exercises/11/answers": () => entry(3, { kind: "answer", right: true }),
    "POST /api/jobs/1/exercises/11/end": () => exercise(11, 4, { ended_at: "now", number: 7 }),
    "POST /api/jobs/1/exercises/11/close": () =>
      exercise(11, 4, { ended_at: "now", number: 7, number_closed: true, hidden: ["K1 coil open"] }),
    "POST /api/jobs/1/exercises/11/review": () => ({ done: 1, all: 1, review: { steps: [{ number: 2 }] } }),
    "POST /api/jobs/1/exercises": () => exercise(12, 1, { number: 7 }),
  });
  openSession(1);
});
afterEach(() => {
  openSession(undefined);
  vi.unstubAllGlobals();
});

const open = () => useExercise.getState().open;

describe("exercises of a job", () => {
  it("are its own, however late those of another one are answered", async () => {
    server.hold("GET /api/jobs/1/exercises");
    const first = load();
    openSession(2);
    await load();
    expect(open()?.id).toBe(22);
    await server.letGo("GET /api/jobs/1/exercises");
    await first;
    expect(open()?.id).toBe(22);
    expect(useExercise.getState().lines.map(({ id }) => id)).toEqual([22]);
  });

  it("go on where they were, with the record that is known", async () => {
    await load();
    await take({ kind: "wait", seconds: 2 });
    expect(server.sent("POST", "/api/jobs/1/exercises/11/steps")).toEqual([
      { known: 3, step: { kind: "wait", seconds: 2 } },
    ]);
    expect(open()?.entries).toHaveLength(4);
  });

  it("take one step at a time", async () => {
    await load();
    server.hold("POST /api/jobs/1/exercises/11/steps");
    const first = take({ kind: "wait", seconds: 2 });
    await take({ kind: "wait", seconds: 3 });
    await server.letGo("POST /api/jobs/1/exercises/11/steps");
    await first;
    expect(server.sent("POST", "/api/jobs/1/exercises/11/steps")).toHaveLength(1);
  });

  it("read the record anew where something was recorded meanwhile", async () => {
    await load();
    const answer = globalThis.fetch;
    vi.stubGlobal("fetch", (path: string, init?: { method?: string }) =>
      init?.method === "POST"
        ? Promise.resolve(Response.json({ title: "Not any more", detail: "" }, { status: 409 }))
        : answer(path, init),
    );
    setExercise({ open: { ...(open() as Exercise), entries: [] } });
    await take({ kind: "wait", seconds: 2 });
    expect(open()?.entries).toHaveLength(3);
    expect(useExercise.getState().problem?.title).toBe("Not any more");
  });

  it("ask after an answer only for what they do not know", async () => {
    await load();
    await name({ kind: "open", place: "c4" } as never);
    expect(server.asked.at(-1)?.path).toBe("/api/jobs/1/exercises/11?after=4");
    expect(open()?.entries).toHaveLength(4);
  });

  it("under a number are reviewed when that is closed, and not before", async () => {
    await load();
    await end();
    expect(server.sent("POST", "/api/jobs/1/exercises/11/review")).toHaveLength(0);
    await closeNumber();
    expect(open()?.hidden).toEqual(["K1 coil open"]);
    expect(useExercise.getState()).toMatchObject({ review: { steps: [{ number: 2 }] }, reviewed: 2 });
  });

  it("begin with empty hands", async () => {
    await load();
    probe({ device: "k1", terminal: "A1" });
    expect(useExercise.getState()).toMatchObject({ red: { device: "k1" }, hand: "black" });
    await begin({ circuit: {} as never, number: 7 } as never);
    expect(useExercise.getState()).toMatchObject({ red: null, hand: "red" });
    expect(open()?.id).toBe(12);
  });

  it("somebody else's is not taken up", async () => {
    vi.unstubAllGlobals();
    server = new Answering({
      ...answers(1, 11),
      "GET /api/jobs/1/exercises": () => ({ exercises: [line(11, { mine: false })] }),
    });
    await load();
    expect(open()).toBeNull();
  });
});

describe("what a record comes to", () => {
  it("is what was seen last, the wires that are off, and what is ruled out", () => {
    const entries = [
      entry(0, { seen: { h1: { says: "lit" } } }),
      entry(1, { step: { kind: "lift", wire: "w1", off: true } }),
      entry(2, { step: { kind: "lift", wire: "w2", off: true } }),
      entry(3, { step: { kind: "rule_out", place: "s1", out: true }, seen: { h1: { says: "dark" } } }),
      entry(4, { step: { kind: "lift", wire: "w1", off: false } }),
    ];
    const record = { ...exercise(1), entries } as never;
    expect(seenNow(record)).toEqual({ h1: { says: "dark" } });
    expect(marksOf(record)).toEqual({ lifted: ["w2"], ruledOut: new Set(["s1"]) });
  });
});
