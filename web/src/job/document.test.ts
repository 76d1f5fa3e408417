import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Job } from "../circuit/types";
import { catalogue, row } from "../testing/circuits";
import { closeJob, edit, openJob, redo, saveAsCopy, undo, useDocument } from "./document";
import { leftDraft, wouldLoseWork } from "./drafts";

const job = (version: number, writer = "somebody"): Job => ({
  id: 7,
  title: "Pump",
  place: "",
  version,
  updated_at: "2026-01-01T00:00:00Z",
  circuit: row,
  writer,
});

let respond: () => Response;
let saves: { based_on: number; writer: string }[] = [];

beforeEach(() => {
  vi.useFakeTimers();
  localStorage.clear();
  saves = [];
  let version = 1;
  respond = () => {
    version += 1;
    return Response.json({ ...job(version), circuit: undefined });
  };
  vi.stubGlobal("fetch", async (_path: string, init: { body: string }) => {
    saves.push(JSON.parse(init.body));
    return respond();
  });
});

afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const labelIn = (save: unknown): string | undefined =>
  (save as { circuit: Job["circuit"] }).circuit.devices[1]?.label;
const rename = (label: string): boolean => edit({ type: "rename", device: "s-1", label });
const label = (): string | undefined => useDocument.getState().circuit.devices[1]?.label;
const later = (ms = 500): Promise<unknown> => vi.advanceTimersByTimeAsync(ms);

