/** The words of what somebody types, in small letters. */
export const wordsOf = (text: string): string[] => text.toLowerCase().split(/\s+/).filter(Boolean);

/** Is something called by all of these words? */
export const hasAll = (one: { readonly words: string }, words: readonly string[]): boolean =>
  words.every((word) => one.words.toLowerCase().includes(word));

/** What is called by all of these words; where nothing is, by all but one of them: people call things otherwise. */
export function named<T extends { readonly words: string }>(
  every: readonly T[],
  words: readonly string[],
): readonly T[] {
  const counted = every.map((one) => {
    const text = one.words.toLowerCase();
    return { one, count: words.filter((word) => text.includes(word)).length };
  });
  const most = Math.max(0, ...counted.map(({ count }) => count));
  const enough = most === words.length || (most > 0 && most === words.length - 1);
  return enough ? counted.filter(({ count }) => count === most).map(({ one }) => one) : [];
}
