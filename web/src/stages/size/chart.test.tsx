import { ChakraProvider } from "@chakra-ui/react";
import { cleanup, render } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import { openSession } from "../../common/session";
import { system } from "../../theme/system";
import { Chart } from "./Chart";

const chart = {
  dial_a: 10,
  start_s: 2,
  curves: [
    {
      name: "overload",
      points: [
        [12, 1000],
        [60, 8],
        [200, 1],
      ],
    },
  ],
  marks: [],
} as never;

afterEach(() => {
  cleanup();
  openSession(undefined);
});

const shown = () =>
  render(
    <ChakraProvider value={system}>
      <Chart chart={chart} />
    </ChakraProvider>,
  ).container;

/** Where a word stands, from its left and from the top. */
function at(container: Element, words: string): { x: number; y: number } {
  const found = [...container.querySelectorAll("text")].find((one) => one.textContent === words);
  if (!found) throw new Error(`there is no ${words}`);
  return { x: Number(found.getAttribute("x")), y: Number(found.getAttribute("y")) };
}

describe("the chart of currents and times", () => {
  it("has short times below and long ones above, small currents left and large ones right", () => {
    const container = shown();
    expect(at(container, "0.1 s").y).toBeGreaterThan(at(container, "1 s").y);
    expect(at(container, "1 s").y).toBeGreaterThan(at(container, "100 s").y);
    expect(at(container, "10 A").x).toBeLessThan(at(container, "100 A").x);
  });

  it("draws a curve that falls as it goes right, through the times it is told", () => {
    const container = shown();
    const path = container.querySelector("path.overload, polyline.overload");
    const numbers =
      (path?.getAttribute("d") ?? path?.getAttribute("points") ?? "").match(/-?[\d.]+/g)?.map(Number) ?? [];
    const [first, last] = [numbers.slice(0, 2), numbers.slice(-2)];
    expect(last[0]).toBeGreaterThan(first[0] ?? Number.POSITIVE_INFINITY);
    expect(last[1]).toBeGreaterThan(first[1] ?? Number.POSITIVE_INFINITY);
    expect(last[1]).toBeCloseTo(at(container, "1 s").y - 4, 0);
  });
});
