import { api, asProblem } from "../../api/client";
import type { Circuit } from "../../circuit/types";
import { download, fileName } from "../../common/download";
import { refuse, useDocument } from "../../job/document";
import { drawnPages } from "../../sheet/drawing";
import { layOut } from "../../sheet/layout";
import sheetStyle from "../../sheet/sheet.css?inline";

/** What a job can be written out as: the name of the file and what it is called on the screen. */
export const EXPORTS: readonly (readonly [string, string])[] = [
  ["circuit.json", "Circuit (JSON)"],
  ["wires.csv", "List of wires (CSV)"],
  ["terminals.csv", "Terminal plan (CSV)"],
  ["parts.csv", "List of parts (CSV)"],
  ["devices.cir", "Devices as a netlist (SPICE)"],
  ["circuit.cir", "This state for SPICE"],
  ["sheets.svg", "Drawing (SVG)"],
  ["sheets.pdf", "Drawing on A4 (PDF)"],
  ["sheets A3.pdf", "Drawing on A3 (PDF)"],
  ["sheets letter.pdf", "Drawing on letter paper (PDF)"],
  ["sheets.dxf", "Drawing (DXF)"],
];

/** Write the circuit out as a file of this name. */
export async function exportFile(name: string): Promise<void> {
  const { circuit, job } = useDocument.getState();
  try {
    download(`${fileName(job?.title ?? "circuit")} ${name}`, await content(name, circuit));
  } catch (error) {
    refuse(asProblem(error).detail);
  }
}

async function content(name: string, circuit: Circuit): Promise<string | Blob> {
  if (name === "circuit.json") return JSON.stringify(circuit, null, 2);
  if (name === "sheets.svg") return drawing();
  if (name.startsWith("sheets")) return drawn(name, circuit);
  return api.exportAs(name, circuit);
}

/** The sheets on paper, or for a program that draws. */
function drawn(name: string, circuit: Circuit): Promise<Blob> {
  const { catalogue, job } = useDocument.getState();
  return api.draw(name.endsWith(".dxf") ? "sheets.dxf" : "sheets.pdf", {
    title: job?.title ?? "Circuit",
    pages: drawnPages(layOut(circuit, catalogue)),
    paper: name.includes("A3") ? "A3" : name.includes("letter") ? "letter" : "A4",
    block: { number: job ? String(job.id) : "", version: "", date: new Date().toISOString().slice(0, 10) },
  });
}

/** The sheets as they are on the screen, as a picture that stands by itself. */
function drawing(): string {
  const pages = document.querySelector("[data-pages]");
  if (!(pages instanceof SVGGraphicsElement)) throw new Error("There is no sheet on the screen.");
  const { x, y, width, height } = pages.getBBox();
  const style = getComputedStyle(document.documentElement);
  const names = new Set([...sheetStyle.matchAll(/var\((--[a-z0-9-]+)/g)].map((match) => match[1] ?? ""));
  // What has no value here, as the scale of the window, must have none there: an empty one is not the one for want of it.
  const values = [...names]
    .map((name) => [name, style.getPropertyValue(name)] as const)
    .filter(([, value]) => value !== "")
    .map(([name, value]) => `${name}:${value}`)
    .join(";");
  const box = [x - 1, y - 1, width + 2, height + 2].map((n) => n.toFixed(1)).join(" ");
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${box}" width="${width * 5}" height="${height * 5}">`,
    `<style>svg{${values}}${sheetStyle}</style>`,
    new XMLSerializer().serializeToString(pages),
    "</svg>",
  ].join("\n");
}
