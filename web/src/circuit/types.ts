import type { components } from "../api/schema.gen";

export type Schemas = components["schemas"];

export type Circuit = Schemas["Circuit-Output"];
export type Device = Schemas["Device-Output"];
export type Conductor = Schemas["Conductor-Output"];
export type Sheet = Schemas["Sheet-Output"];
export type Placement = Schemas["Placement"];
export type End = Schemas["End"];
export type Convention = Sheet["convention"];
export type ParamValue = Device["params"][string];

export type DrawnPage = Schemas["DrawnPage"];
export type Choices = Schemas["Choices"];
export type CheckResult = Schemas["ResultData"];
export type Differences = Schemas["Differences"];
export type Finding = Schemas["FindingData"];

export type Kind = Schemas["KindData"];
export type Param = Schemas["ParamData"];
export type Part = Schemas["PartData"];
export type Operation = Schemas["OperationData"];

export type Frame = Schemas["FrameData"];
export type State = Schemas["StateData"];
export type Run = Schemas["RunAnswer"];
export type Probes = Schemas["Probes"];
export type Reading = Schemas["ReadingData"];
export type Explanation = Schemas["ExplanationData"];
export type ProbePath = Schemas["PathData"];
export type Standing = Schemas["Standing"];
export type JobLine = Schemas["JobLine"];
export type Job = Schemas["JobBody"];
export type ProblemItem = Schemas["ProblemItem"];

/** A place on a sheet, in modules of the drawing grid. */
export interface Point {
  readonly x: number;
  readonly y: number;
}

/** The sheets of the convention in which the circuit is shown. */
export const shownSheets = (circuit: Circuit): readonly Sheet[] =>
  circuit.sheets.filter((sheet) => sheet.convention === circuit.convention);

export const endKey = (end: End): string => `${end.device}:${end.terminal}`;
export const sameEnd = (a: End, b: End): boolean => a.device === b.device && a.terminal === b.terminal;
