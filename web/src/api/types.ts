import type { components } from "./schema";

/** Fixed-length arrays as plain ones, as openapi-fetch gives them. */
type Plain<T> = T extends readonly (infer U)[] ? Plain<U>[] : T extends object ? { [K in keyof T]: Plain<T[K]> } : T;

export type Schemas = Plain<components["schemas"]>;

export type Project = Schemas["Project"];
export type ProjectView = Schemas["ProjectView"];
export type Footage = Schemas["Footage"];
export type ShotRow = Schemas["ShotRow"];
export type ShotView = Schemas["ShotView"];
export type ReelView = Schemas["ReelView"];
export type ReelDocument = Schemas["ReelDocument"];
export type ReelItem = NonNullable<ReelDocument["items"]>[number];
export type ReelTransition = NonNullable<ReelDocument["transitions"]>[number];
export type ReelSpan = NonNullable<ReelDocument["spans"]>[number];
export type StandingShot = Schemas["StandingShot"];
export type ShotDocument = Schemas["ShotDocument"];
export type Look = Schemas["Look"];
export type Lane = Schemas["Lane"];
export type Keyframe = Lane["keyframes"][number];
export type Take = Schemas["TakeRow"];
export type EditRow = Schemas["EditRow"];
export type Starter = Schemas["StarterInfo"];
export type Pass = Schemas["Pass"];
export type Bundle = Schemas["Bundle"];
export type Selection = Schemas["Selection"];
export type HueKey = Schemas["HueKey"];
export type Key = NonNullable<Selection["keys"]>[number];
export type KeyInfo = Schemas["KeyInfo"];
export type Shape = Schemas["Shape"];
export type ObjectPart = Schemas["ObjectPart"];
export type Stroke = Schemas["Stroke"];
export type Island = Schemas["IslandView"];
export type MainColour = Schemas["MainColourView"];
export type WeakFrame = { frame: number; first: number; last: number; kind: "drop" | "jump"; value: number; usual: number };
export type Pick = Schemas["Pick"];
export type Catalogue = Schemas["Catalogue"];
export type Treatment = Schemas["TreatmentInfo"];
export type ParamInfo = Schemas["ParamInfo"];
export type ExportView = Schemas["ExportView"];
export type ExportOptions = Schemas["ExportOptions"];
export type MarkView = Schemas["MarkView"];
export type CheckView = Schemas["CheckView"];
export type ExportFormat = Schemas["FormatView"];
export type Side = NonNullable<Pass["side"]>;
export type View = "result" | "source" | "matte" | "selected" | "edge" | "hatched" | "protan" | "deutan" | "tritan" | "steps";

export type Edited = Schemas["Edited"];
export type TrackFrame = Schemas["TrackFrame"];

/** What an edit is made of; see the server's `commands`. */
export type Command =
  | { do: "set"; target: string; value: unknown }
  | { do: "add"; target: string; value: unknown; before?: string | null }
  | { do: "remove"; target: string }
  | { do: "move"; target: string; before?: string | null };
