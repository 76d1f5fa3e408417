import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Job } from "../circuit/types";
import { leftDraft, wouldLoseWork } from "../saved/drafts";
import { takeOverDrafts } from "../saved/former";
import { catalogue, row } from "../testing/circuits";
import {
  closeJob,
  edit,
  keepMine,
  openedCircuit,
  openJob,
  redo,
  saveAsCopy,
  takeTheirs,
  undo,
  useDocument,
} from "./document";

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
let saves: { based_on: number; writer: string; serial: number }[] = [];

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

const open = async (of: Job): Promise<void> => openJob(of, catalogue, await openedCircuit(of));
const labelIn = (save: unknown): string | undefined =>
  (save as { circuit: Job["circuit"] }).circuit.devices[1]?.label;
const rename = (label: string): boolean => edit({ type: "rename", device: "s-1", label });
const label = (): string | undefined => useDocument.getState().circuit.devices[1]?.label;
const later = (ms = 500): Promise<unknown> => vi.advanceTimersByTimeAsync(ms);

describe("the document", () => {
  it("takes edits back and makes them again, without end", async () => {
    await open(job(1));
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

  it("says why an edit is refused and stays as it was", async () => {
    await open(job(1));
    expect(rename("H1")).toBe(false);
    expect(useDocument.getState().refusal).toBe("There is a H1 already.");
    expect(useDocument.getState().circuit).toBe(row);
  });

  it("saves itself once after several edits, based on the version it knows", async () => {
    await open(job(1));
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
    await open(job(1));
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
    await open(job(1));
    respond = () =>
      Response.json({ title: "Changed elsewhere", detail: "", current_version: 2 }, { status: 409 });
    rename("S2");
    await later();
    expect(useDocument.getState().save).toBe("conflict");
    await open(job(2));
    expect(useDocument.getState().save).toBe("conflict");
    expect(label()).toBe("S2");
    rename("S3");
    await later();
    expect(saves).toHaveLength(1);
  });

  it("takes its own save that arrived unheard of for no conflict", async () => {
    await open(job(1));
    respond = () => {
      throw new TypeError("the answer is lost");
    };
    rename("S2");
    await later();
    const { writer } = useDocument.getState();
    await open(job(2, writer));
    expect(useDocument.getState().save).toBe("unsaved");
    expect(label()).toBe("S2");
  });

  it("saves once more what was edited while a save was on its way", async () => {
    await open(job(1));
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
    await open(job(1));
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
    await open(job(1));
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
    await open(job(1));
    respond = () => {
      throw new TypeError("no network");
    };
    vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
      throw new DOMException("full", "QuotaExceededError");
    });
    rename("S2");
    closeJob();
    await open({ ...job(1), id: 8 });
    await later(3000);
    expect(label()).toBe("S1");
    expect(wouldLoseWork()).toBe(true);
    await open(job(1));
    expect(label()).toBe("S2");
    expect(useDocument.getState()).toMatchObject({ save: "unsaved", kept: false });
    respond = () => Response.json({ ...job(2), circuit: undefined });
    await later();
    expect(useDocument.getState()).toMatchObject({ save: "saved", kept: true });
    expect(wouldLoseWork()).toBe(false);
    vi.restoreAllMocks();
  });

  it("puts into a copy what was edited while it was being made", async () => {
    await open(job(1));
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
    await open(job(1));
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

  it("counts its changes, the same save the same, and goes on counting after a reload", async () => {
    await open(job(1));
    const good = respond;
    respond = () => {
      throw new TypeError("the answer is lost");
    };
    rename("S2");
    rename("S3");
    await later();
    await later(2500);
    expect(saves.map((save) => save.serial)).toEqual([2, 2]);
    const { writer } = useDocument.getState();
    // Loaded anew: what was saved meanwhile by this very window is no conflict.
    await open(job(2, writer));
    expect(useDocument.getState()).toMatchObject({ save: "unsaved", serial: 2, writer });
    respond = good;
    rename("S4");
    await later();
    expect(saves.at(-1)).toMatchObject({ serial: 3, writer, based_on: 1 });
  });

  it("counts on when it decides a conflict for what is here, also for whoever reloads then", async () => {
    await open(job(1));
    respond = () =>
      Response.json({ title: "Changed elsewhere", detail: "", current_version: 2 }, { status: 409 });
    rename("S2");
    await later();
    const gone = vi.fn(async (path: string, init?: { method?: string; body?: string }) => {
      if (init?.method !== "PUT") return Response.json(job(2));
      saves.push(JSON.parse(init.body ?? ""));
      throw new TypeError(`the answer of ${path} is lost`);
    });
    vi.stubGlobal("fetch", gone);
    await keepMine();
    expect(saves.at(-1)).toMatchObject({ serial: 2, based_on: 2 });
    const kept = Object.keys(localStorage).find((key) => key.startsWith("wiretrace-draft-circuit-7-")) ?? "";
    expect(JSON.parse(localStorage.getItem(kept) ?? "")).toMatchObject({ serial: 2, basedOn: 2 });
    await takeTheirs();
    expect(label()).toBe("S1");
    expect(useDocument.getState().save).toBe("saved");
    expect(localStorage.getItem(kept)).toBeNull();
  });

  it("drops no draft that was changed since its save was sent", async () => {
    await open(job(1));
    let arrive: (answer: Response) => void = () => undefined;
    vi.stubGlobal("fetch", (_path: string, init: { body: string }) => {
      saves.push(JSON.parse(init.body));
      return new Promise((resolve) => (arrive = resolve));
    });
    rename("S2");
    await later();
    rename("S3");
    // The window is closed before the answer: what came after stays.
    arrive(Response.json({ ...job(2), circuit: undefined }));
    await later(0);
    const [kept] = Object.keys(localStorage).filter((key) => key.startsWith("wiretrace-draft-circuit-7-"));
    expect(JSON.parse(localStorage.getItem(kept ?? "") ?? "")).toMatchObject({ serial: 2, basedOn: 2 });
  });

  it("drops no draft of the job as it was opened again, when a save of before is answered", async () => {
    await open(job(1));
    let arrive: (answer: Response) => void = () => undefined;
    vi.stubGlobal("fetch", (_path: string, init: { body: string }) => {
      saves.push(JSON.parse(init.body));
      return new Promise((resolve) => (arrive = resolve));
    });
    rename("S2");
    await later();
    const first = arrive;
    closeJob();
    await open(job(1));
    rename("S3");
    first(Response.json({ ...job(2), circuit: undefined }));
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
    expect(found.draft).toMatchObject({ basedOn: 1, writer: "w", serial: 1 });
    expect(asked).toMatchObject([{ format: "circuit", text: JSON.stringify(former) }]);
    expect(localStorage.getItem("wiretrace-draft-7-closed")).toBeNull();
  });
});
