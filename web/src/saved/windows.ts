import { randomId } from "../common/randomId";
import { keep, kept } from "../common/store";

/**
 * The windows of this browser, as far as they are open. Each has an id that outlives a reload; whether another is
 * still there is asked of it, since a window in the background keeps no time but answers at once.
 */
const WINDOW_KEY = "wiretrace-window";
const ANSWER_WITHIN_MS = 300;

/** This page, even where a window was duplicated and two have one id. */
const page = randomId();
let id = "";
const channel = typeof BroadcastChannel === "undefined" ? null : new BroadcastChannel("wiretrace-windows");

interface Asked {
  readonly who: string;
  readonly page: string;
}

channel?.addEventListener("message", ({ data }: MessageEvent<{ asked?: Asked; here?: string }>) => {
  if (data.asked && data.asked.who === id && data.asked.page !== page) channel.postMessage({ here: id });
});

export function windowId(): string {
  if (!id) {
    id = kept("sessionStorage", WINDOW_KEY) ?? randomId();
    keep("sessionStorage", WINDOW_KEY, id);
  }
  return id;
}

/** Does another page with this id answer? */
export function isOpen(who: string): Promise<boolean> {
  if (!channel) return Promise.resolve(false);
  return new Promise((resolve) => {
    const done = (open: boolean): void => {
      clearTimeout(timer);
      channel.removeEventListener("message", hear);
      resolve(open);
    };
    const hear = ({ data }: MessageEvent<{ here?: string }>): void => {
      if (data.here === who) done(true);
    };
    const timer = setTimeout(() => done(false), ANSWER_WITHIN_MS);
    channel.addEventListener("message", hear);
    channel.postMessage({ asked: { who, page } satisfies Asked });
  });
}

let settled: Promise<void> | null = null;

/** A duplicated window takes an id of its own, so that it does not write over what the first keeps. */
export function settleWindow(): Promise<void> {
  settled ??= isOpen(windowId()).then((taken) => {
    if (!taken) return;
    id = randomId();
    keep("sessionStorage", WINDOW_KEY, id);
  });
  return settled;
}
