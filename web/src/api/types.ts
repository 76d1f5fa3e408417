import type { components } from "./schema.gen";

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
export type Diagram = Schemas["DiagramAnswer"];
export type Played = Schemas["PlayedAnswer"];
export type DescriptionLine = Schemas["DescribedLine"];
export type PlayedRole = Schemas["RoleData"];
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
export type DeviceReason = Schemas["WhyAnswer"];
export type Explanation = Schemas["ExplanationData"];
export type ProbePath = Schemas["PathData"];
export type Standing = Schemas["Standing"];
export type JobLine = Schemas["JobLine"];
export type Job = Schemas["JobBody"];
export type ProblemItem = Schemas["ProblemItem"];
