import type { components } from "./schema";

type Schemas = components["schemas"];

export type Project = Schemas["Project"];
export type ProjectView = Schemas["ProjectView"];
export type Footage = Schemas["Footage"];
export type ShotRow = Schemas["ShotRow"];
export type ShotView = Schemas["ShotView"];
export type ShotDocument = Schemas["ShotDocument"];
export type Look = Schemas["Look"];
export type Pass = Schemas["Pass"];
export type Selection = Schemas["Selection"];
export type HueKey = Schemas["HueKey"];
export type Pick = Schemas["Pick"];
export type Catalogue = Schemas["Catalogue"];
export type Treatment = Schemas["TreatmentInfo"];
export type ParamInfo = Schemas["ParamInfo"];
export type ExportView = Schemas["ExportView"];
export type Side = NonNullable<Pass["side"]>;
export type View = "result" | "source" | "matte" | "selected";

/** One RFC 6902 operation. */
export type Operation = { op: "add" | "remove" | "replace" | "move" | "copy" | "test"; path: string; from?: string; value?: unknown };
