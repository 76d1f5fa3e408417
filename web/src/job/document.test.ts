import { describe, expect, it, vi } from "vitest";
import { wouldLoseWork } from "../saved/drafts";
import { row } from "../testing/circuits";
import { job, label, labelIn, later, open, rename, server, withServer } from "../testing/document";
import { closeJob, redo, saveAsCopy, undo, useDocument } from "./document";

withServer();

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

  it("server.saves itself once after several edits, based on the version it knows", async () => {
    await open(job(1));
    rename("S2");
    rename("S3");
    await later();
    expect(server.saves.map((save) => save.based_on)).toEqual([1]);
    expect(useDocument.getState()).toMatchObject({ save: "saved", basedOn: 2 });
    expect(localStorage).toHaveLength(0);
    rename("S4");
    await later();
    expect(server.saves.map((save) => save.based_on)).toEqual([1, 2]);
  });

  it("keeps a draft while the server is gone, and tries again", async () => {
    await open(job(1));
    const good = server.respond;
    server.respond = () => {
      throw new TypeError("no network");
    };
    rename("S2");
    await later();
    expect(useDocument.getState().save).toBe("waiting");
    expect(localStorage).toHaveLength(1);
    server.respond = good;
    await later(2500);
    expect(useDocument.getState().save).toBe("saved");
    expect(localStorage).toHaveLength(0);
  });

  it("finds its draft again after a reload, and a conflict where somebody saved since", async () => {
    await open(job(1));
    server.respond = () =>
      Response.json({ title: "Changed elsewhere", detail: "", current_version: 2 }, { status: 409 });
    rename("S2");
    await later();
    expect(useDocument.getState().save).toBe("conflict");
    await open(job(2));
    expect(useDocument.getState().save).toBe("conflict");
    expect(label()).toBe("S2");
    rename("S3");
    await later();
    expect(server.saves).toHaveLength(1);
  });

  it("takes its own save that arrived unheard of for no conflict", async () => {
    await open(job(1));
    server.respond = () => {
      throw new TypeError("the answer is lost");
    };
    rename("S2");
    await later();
    const { writer } = useDocument.getState();
    await open(job(2, writer));
    expect(useDocument.getState().save).toBe("unsaved");
    expect(label()).toBe("S2");
  });

  it("server.saves once more what was edited while a save was on its way", async () => {
    await open(job(1));
    const good = server.respond;
    let arrive: (answer: Response) => void = () => undefined;
    vi.stubGlobal("fetch", (_path: string, init: { body: string }) => {
      server.saves.push(JSON.parse(init.body));
      return server.saves.length > 1 ? Promise.resolve(good()) : new Promise((resolve) => (arrive = resolve));
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
    expect(server.saves.map((save) => labelIn(save))).toEqual(["S2", "S3"]);
  });

  it("server.saves on leaving what was edited while a save was on its way", async () => {
    await open(job(1));
    const good = server.respond;
    let arrive: (answer: Response) => void = () => undefined;
    vi.stubGlobal("fetch", (_path: string, init: { body: string }) => {
      server.saves.push(JSON.parse(init.body));
      return server.saves.length > 1 ? Promise.resolve(good()) : new Promise((resolve) => (arrive = resolve));
    });
    rename("S2");
    await later();
    rename("S3");
    closeJob();
    arrive(good());
    await later();
    expect(labelIn(server.saves.at(-1))).toBe("S3");
    expect(localStorage).toHaveLength(0);
  });

  it("makes an edit though the browser's storage is full, and says that it is nowhere else until it is saved", async () => {
    await open(job(1));
    const good = server.respond;
    server.respond = () => {
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
    server.respond = good;
    await later(2500);
    expect(useDocument.getState()).toMatchObject({ save: "saved", kept: true });
    expect(wouldLoseWork()).toBe(false);
    expect(labelIn(server.saves.at(-1))).toBe("S2");
    vi.restoreAllMocks();
  });

  it("keeps in the window what the browser has no room for, whichever job is looked at meanwhile", async () => {
    await open(job(1));
    server.respond = () => {
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
    server.respond = () => Response.json({ ...job(2), circuit: undefined });
    await later();
    expect(useDocument.getState()).toMatchObject({ save: "saved", kept: true });
    expect(wouldLoseWork()).toBe(false);
    vi.restoreAllMocks();
  });

  it("puts into a copy what was edited while it was being made", async () => {
    await open(job(1));
    const good = server.respond;
    server.respond = () => Response.json({ title: "Not found", detail: "" }, { status: 404 });
    rename("S2");
    await later();
    server.respond = () => {
      server.respond = good;
      rename("S3");
      return good();
    };
    await saveAsCopy();
    expect(server.saves.slice(-2).map(labelIn)).toEqual(["S2", "S3"]);
    expect(useDocument.getState().save).toBe("saved");
  });

  it("keeps what one has of a job that was deleted elsewhere, as a job of its own", async () => {
    await open(job(1));
    const good = server.respond;
    server.respond = () =>
      Response.json({ title: "Not found", detail: "There is no job 7." }, { status: 404 });
    rename("S2");
    await later();
    expect(useDocument.getState().save).toBe("gone");
    rename("S3");
    await later();
    expect(server.saves).toHaveLength(1);
    expect(localStorage).toHaveLength(1);
    server.respond = good;
    await saveAsCopy();
    expect(labelIn(server.saves.at(-1))).toBe("S3");
    expect(useDocument.getState().save).toBe("saved");
  });
});
