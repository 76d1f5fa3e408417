import { beforeEach, describe, expect, it } from "vitest";
import { inSight, type Pane, type Room, showSheets, togglePane, usePanes } from "./panes";

const ALL = ["left", "right", "below"] as const;
const seen = (room: Room): Pane[] => ALL.filter((pane) => inSight(usePanes.getState(), pane, room));

describe("panes", () => {
  beforeEach(() => usePanes.setState({ folded: [], only: null }));

  it("fold each by itself on a desk, and it is remembered", () => {
    togglePane("right", "desk");
    togglePane("below", "desk");
    expect(seen("desk")).toEqual(["left"]);
    expect(localStorage.getItem("wiretrace-folded")).toBe("right below");
    togglePane("right", "desk");
    expect(seen("desk")).toEqual(["left", "right"]);
  });

  it("are one at a time where there is less room, and none beside that", () => {
    expect(seen("phone")).toEqual([]);
    togglePane("left", "phone");
    togglePane("right", "phone");
    expect(seen("phone")).toEqual(["right"]);
    showSheets();
    expect(seen("tablet")).toEqual([]);
    expect(seen("desk")).toEqual(["left", "right", "below"]);
  });
});
