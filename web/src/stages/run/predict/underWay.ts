import { create } from "zustand";
import type { PredictionSheet } from "../../../api/client";
import type { Schemas } from "../../../api/types";

/** A sheet that is being made. */
export interface SheetDraft {
  readonly title: string;
  readonly states: readonly PredictionSheet["states"][number][];
  readonly about: boolean;
  readonly hints: boolean;
}

/** What one is doing with predictions; it stays while another pane is looked at. */
interface UnderWay {
  readonly job: number | undefined;
  readonly pane: "measure" | "predict" | "sequence";
  /** The sheet that is open. */
  readonly open: number | "new" | null;
  readonly draft: SheetDraft;
  /** The state that is being filled in, and marks by state, of the open attempt. */
  readonly at: number;
  readonly marks: Readonly<Record<number, Schemas["Marks"]["marks"]>>;
}

const FRESH: Omit<UnderWay, "job" | "pane"> = {
  open: null,
  draft: { title: "", states: [], about: false, hints: false },
  at: 0,
  marks: {},
};

export const useUnderWay = create<UnderWay>(() => ({ job: undefined, pane: "measure", ...FRESH }));

export const setUnderWay = (change: Partial<UnderWay>): void => useUnderWay.setState(change);

/** Another job begins with nothing open. */
export function ofJob(job: number | undefined): void {
  if (useUnderWay.getState().job !== job) setUnderWay({ job, ...FRESH });
}

/** Open a sheet, begin a new one, or go back to all of them. */
export const openSheet = (open: UnderWay["open"]): void => setUnderWay({ ...FRESH, open });

export const changeDraft = (change: Partial<SheetDraft>): void =>
  setUnderWay({ draft: { ...useUnderWay.getState().draft, ...change } });
