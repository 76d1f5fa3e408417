import { createSystem, defaultConfig, defineConfig } from "@chakra-ui/react";

const own = (name: string) => ({ value: `var(--${name})` });

const SIZES = ["note", "line", "body", "head", "title", "unit", "large", "figure"];

/** Chakra speaks our tokens: one accent palette, paper and ink, our two families of type. */
export const system = createSystem(
  defaultConfig,
  defineConfig({
    globalCss: {
      "html, body": {
        bg: "var(--desk)",
        color: "var(--ink)",
        fontFamily: "body",
        fontSize: "var(--size-body)",
      },
      "*:focus-visible": { outline: "2px solid var(--accent)", outlineOffset: "2px" },
    },
    theme: {
      tokens: {
        fonts: {
          body: { value: "'Barlow', sans-serif" },
          heading: { value: "'Barlow Semi Condensed', sans-serif" },
          mono: { value: "'JetBrains Mono', monospace" },
        },
        fontSizes: Object.fromEntries(SIZES.map((name) => [name, own(`size-${name}`)])),
      },
      semanticTokens: {
        colors: {
          bg: { DEFAULT: own("panel"), subtle: own("desk"), muted: own("grid"), panel: own("paper") },
          fg: { DEFAULT: own("ink"), muted: own("soft"), subtle: own("soft") },
          border: { DEFAULT: own("rule") },
          accent: {
            solid: own("accent"),
            contrast: own("accent-ink"),
            fg: own("accent"),
            muted: own("accent-wash"),
            subtle: own("accent-wash"),
            emphasized: own("rule"),
            focusRing: own("accent"),
          },
        },
        radii: { l1: { value: "2px" }, l2: { value: "3px" }, l3: { value: "4px" } },
      },
    },
  }),
);
