import { describe, expect, it, vi } from "vitest";
import { leftDraft } from "../saved/drafts";
import { takeOverDrafts } from "../saved/former";
import { row } from "../testing/circuits";
import { job, label, later, open, rename, server, withServer } from "../testing/document";
import { closeJob, keepMine, openedCircuit, takeTheirs, useDocument } from "./document";

withServer();

/** A server that answers nothing by itself: what ends each save, in the order in which they came. */
const heldUp = (): ((answer: Response) => void)[] => {
  const sent: ((answer: Response) => void)[] = [];
  vi.stubGlobal("fetch", () => new Promise((resolve) => sent.push(resolve)));
  return sent;
};

describe("what a window left or sent before", () => {
  it("takes over the draft of a closed window, and not that of an open one", async () => {
    const place = { kind: "circuit", of: "7" };
    const draft = JSON.stringify({ basedOn: 1, writer: "w", serial: 3, value: row });
    localStorage.setItem("wiretrace-draft-circuit-7-other", draft);
    const other = new BroadcastChannel("wiretrace-windows");
    other.onmessage = ({ data }) => {
      if (data.asked?.who === "other") other.postMessage({ here: "other" });
    };
    vi.useRealTimers();
    expect(await leftDraft(place)).toBeUndefined();
    expect(localStorage.getItem("wiretrace-draft-circuit-7-other")).toBe(draft);
    other.close();
    expect((await leftDraft(place))?.value).toEqual(row);
    expect(localStorage.getItem("wiretrace-draft-circuit-7-other")).toBeNull();
  });

  it("goes on with what a closed window left, as another one that may do so too", async () => {
    const left = JSON.stringify({ basedOn: 1, writer: "w", serial: 3, value: row });
    vi.useRealTimers();
    const opened = [];
    for (const version of [1, 2]) {
      localStorage.clear();
      localStorage.setItem("wiretrace-draft-circuit-7-closed", left);
      // Of version 2 the closed window was the writer: its last save is there, and what it left goes on from that.
      opened.push((await openedCircuit(job(version, version === 2 ? "w" : "somebody"))).draft);
    }
    expect(opened.map((draft) => [draft?.basedOn, draft?.serial])).toEqual([
      [1, 1],
      [2, 1],
    ]);
    expect(new Set([...opened.map((draft) => draft?.writer), "w"]).size).toBe(3);
  });

  it("counts its changes, the same save the same, and goes on counting after a reload", async () => {
    await open(job(1));
    const good = server.respond;
    server.respond = () => {
      throw new TypeError("the answer is lost");
    };
    rename("S2");
    rename("S3");
    await later();
    await later(2500);
    expect(server.saves.map((save) => save.serial)).toEqual([2, 2]);
    const { writer } = useDocument.getState();
    // Loaded anew: what was saved meanwhile by this very window is no conflict.
    await open(job(2, writer));
    expect(useDocument.getState()).toMatchObject({ save: "unsaved", serial: 2, writer });
    server.respond = good;
    rename("S4");
    await later();
    expect(server.saves.at(-1)).toMatchObject({ serial: 3, writer, based_on: 1 });
  });

  it("counts on when it decides a conflict for what is here, also for whoever reloads then", async () => {
    await open(job(1));
    server.respond = () =>
      Response.json({ title: "Changed elsewhere", detail: "", current_version: 2 }, { status: 409 });
    rename("S2");
    await later();
    const gone = vi.fn(async (path: string, init?: { method?: string; body?: string }) => {
      if (init?.method !== "PUT") return Response.json(job(2));
      server.saves.push(JSON.parse(init.body ?? ""));
      throw new TypeError(`the answer of ${path} is lost`);
    });
    vi.stubGlobal("fetch", gone);
    await keepMine();
    expect(server.saves.at(-1)).toMatchObject({ serial: 2, based_on: 2 });
    const kept = Object.keys(localStorage).find((key) => key.startsWith("wiretrace-draft-circuit-7-")) ?? "";
    expect(JSON.parse(localStorage.getItem(kept) ?? "")).toMatchObject({ serial: 2, basedOn: 2 });
    await takeTheirs();
    expect(label()).toBe("S1");
    expect(useDocument.getState().save).toBe("saved");
    expect(localStorage.getItem(kept)).toBeNull();
  });

  it("drops no draft that was changed since its save was sent", async () => {
    await open(job(1));
    const sent = heldUp();
    rename("S2");
    await later();
    rename("S3");
    // The window is closed before the answer: what came after stays.
    sent.at(0)?.(Response.json({ ...job(2), circuit: undefined }));
    await later(0);
    const [kept] = Object.keys(localStorage).filter((key) => key.startsWith("wiretrace-draft-circuit-7-"));
    expect(JSON.parse(localStorage.getItem(kept ?? "") ?? "")).toMatchObject({ serial: 2, basedOn: 2 });
  });

  it("drops no draft of the job as it was opened again, when a save of before is answered", async () => {
    await open(job(1));
    const sent = heldUp();
    rename("S2");
    await later();
    closeJob();
    await open(job(1));
    rename("S3");
    sent.at(0)?.(Response.json({ ...job(2), circuit: undefined }));
    await later(0);
    const [kept] = Object.keys(localStorage).filter((key) => key.startsWith("wiretrace-draft-circuit-7-"));
    expect(JSON.parse(localStorage.getItem(kept ?? "") ?? "{}")).toMatchObject({ serial: 2 });
    expect(label()).toBe("S3");
  });

  it("reads a draft of an earlier release by way of the core", async () => {
    const former = { ...row, version: 1 };
    const draft = { basedOn: 1, writer: "w", circuit: former, at: 0 };
    localStorage.setItem("wiretrace-draft-7-closed", JSON.stringify(draft));
    takeOverDrafts();
    vi.useRealTimers();
    const asked: unknown[] = [];
    vi.stubGlobal("fetch", async (_path: string, init: { body: string }) => {
      asked.push(JSON.parse(init.body));
      return Response.json({ circuit: row, unreadable: [], guessed: [] });
    });
    const found = await openedCircuit(job(1));
    expect(found.value).toEqual(row);
    expect(found.draft).toMatchObject({ basedOn: 1, serial: 1 });
    expect(asked).toMatchObject([{ format: "circuit", text: JSON.stringify(former) }]);
    expect(localStorage.getItem("wiretrace-draft-7-closed")).toBeNull();
  });
});
