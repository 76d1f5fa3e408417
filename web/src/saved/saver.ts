import { asProblem, type Problem } from "../api/client";
import { randomId } from "../common/randomId";
import {
  type Draft,
  dropDraft,
  dropSaved,
  findDraft,
  isInMemory,
  keepDraft,
  leftDraft,
  type Place,
} from "./drafts";

export type SaveState = "saved" | "unsaved" | "saving" | "waiting" | "conflict" | "gone" | "refused";

/** What every save carries, as the server takes it. */
export interface Order {
  readonly based_on: number;
  readonly writer: string;
  readonly serial: number;
}

/** How a thing stands with the server. */
export interface Standing {
  /** Version on the server that it was made from. */
  readonly basedOn: number;
  /** This window, as the server knows it, and its count of changes; both are taken over from a draft. */
  readonly writer: string;
  readonly serial: number;
  readonly save: SaveState;
  readonly saveProblem: Problem | null;
  /** Does the browser keep what the server does not have? Else it is in this window alone. */
  readonly kept: boolean;
}

export const SAVED: Standing = {
  basedOn: 0,
  writer: "",
  serial: 0,
  save: "saved",
  saveProblem: null,
  kept: true,
};

/** What the server has of it, and the window that saved it last. */
export interface There<T> {
  readonly version: number;
  readonly writer: string;
  readonly value: T;
}

/** A kind of thing that is saved: one for each job, or for whatever `of` names. */
export interface Kind<T> {
  readonly name: string;
  readonly of: string;
  readonly afterMs: number;
  readonly read: () => Promise<There<T>>;
  /** Save a value, of which the server had `before` when it last answered. */
  readonly save: (order: Order, value: T, before: T | null) => Promise<{ readonly version: number }>;
  /** What a draft held, perhaps of an earlier release, as this one has it. */
  readonly upgraded: (value: unknown) => T | undefined | Promise<T | undefined>;
  /** What an earlier release kept of it in the browser in another way: it is taken over once. */
  readonly former?: { readonly value: () => unknown; readonly drop: () => void };
}

/** Whose value is saved, and who is told how that stands. */
export interface Owner<T> {
  readonly value: () => T;
  readonly standing: () => Standing;
  readonly tell: (change: Partial<Standing>) => void;
}

const TRY_AGAIN_MS = 2_000;
const KNOWN: Partial<Record<number, SaveState>> = { 401: "waiting", 404: "gone", 409: "conflict" };

/** What was opened: the value to go on with, and where it comes from. */
export interface Opened<T> {
  readonly value: T;
  readonly there: There<T>;
  readonly draft: Draft | undefined;
}

/** The value of a thing as the server has it, or as this browser has it where a change never reached the server. */
export async function opened<T>(kind: Kind<T>, known?: There<T>): Promise<Opened<T>> {
  const place = placeOf(kind);
  const [there, left] = await Promise.all([known ?? kind.read(), leftDraft(place)]);
  const draft = left ? asOwn(place, left, there) : findDraft(place);
  const value = draft && (await kind.upgraded(draft.value));
  if (value !== undefined) return { value, there, draft };
  // What cannot be read any more stays where it is; it is not taken for nothing.
  return (await takenOver(kind, place, there)) ?? { value: there.value, there, draft: undefined };
}

/**
 * What a closed window left, as this window's: by a writer of its own, since another one may take over the same. Where the
 * server has that window's last save, this goes on from there.
 */
function asOwn(place: Place, left: Draft, there: There<unknown>): Draft {
  const basedOn = left.writer === there.writer ? there.version : left.basedOn;
  const draft = { ...left, basedOn, writer: randomId(), serial: 1 };
  keepDraft(place, draft);
  return draft;
}

async function takenOver<T>(kind: Kind<T>, place: Place, there: There<T>): Promise<Opened<T> | null> {
  const value = there.version === 0 && kind.former && (await kind.upgraded(kind.former.value()));
  if (value === undefined || value === false) return null;
  const draft = { basedOn: 0, writer: randomId(), serial: 1, value };
  if (keepDraft(place, draft)) kind.former?.drop();
  return { value, there, draft };
}

const placeOf = ({ name, of }: Pick<Kind<unknown>, "name" | "of">): Place => ({ kind: name, of });

