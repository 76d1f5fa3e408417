/** Advance widths of Barlow Medium from space to tilde, in hundredths of the size of the type. */
const WIDTHS = [
  20, 33, 30, 67, 56, 84, 68, 14, 29, 29, 40, 50, 26, 40, 28, 43, 57, 35, 54, 52, 57, 52, 52, 48, 53, 52, 35,
  31, 50, 50, 50, 48, 82, 63, 62, 61, 62, 60, 56, 61, 64, 26, 58, 62, 57, 72, 67, 62, 59, 58, 61, 59, 57, 64,
  60, 88, 60, 58, 55, 39, 43, 39, 46, 50, 21, 52, 55, 53, 55, 54, 37, 54, 54, 26, 25, 51, 24, 83, 54, 56, 56,
  56, 37, 49, 37, 54, 49, 74, 50, 48, 45, 33, 18, 33, 51,
];
/** What a letter of another script takes, cautiously. */
const OTHER = 100;

/** Width of words in type of a size, in the unit of the size. */
export function widthOf(words: string, size: number): number {
  let sum = 0;
  for (const letter of words) sum += WIDTHS[(letter.codePointAt(0) ?? 0) - 32] ?? OTHER;
  return (sum * size) / 100;
}

/** Height of capitals and figures, and how far some letters reach below the line, in the size of the type. */
export const CAPITAL = 0.72;
export const DESCENT = 0.2;
