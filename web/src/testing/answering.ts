import { vi } from "vitest";

/** What a server was asked. */
export interface Asked {
  readonly method: string;
  readonly path: string;
  readonly body: Readonly<Record<string, unknown>>;
}

type Answers = Readonly<Record<string, (asked: Asked) => unknown>>;

/**
 * A server that answers by "METHOD path"; what is held back is answered when it is let go. What it was asked comes in
 * order.
 */
export class Answering {
  readonly asked: Asked[] = [];
  private readonly held = new Map<string, (() => void)[]>();

  constructor(private readonly answers: Answers) {
    vi.stubGlobal("fetch", (path: string, init?: { method?: string; body?: string }) =>
      this.answer(path, init),
    );
  }

  /** Answer this no more until it is let go. */
  hold(what: string): void {
    this.held.set(what, []);
  }

  async letGo(what: string): Promise<void> {
    const waiting = this.held.get(what) ?? [];
    this.held.delete(what);
    for (const go of waiting) go();
    await vi.waitFor(() => undefined);
  }

  /** What was sent by this method to this path. */
  sent(method: string, path: string): readonly Readonly<Record<string, unknown>>[] {
    return this.asked.filter((one) => one.method === method && one.path === path).map(({ body }) => body);
  }

  private async answer(path: string, init?: { method?: string; body?: string }): Promise<Response> {
    const asked = { method: init?.method ?? "GET", path, body: JSON.parse(init?.body ?? "{}") };
    this.asked.push(asked);
    const what = `${asked.method} ${path.replace(/\?.*/, "")}`;
    const waiting = this.held.get(what);
    if (waiting) await new Promise<void>((resolve) => waiting.push(resolve));
    const found = this.answers[what];
    if (!found) return Response.json({ title: "Not found", detail: what }, { status: 404 });
    const made = found(asked);
    return made instanceof Response ? made : Response.json(made);
  }
}