describe("the document", () => {
  it("takes edits back and makes them again, without end", () => {
    openJob(job(1), catalogue);
    for (const name of ["S2", "S3", "S4"]) rename(name);
    undo();
    undo();
    undo();
    undo();
    expect(label()).toBe("S1");
    redo();
    expect(label()).toBe("S2");
    rename("S9");
    redo();
    expect(label()).toBe("S9");
  });

  it("says why an edit is refused and stays as it was", () => {
    openJob(job(1), catalogue);
    expect(rename("H1")).toBe(false);
    expect(useDocument.getState().refusal).toBe("There is a H1 already.");
    expect(useDocument.getState().circuit).toBe(row);
  });

  it("saves itself once after several edits, based on the version it knows", async () => {
    openJob(job(1), catalogue);
    rename("S2");
    rename("S3");
    await later();
    expect(saves.map((save) => save.based_on)).toEqual([1]);
    expect(useDocument.getState()).toMatchObject({ save: "saved", basedOn: 2 });
    expect(localStorage).toHaveLength(0);
    rename("S4");
    await later();
    expect(saves.map((save) => save.based_on)).toEqual([1, 2]);
  });

  it("keeps a draft while the server is gone, and tries again", async () => {
    openJob(job(1), catalogue);
    const good = respond;
    respond = () => {
      throw new TypeError("no network");
    };
    rename("S2");
    await later();
    expect(useDocument.getState().save).toBe("waiting");
    expect(localStorage).toHaveLength(1);
    respond = good;
    await later(2500);
    expect(useDocument.getState().save).toBe("saved");
    expect(localStorage).toHaveLength(0);
  });

  it("finds its draft again after a reload, and a conflict where somebody saved since", async () => {
    openJob(job(1), catalogue);
    respond = () =>
      Response.json({ title: "Changed elsewhere", detail: "", current_version: 2 }, { status: 409 });
    rename("S2");
    await later();
    expect(useDocument.getState().save).toBe("conflict");
    openJob(job(2), catalogue);
    expect(useDocument.getState().save).toBe("conflict");
    expect(label()).toBe("S2");
    rename("S3");
    await later();
    expect(saves).toHaveLength(1);
  });

  it("takes its own save that arrived unheard of for no conflict", async () => {
    openJob(job(1), catalogue);
    respond = () => {
      throw new TypeError("the answer is lost");
    };
    rename("S2");
    await later();
    const { writer } = useDocument.getState();
    openJob(job(2, writer), catalogue);
    expect(useDocument.getState().save).toBe("unsaved");
    expect(label()).toBe("S2");
  });

  it("saves once more what was edited while a save was on its way", async () => {
    openJob(job(1), catalogue);
    const good = respond;
    let arrive: (answer: Response) => void = () => undefined;
    vi.stubGlobal("fetch", (_path: string, init: { body: string }) => {
      saves.push(JSON.parse(init.body));
      return saves.length > 1 ? Promise.resolve(good()) : new Promise((resolve) => (arrive = resolve));
    });
    rename("S2");
    await later();
    expect(useDocument.getState().save).toBe("saving");
    rename("S3");
    arrive(good());
    await later(0);
    expect(useDocument.getState().save).not.toBe("saved");
    await later();
    expect(useDocument.getState().save).toBe("saved");
    expect(saves.map((save) => labelIn(save))).toEqual(["S2", "S3"]);
  });

  it("saves on leaving what was edited while a save was on its way", async () => {
    openJob(job(1), catalogue);
    const good = respond;
    let arrive: (answer: Response) => void = () => undefined;
    vi.stubGlobal("fetch", (_path: string, init: { body: string }) => {
      saves.push(JSON.parse(init.body));
      return saves.length > 1 ? Promise.resolve(good()) : new Promise((resolve) => (arrive = resolve));
    });
    rename("S2");
    await later();
    rename("S3");
    closeJob();
    arrive(good());
    await later();
    expect(labelIn(saves.at(-1))).toBe("S3");
    expect(localStorage).toHaveLength(0);
  });

  it("makes an edit though the browser's storage is full, and says that it is nowhere else until it is saved", async () => {
    openJob(job(1), catalogue);
    const good = respond;
    respond = () => {
      throw new TypeError("no network");
    };
    vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
      throw new DOMException("full", "QuotaExceededError");
    });
    expect(rename("S2")).toBe(true);
    expect(useDocument.getState()).toMatchObject({ save: "unsaved", kept: false });
    expect(wouldLoseWork()).toBe(true);
    await later();
    expect(useDocument.getState()).toMatchObject({ save: "waiting", kept: false });
    respond = good;
    await later(2500);
    expect(useDocument.getState()).toMatchObject({ save: "saved", kept: true });
    expect(wouldLoseWork()).toBe(false);
    expect(labelIn(saves.at(-1))).toBe("S2");
    vi.restoreAllMocks();
  });

  it("keeps in the window what the browser has no room for, whichever job is looked at meanwhile", async () => {
    openJob(job(1), catalogue);
    respond = () => {
      throw new TypeError("no network");
    };
    vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
      throw new DOMException("full", "QuotaExceededError");
    });
    rename("S2");
    closeJob();
    openJob({ ...job(1), id: 8 }, catalogue);
    await later(3000);
    expect(label()).toBe("S1");
    expect(wouldLoseWork()).toBe(true);
    openJob(job(1), catalogue);
    expect(label()).toBe("S2");
    expect(useDocument.getState()).toMatchObject({ save: "unsaved", kept: false });
    respond = () => Response.json({ ...job(2), circuit: undefined });
    await later();
    expect(useDocument.getState()).toMatchObject({ save: "saved", kept: true });
    expect(wouldLoseWork()).toBe(false);
    vi.restoreAllMocks();
  });

  it("puts into a copy what was edited while it was being made", async () => {
    openJob(job(1), catalogue);
    const good = respond;
    respond = () => Response.json({ title: "Not found", detail: "" }, { status: 404 });
    rename("S2");
    await later();
    respond = () => {
      respond = good;
      rename("S3");
      return good();
    };
    await saveAsCopy();
    expect(saves.slice(-2).map(labelIn)).toEqual(["S2", "S3"]);
    expect(useDocument.getState().save).toBe("saved");
  });

  it("keeps what one has of a job that was deleted elsewhere, as a job of its own", async () => {
    openJob(job(1), catalogue);
    const good = respond;
    respond = () => Response.json({ title: "Not found", detail: "There is no job 7." }, { status: 404 });
    rename("S2");
    await later();
    expect(useDocument.getState().save).toBe("gone");
    rename("S3");
    await later();
    expect(saves).toHaveLength(1);
    expect(localStorage).toHaveLength(1);
    respond = good;
    await saveAsCopy();
    expect(labelIn(saves.at(-1))).toBe("S3");
    expect(useDocument.getState().save).toBe("saved");
  });

  it("takes over the draft of a closed window, and not that of an open one", async () => {
    const draft = JSON.stringify({ basedOn: 1, writer: "w", circuit: row, at: 0 });
    localStorage.setItem("wiretrace-draft-7-other", draft);
    const other = new BroadcastChannel("wiretrace-windows");
    other.onmessage = ({ data }) => {
      if (data.asked?.who === "other") other.postMessage({ here: "other" });
    };
    vi.useRealTimers();
    expect(await leftDraft(7)).toBeUndefined();
    expect(localStorage.getItem("wiretrace-draft-7-other")).toBe(draft);
    other.close();
    expect((await leftDraft(7))?.circuit).toEqual(row);
    expect(localStorage.getItem("wiretrace-draft-7-other")).toBeNull();
  });
});
