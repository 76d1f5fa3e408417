import { useSyncExternalStore } from "react";
import { createStore, type StoreApi, useStore } from "zustand";

/**
 * What is open in this window: a job, or a circuit that is none. Everything that is about it hangs on it and goes with
 * it, so that an answer which comes late finds the job that it was asked for, and never another.
 */
export class Session {
  private readonly parts = new Map<object, unknown>();
  private readonly endings: (() => void)[] = [];

  constructor(readonly job: number | undefined) {}

  /** The one thing of a kind that this session has, made when it is first asked for. */
  part<T>(kind: object, make: (session: Session) => T): T {
    if (!this.parts.has(kind)) this.parts.set(kind, make(this));
    return this.parts.get(kind) as T;
  }

  /** Do something when this is left. */
  onEnd(ending: () => void): void {
    this.endings.push(ending);
  }

  end(): void {
    for (const ending of this.endings.splice(0)) ending();
  }
}

let open = new Session(undefined);
const watchers = new Set<() => void>();

/** The session that is open now. Who waits for something takes it first, and goes on with that one. */
export const session = (): Session => open;

/** Open a job, or a circuit that is none; what was open is left. */
export function openSession(job: number | undefined): Session {
  open.end();
  open = new Session(job);
  for (const watcher of watchers) watcher();
  return open;
}

const watch = (watcher: () => void): (() => void) => {
  watchers.add(watcher);
  return () => void watchers.delete(watcher);
};

/** The session that is open, for a component. */
export const useSession = (): Session => useSyncExternalStore(watch, session);

/** Something of which every session has its own. */
export interface PerJob<T> {
  /** That of the session that is open now. */
  readonly here: () => T;
  /** The same for a component. */
  readonly use: () => T;
}

export function perJob<T>(make: (session: Session) => T): PerJob<T> {
  const kind = {};
  return { here: () => open.part(kind, make), use: () => useSession().part(kind, make) };
}

/** A store of which every session has its own: a hook, and besides that what it says of the open one. */
export interface StorePerJob<S> {
  <T>(of: (state: S) => T): T;
  (): S;
  readonly here: () => StoreApi<S>;
  readonly getState: () => S;
  readonly setState: (change: Partial<S> | ((state: S) => Partial<S>)) => void;
}

export function storePerJob<S extends object>(initial: (session: Session) => S): StorePerJob<S> {
  const { here, use } = perJob<StoreApi<S>>((of) => createStore(() => initial(of)));
  const hook = <T>(of: (state: S) => T = (state) => state as unknown as T): T => useStore(use(), of);
  return Object.assign(hook, {
    here,
    getState: () => here().getState(),
    setState: (change: Partial<S> | ((state: S) => Partial<S>)) => here().setState(change),
  }) as StorePerJob<S>;
}
