import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Job } from "../circuit/types";
import { catalogue, row } from "../testing/circuits";
import { edit, openJob, redo, undo, useDocument } from "./document";

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
});