/**
 * Keeps one thing on the server: as a draft in the browser at once, on the server a little later, one save after the
 * other, each with a serial so that one that comes late overwrites nothing.
 */
export class Saver<T> {
  private readonly place: Place;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private underWay: Promise<void> | null = null;
  private before: T | null = null;
  private left = false;

  constructor(
    private readonly kind: Kind<T>,
    private readonly owner: Owner<T>,
  ) {
    this.place = placeOf(kind);
  }

  /** Begin with what was opened. The owner has its value already. */
  begin({ there, draft }: Opened<T>): void {
    clearTimeout(this.timer);
    this.before = there.value;
    // Of a save that arrived unheard of, the server remembers that it was ours.
    const stale = draft !== undefined && draft.basedOn !== there.version && draft.writer !== there.writer;
    this.owner.tell({
      basedOn: draft?.basedOn ?? there.version,
      writer: draft?.writer ?? randomId(),
      serial: draft?.serial ?? 0,
      save: stale ? "conflict" : draft ? "unsaved" : "saved",
      saveProblem: null,
      kept: !isInMemory(this.place),
    });
    if (draft && !stale) this.soon();
  }

  /** The owner's value was changed. */
  changed(): void {
    const { serial, save } = this.owner.standing();
    this.owner.tell({ serial: serial + 1 });
    this.keepDraft();
    if (save === "conflict" || save === "gone") return;
    this.owner.tell({ save: "unsaved" });
    this.soon();
  }

  /** Save now, after what is on its way, whatever is not saved yet. */
  async now(): Promise<void> {
    clearTimeout(this.timer);
    await this.underWay;
    const { save } = this.owner.standing();
    if (save !== "unsaved" && save !== "waiting" && save !== "refused") return;
    this.underWay ??= this.send().finally(() => {
      this.underWay = null;
    });
    await this.underWay;
  }

  /** Leave it: what is not saved is saved once more; what then is not stays as a draft. */
  async leave(): Promise<void> {
    this.left = true;
    await this.now();
  }

  /** In a conflict: what the other window saved, to go on with; what was made here is forgotten. */
  async theirs(): Promise<T> {
    const there = await this.kind.read();
    dropDraft(this.place);
    this.begin({ value: there.value, there, draft: undefined });
    return there.value;
  }

  /** In a conflict: put what was made here in place of what the other window saved. */
  async mine(): Promise<void> {
    const { version } = await this.kind.read();
    const { serial } = this.owner.standing();
    this.owner.tell({ basedOn: version, save: "unsaved", serial: serial + 1 });
    // With its new serial, which the server may remember when this window does not any more.
    this.keepDraft();
    await this.now();
  }

  /** It is kept elsewhere now. */
  forget(): void {
    clearTimeout(this.timer);
    dropDraft(this.place);
    this.owner.tell({ save: "saved", kept: true });
  }

  private soon(delay = this.kind.afterMs): void {
    clearTimeout(this.timer);
    if (!this.left) this.timer = setTimeout(() => void this.now(), delay);
  }

  private async send(): Promise<void> {
    const value = this.owner.value();
    const { basedOn, writer, serial } = this.owner.standing();
    this.owner.tell({ save: "saving" });
    try {
      const { version } = await this.kind.save({ based_on: basedOn, writer, serial }, value, this.before);
      this.before = value;
      dropSaved(this.place, writer, serial);
      const same = this.owner.standing().serial === serial;
      this.owner.tell({ basedOn: version, saveProblem: null, save: same ? "saved" : "unsaved" });
      if (same) this.owner.tell({ kept: true });
      else {
        this.keepDraft();
        this.soon();
      }
    } catch (error) {
      const problem = asProblem(error);
      const save = KNOWN[problem.status] ?? (problem.passing ? "waiting" : "refused");
      this.owner.tell({ save, saveProblem: problem });
      if (save === "waiting") this.soon(TRY_AGAIN_MS);
    }
  }

  private keepDraft(): void {
    const { basedOn, writer, serial } = this.owner.standing();
    const kept = keepDraft(this.place, { basedOn, writer, serial, value: this.owner.value() });
    this.owner.tell({ kept });
  }
}
