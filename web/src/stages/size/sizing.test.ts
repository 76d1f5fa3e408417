import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { openSession } from "../../common/session";
import { Answering } from "../../testing/answering";
import { change, fill, load, resolve, useSizing } from "./sizing";

const sheet = (power: string) => ({
  format: "wiretrace/sizing",
  version: 1,
  fields: { power },
  schools: {},
  own: {},
  series: {},
});
const kept = (version: number, power: string, writer = "somebody") => ({
  version,
  writer,
  sizing: sheet(power),
});

let server: Answering;
let versions = { "1": 1, "2": 1 };

beforeEach(() => {
  localStorage.clear();
  vi.useFakeTimers();
  versions = { "1": 1, "2": 1 };
  const save = (job: "1" | "2") => () => {
    versions[job] += 1;
    return { version: versions[job] };
  };
  server = new Answering({
    "GET /api/size/form": () => ({ fields: [], questions: [], series: {} }),
    "POST /api/size": ({ body }) => ({ lines: [], troubles: [], of: body["sizing"] }),
    "GET /api/jobs/1/sizing": () => kept(versions["1"], "1.5 kW"),
    "GET /api/jobs/2/sizing": () => kept(versions["2"], "22 kW"),
    "PUT /api/jobs/1/sizing": save("1"),
    "PUT /api/jobs/2/sizing": save("2"),
  });
});
afterEach(() => {
  openSession(undefined);
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const later = (ms = 700): Promise<unknown> => vi.advanceTimersByTimeAsync(ms);
const power = (): string | undefined => useSizing.getState().data.fields["power"];
const saved = (job: number): unknown[] =>
  server.sent("PUT", `/api/jobs/${job}/sizing`).map((body) => {
    const { sizing } = body as { sizing: ReturnType<typeof sheet> };
    return sizing.fields.power;
  });

describe("the sizing of a job", () => {
  it("is its own, however late that of another one is answered", async () => {
    server.hold("GET /api/jobs/1/sizing");
    openSession(1);
    const first = load(1);
    openSession(2);
    await load(2);
    expect(power()).toBe("22 kW");
    await server.letGo("GET /api/jobs/1/sizing");
    await first;
    expect(power()).toBe("22 kW");
    fill("power", "30 kW");
    await later();
    expect([saved(1), saved(2)]).toEqual([[], ["30 kW"]]);
  });

  it("saves what was typed a moment before another job was opened, and into no other", async () => {
    openSession(1);
    await load(1);
    fill("power", "7.5 kW");
    openSession(2);
    await load(2);
    await later();
    expect([saved(1), saved(2)]).toEqual([["7.5 kW"], []]);
    expect(power()).toBe("22 kW");
    expect(localStorage).toHaveLength(0);
  });

  it("takes nothing before it is known what the job has", async () => {
    server.hold("GET /api/jobs/1/sizing");
    openSession(1);
    const coming = load(1);
    change({ fields: { power: "typed too early" } });
    await server.letGo("GET /api/jobs/1/sizing");
    await coming;
    await later();
    expect([power(), saved(1)]).toEqual(["1.5 kW", []]);
  });

  it("waits for a server that does not answer, and is there after a reload", async () => {
    openSession(1);
    await load(1);
    const fetches = globalThis.fetch;
    vi.stubGlobal("fetch", async () => {
      throw new TypeError("no network");
    });
    fill("power", "7.5 kW");
    await later();
    expect(useSizing.getState()).toMatchObject({ save: "waiting", kept: true });
    openSession(1);
    await later(1);
    vi.stubGlobal("fetch", fetches);
    await load(1);
    expect(power()).toBe("7.5 kW");
    await later();
    expect(saved(1).at(-1)).toBe("7.5 kW");
    expect(useSizing.getState().save).toBe("saved");
  });

  it("lets a person decide where another window saved something", async () => {
    openSession(1);
    await load(1);
    const answers = globalThis.fetch;
    let refuses = true;
    vi.stubGlobal("fetch", (path: string, init?: { method?: string }) =>
      refuses && init?.method === "PUT"
        ? Promise.resolve(Response.json({ title: "Changed elsewhere", detail: "" }, { status: 409 }))
        : answers(path, init),
    );
    fill("power", "7.5 kW");
    await later();
    expect(useSizing.getState().save).toBe("conflict");
    refuses = false;
    versions["1"] = 4;
    await resolve(true);
    expect(server.sent("PUT", "/api/jobs/1/sizing").at(-1)).toMatchObject({ based_on: 4, serial: 2 });
    expect(useSizing.getState()).toMatchObject({ save: "saved", basedOn: 5 });
    await resolve(false);
    expect(power()).toBe("1.5 kW");
  });

  it("asks for nothing but what is last filled in, and shows that", async () => {
    openSession(1);
    await load(1);
    server.hold("POST /api/size");
    for (const figure of ["2 kW", "3 kW", "4 kW"]) fill("power", figure);
    await later(1);
    await server.letGo("POST /api/size");
    await later(10);
    const asked = server.sent("POST", "/api/size").map((body) => (body["sizing"] as never)["fields"]);
    expect(asked.slice(1)).toEqual([{ power: "2 kW" }, { power: "4 kW" }]);
    expect(useSizing.getState().answer).toMatchObject({ of: { fields: { power: "4 kW" } } });
  });
});
