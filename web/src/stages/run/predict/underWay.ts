import type { PredictionSheet } from "../../../api/client";
import { storePerJob } from "../../../common/session";

/** A sheet that is being made. */
export interface SheetDraft {
  readonly title: string;
  readonly states: readonly PredictionSheet["states"][number][];
  readonly about: boolean;
  readonly hints: boolean;
  /** Is what is wrong in the circuit told to whoever fills it in? */
  readonly told: boolean;
  /** Are the currents of the motors asked for? */
  readonly currents: boolean;
  /** Is it asked what to measure next, and what would whoever makes the sheet? */
  readonly asksNext: boolean;
  readonly next: string;
}

/** What one is doing with predictions; it stays while another pane is looked at. */
interface UnderWay {
  readonly pane: "measure" | "predict" | "sequence";
  /** The sheet that is open. */
  readonly open: number | "new" | null;
  readonly draft: SheetDraft;
  /** The state of the open attempt that is being filled in. */
  readonly at: number;
}

const FRESH: Omit<UnderWay, "pane"> = {
  open: null,
  draft: {
    title: "",
    states: [],
    about: false,
    hints: false,
    told: true,
    ...{ currents: false, asksNext: false, next: "" },
  },
  at: 0,
};

export const useUnderWay = storePerJob<UnderWay>(() => ({ pane: "measure", ...FRESH }));

export const setUnderWay = (change: Partial<UnderWay>): void => useUnderWay.setState(change);

/** Open a sheet, begin a new one, or go back to all of them. */
export const openSheet = (open: UnderWay["open"]): void => setUnderWay({ ...FRESH, open });

export const changeDraft = (change: Partial<SheetDraft>): void =>
  setUnderWay({ draft: { ...useUnderWay.getState().draft, ...change } });
