import { describe, expect, it } from "vitest";
import { keysOf } from "./commands";

const press = (key: string, more: Partial<KeyboardEvent> = {}): string =>
  keysOf({ key, ctrlKey: false, metaKey: false, shiftKey: false, ...more });

describe("keys as commands name them", () => {
  it("are control or command, shift beside them, and a letter whatever its case", () => {
    expect(press("z", { ctrlKey: true })).toBe("Mod+Z");
    expect(press("z", { metaKey: true })).toBe("Mod+Z");
    expect(press("Z", { ctrlKey: true, shiftKey: true })).toBe("Mod+Shift+Z");
    expect(press("Delete")).toBe("Delete");
    expect(press("?", { shiftKey: true })).toBe("?");
  });
});
