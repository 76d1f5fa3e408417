import { afterEach, beforeEach, vi } from "vitest";
import type { Job } from "../circuit/types";
import { edit, openedCircuit, openJob, useDocument } from "../job/document";
import { catalogue, row } from "./circuits";

export const job = (version: number, writer = "somebody"): Job => ({
  id: 7,
  title: "Pump",
  place: "",
  version,
  updated_at: "2026-01-01T00:00:00Z",
  circuit: row,
  writer,
});

/** What the server answers to a save, a version more each time, and what was sent to it. */
export const server: {
  respond: () => Response;
  saves: { based_on: number; writer: string; serial: number }[];
} = { respond: () => Response.error(), saves: [] };

/** A server of its own for each test, an empty storage, and a clock that stands still. */
export const withServer = (): void => {
  beforeEach(() => {
    vi.useFakeTimers();
    localStorage.clear();
    server.saves = [];
    let version = 1;
    server.respond = () => {
      version += 1;
      return Response.json({ ...job(version), circuit: undefined });
    };
    vi.stubGlobal("fetch", async (_path: string, init: { body: string }) => {
      server.saves.push(JSON.parse(init.body));
      return server.respond();
    });
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });
};

export const open = async (of: Job): Promise<void> => openJob(of, catalogue, await openedCircuit(of));
export const labelIn = (save: unknown): string | undefined =>
  (save as { circuit: Job["circuit"] }).circuit.devices[1]?.label;
export const rename = (label: string): boolean => edit({ type: "rename", device: "s-1", label });
export const label = (): string | undefined => useDocument.getState().circuit.devices[1]?.label;
export const later = (ms = 500): Promise<unknown> => vi.advanceTimersByTimeAsync(ms);
