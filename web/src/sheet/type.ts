/** Sizes of the type on a sheet, in modules of its grid: names of parts, all other words, and the height of a line. */
export const DESIGNATION = 1.6;
export const SMALL = 1.35;
export const LINE = 1.45;
