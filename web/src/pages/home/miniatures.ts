import { api } from "../../api/client";
import { Catalogue } from "../../circuit/catalogue";
import type { Circuit } from "../../circuit/types";
import { keep, kept } from "../../common/store";
import { type Miniature, miniatureOf } from "../../sheet/miniature";

/** What a miniature is of: a name that changes with the content, and how to get the circuit. */
export interface Subject {
  readonly key: string;
  readonly load: () => Promise<Circuit>;
}

const INDEX = "wiretrace-miniatures";
const MOST = 150;
const made = new Map<string, Promise<Miniature>>();
let catalogue: Promise<Catalogue> | undefined;
let last: Promise<unknown> = Promise.resolve();

/** The miniature of a circuit: made once for a content and kept in the browser; one at a time, when there is time. */
export function miniature({ key, load }: Subject): Promise<Miniature> {
  const known = made.get(key);
  if (known) return known;
  const stored = keptMiniature(key);
  const fresh = stored ? Promise.resolve(stored) : queued(() => draw(key, load));
  made.set(key, fresh);
  // What failed may be tried again when it is next in view.
  fresh.catch(() => made.delete(key));
  return fresh;
}

/** What is kept under a key; nothing where it has been tampered with. */
function keptMiniature(key: string): Miniature | undefined {
  try {
    const { width, height, path } = JSON.parse(
      kept("localStorage", `${INDEX}/${key}`) ?? "{}",
    ) as Partial<Miniature>;
    return width && height && typeof path === "string" ? { width, height, path } : undefined;
  } catch {
    return undefined;
  }
}

function queued(work: () => Promise<Miniature>): Promise<Miniature> {
  const turn = last.then(pause).then(work);
  last = turn.catch(() => undefined);
  return turn;
}

/** Lets the page be drawn and answer first. */
const pause = (): Promise<void> =>
  new Promise((go) => {
    if (typeof requestIdleCallback === "function") requestIdleCallback(() => go(), { timeout: 200 });
    else setTimeout(go);
  });

async function draw(key: string, load: () => Promise<Circuit>): Promise<Miniature> {
  catalogue ??= api.catalogue().then(({ kinds }) => new Catalogue(kinds));
  try {
    const drawn = miniatureOf(await load(), await catalogue);
    remember(key, drawn);
    return drawn;
  } catch (error) {
    catalogue = undefined;
    throw error;
  }
}

/** Keep one more; the oldest gives way. */
function remember(key: string, drawn: Miniature): void {
  const index = (kept("localStorage", INDEX) ?? "").split("\n").filter((other) => other && other !== key);
  while (index.length >= MOST) {
    const oldest = index.shift();
    if (oldest) localStorage.removeItem(`${INDEX}/${oldest}`);
  }
  if (keep("localStorage", `${INDEX}/${key}`, JSON.stringify(drawn)))
    keep("localStorage", INDEX, [...index, key].join("\n"));
}
