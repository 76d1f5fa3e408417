import { act, cleanup, renderHook } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { useRoom } from "../pages/job/useRoom";
import { isOpen } from "../saved/windows";
import { useCommandKeys } from "./commands";
import { openSession, perJob, session, storePerJob } from "./session";

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
  openSession(undefined);
});

describe("a session", () => {
  it("has one of each kind of its own, and hands it on to whoever waited", () => {
    const counters = perJob((of) => ({ job: of.job, count: 0 }));
    openSession(1);
    const first = counters.here();
    first.count = 7;
    expect(counters.here()).toBe(first);
    openSession(2);
    expect(counters.here()).toEqual({ job: 2, count: 0 });
    first.count += 1;
    expect(counters.here().count).toBe(0);
    openSession(1);
    expect(counters.here()).toEqual({ job: 1, count: 0 });
  });

  it("ends what began in it once, when another is opened", () => {
    const ended = vi.fn();
    openSession(1).onEnd(() => ended(session().job));
    openSession(2);
    openSession(3);
    expect(ended.mock.calls).toEqual([[1]]);
  });

  it("is what components show, from the moment at which it is opened", () => {
    const useTitle = storePerJob((of) => ({ title: `job ${of.job}` }));
    openSession(1);
    const shown = renderHook(() => useTitle(({ title }) => title));
    expect(shown.result.current).toBe("job 1");
    act(() => useTitle.setState({ title: "changed" }));
    expect(shown.result.current).toBe("changed");
    act(() => void openSession(2));
    expect(shown.result.current).toBe("job 2");
  });
});

/** Listeners that are there more than before, by what they hear. */
function listening(target: Pick<EventTarget, "addEventListener" | "removeEventListener">): () => string[] {
  const there: string[] = [];
  vi.spyOn(target, "addEventListener").mockImplementation((type: string) => void there.push(type));
  vi.spyOn(target, "removeEventListener").mockImplementation((type: string) => {
    const at = there.indexOf(type);
    if (at >= 0) there.splice(at, 1);
  });
  return () => there.filter((type) => type === "keydown" || type === "change" || type === "message");
}

describe("what listens", () => {
  it("to keys does so as long as its page is there", () => {
    const there = listening(window);
    const page = renderHook(() => useCommandKeys([]));
    expect(there()).toEqual(["keydown"]);
    page.unmount();
    expect(there()).toEqual([]);
  });

  it("to the width of the window does so as long as its page is there", () => {
    const query = new EventTarget() as MediaQueryList;
    vi.stubGlobal("matchMedia", () => query);
    const there = listening(query);
    const page = renderHook(() => useRoom());
    expect(there()).toEqual(["change", "change"]);
    page.unmount();
    expect(there()).toEqual([]);
    vi.unstubAllGlobals();
  });

  it("for another window does so until it has answered, or long enough", async () => {
    const there = listening(BroadcastChannel.prototype as never);
    const asked = isOpen("nobody");
    expect(there()).toEqual(["message"]);
    expect(await asked).toBe(false);
    expect(there()).toEqual([]);
  });
});
