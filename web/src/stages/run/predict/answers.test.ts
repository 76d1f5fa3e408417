import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { send, takeUp, useWritten, write } from "./answers";

let sent: unknown[] = [];
let answers = true;
let next = 100;
let which = { job: 1, sheet: 2, id: next };

beforeEach(() => {
  sent = [];
  answers = true;
  next += 1;
  which = { job: 1, sheet: 2, id: next };
  vi.stubGlobal("fetch", async (path: string, init: { body: string }) => {
    if (!answers) throw new TypeError("no network");
    sent.push([path, JSON.parse(init.body)]);
    return Response.json({});
  });
});
afterEach(() => vi.unstubAllGlobals());

const there = () => useWritten.getState();

describe("what is written into a prediction sheet", () => {
  it("is kept at once, sent in order, and each place once", async () => {
    takeUp(which, { "0": { A: "1" } });
    write(0, "A", "23");
    write(0, "A", "230");
    write(1, "B", "full");
    expect(there().answers).toEqual({ "0": { A: "230" }, "1": { B: "full" } });
    await send();
    expect(sent).toEqual([
      [`/api/jobs/1/predictions/2/attempts/${next}`, { state: 0, place: "A", text: "230" }],
      [`/api/jobs/1/predictions/2/attempts/${next}`, { state: 1, place: "B", text: "full" }],
    ]);
    expect(there().unsent).toEqual([]);
  });

  it("stays while the server does not answer, and is there again after a reload", async () => {
    takeUp(which, {});
    answers = false;
    write(0, "A", "0");
    await send();
    expect(there()).toMatchObject({
      unsent: [{ state: 0, place: "A" }],
      trouble: "The server does not answer.",
    });
    answers = true;
    takeUp(which, { "0": { A: "an older one", B: "5" } });
    expect(there().answers).toEqual({ "0": { A: "0", B: "5" } });
    await send();
    expect(there().unsent).toEqual([]);
    takeUp(which, { "0": { A: "from the server" } });
    expect(there().answers).toEqual({ "0": { A: "from the server" } });
  });

  it("is sent again when it changed on the way", async () => {
    takeUp(which, {});
    write(0, "A", "1");
    const sending = send();
    write(0, "A", "2");
    await sending;
    expect(sent.at(-1)).toEqual([expect.any(String), { state: 0, place: "A", text: "2" }]);
    expect(there().unsent).toEqual([]);
  });
});
