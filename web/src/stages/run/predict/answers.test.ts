import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { openSession } from "../../../common/session";
import { send, takeUp, write, written } from "./answers";

let sent: { path: string; writer: string; answers: unknown[] }[] = [];
let answers = true;
let next = 100;
let which = { job: 1, sheet: 2, id: next };

beforeEach(() => {
  sent = [];
  answers = true;
  next += 1;
  which = { job: 1, sheet: 2, id: next };
  openSession(1);
  vi.stubGlobal("fetch", async (path: string, init: { body: string }) => {
    if (!answers) throw new TypeError("no network");
    sent.push({ path, ...JSON.parse(init.body) });
    return Response.json({});
  });
});
afterEach(() => vi.unstubAllGlobals());

describe("what is written into a prediction sheet", () => {
  it("is kept at once and sent together, each place with what stands there", async () => {
    await takeUp(which, { "0": { A: "1" } });
    write(0, "A", "23");
    write(0, "A", "230");
    write(1, "B", "full");
    expect(written().answers).toEqual({ "0": { A: "230" }, "1": { B: "full" } });
    expect(await send()).toBe(true);
    expect(sent).toMatchObject([
      {
        path: `/api/jobs/1/predictions/2/attempts/${next}`,
        answers: [
          { state: 0, place: "A", text: "230", serial: 3 },
          { state: 1, place: "B", text: "full", serial: 3 },
        ],
      },
    ]);
    write(1, "B", "part");
    await send();
    expect(sent[1]?.answers).toEqual([{ state: 1, place: "B", text: "part", serial: 4 }]);
    expect(sent[1]?.writer).toBe(sent[0]?.writer);
  });

  it("stays while the server does not answer, and is there again after a reload", async () => {
    await takeUp(which, {});
    answers = false;
    write(0, "A", "0");
    expect(await send()).toBe(false);
    expect(written()).toMatchObject({
      save: "waiting",
      saveProblem: { detail: "The server does not answer." },
    });
    answers = true;
    openSession(1);
    await takeUp(which, { "0": { A: "an older one", B: "5" } });
    expect(written().answers).toEqual({ "0": { A: "0", B: "5" } });
    expect(await send()).toBe(true);
    await takeUp(which, { "0": { A: "from the server" } });
    expect(written().answers).toEqual({ "0": { A: "from the server" } });
  });

  it("goes to the attempt that it was written into, whichever is looked at then", async () => {
    await takeUp(which, {});
    write(0, "A", "first");
    await takeUp({ ...which, id: which.id + 1000 }, {});
    write(0, "A", "second");
    await send();
    openSession(2);
    await vi.waitFor(() => expect(sent).toHaveLength(2));
    expect(sent.map(({ path, answers }) => [path.split("/").at(-1), answers])).toMatchObject([
      [String(which.id), [{ text: "first" }]],
      [String(which.id + 1000), [{ text: "second" }]],
    ]);
    expect(written().answers).toEqual({});
  });

  it("shows of two that are taken up at once the last one", async () => {
    // What another window may have left is asked for, and that takes a while.
    localStorage.setItem(
      `wiretrace-draft-attempt-1.2.${which.id}-other`,
      JSON.stringify({ basedOn: 0, writer: "w", serial: 1, value: {} }),
    );
    const slow = takeUp(which, { "0": { A: "slow" } });
    await takeUp({ ...which, id: which.id + 1000 }, { "0": { A: "quick" } });
    await slow;
    expect(written().answers).toEqual({ "0": { A: "quick" } });
  });

  it("takes over what an earlier release could not send", async () => {
    const unsent = [{ state: 0, place: "A" }];
    localStorage.setItem(
      `wiretrace-attempt-${which.id}`,
      JSON.stringify({ answers: { "0": { A: "7" } }, unsent }),
    );
    await takeUp(which, { "0": { B: "5" } });
    expect(written().answers).toEqual({ "0": { A: "7", B: "5" } });
    await send();
    expect(sent[0]?.answers).toMatchObject([{ state: 0, place: "A", text: "7" }]);
    expect(localStorage.getItem(`wiretrace-attempt-${which.id}`)).toBeNull();
  });
});
