import { useEffect, useRef, useState } from "react";
import { asProblem } from "../../api/client";
import type { Miniature } from "../../sheet/miniature";
import { miniature, type Subject } from "./miniatures";

/** A small drawing, made when it comes into view. */
export function MiniatureView({ subject }: { subject: Subject }) {
  const box = useRef<HTMLDivElement>(null);
  const [drawn, setDrawn] = useState<Miniature | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const { key } = subject;
  const latest = useRef(subject);
  latest.current = subject;
  useEffect(() => {
    let wanted = true;
    const observer = new IntersectionObserver(
      (entries) => {
        if (!entries.some((entry) => entry.isIntersecting)) return;
        observer.disconnect();
        miniature({ key, load: () => latest.current.load() })
          .then((found) => wanted && setDrawn(found))
          .catch((error: unknown) => wanted && setFailed(asProblem(error).message));
      },
      { rootMargin: "200px" },
    );
    if (box.current) observer.observe(box.current);
    return () => {
      wanted = false;
      observer.disconnect();
    };
  }, [key]);
  return (
    <div className="miniature" ref={box}>
      {drawn && (
        <svg viewBox={`0 0 ${drawn.width} ${drawn.height}`} aria-hidden>
          <path d={drawn.path} />
        </svg>
      )}
      {failed && <p>No drawing: {failed}</p>}
    </div>
  );
}
