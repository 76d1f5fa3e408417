import { useEffect, useState } from "react";
import type { Room } from "./panes";

const PHONE = "(max-width: 639px)";
const TABLET = "(max-width: 1019px)";

const room = (): Room =>
  matchMedia(PHONE).matches ? "phone" : matchMedia(TABLET).matches ? "tablet" : "desk";

/** How much room the window has. */
export function useRoom(): Room {
  const [now, setNow] = useState(room);
  useEffect(() => {
    const look = (): void => setNow(room());
    const queries = [PHONE, TABLET].map((query) => matchMedia(query));
    for (const query of queries) query.addEventListener("change", look);
    return () => {
      for (const query of queries) query.removeEventListener("change", look);
    };
  }, []);
  return now;
}
