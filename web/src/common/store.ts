/** Keep something in the browser. False when there is no room or storage is forbidden: then it is nowhere. */
export function keep(which: "localStorage" | "sessionStorage", key: string, text: string): boolean {
  try {
    window[which].setItem(key, text);
    return true;
  } catch {
    return false;
  }
}

/** What was kept, or null. */
export function kept(which: "localStorage" | "sessionStorage", key: string): string | null {
  try {
    return window[which].getItem(key);
  } catch {
    return null;
  }
}
