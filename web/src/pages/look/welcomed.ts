import { keep, kept } from "../../common/store";

const DONE = "wiretrace-first-minute";

/** Has the first minute been gone through, or been waved away, in this browser? */
export const isDone = (): boolean => kept("localStorage", DONE) !== null;
export const setDone = (): void => void keep("localStorage", DONE, "done");
