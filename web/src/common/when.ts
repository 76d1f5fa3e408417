const WHEN = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "short" });

/** A moment as people read it: 1 Dec 2026, 03:59. */
export const when = (moment: string): string => WHEN.format(new Date(moment));
