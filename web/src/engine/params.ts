/** What the declarations of parameters say about one another. */
import type { ParamInfo } from "../api/types";

/** Whether a parameter counts, as the choices beside it stand. */
export function counts(info: ParamInfo, all: readonly ParamInfo[], values: Record<string, unknown>): boolean {
  return Object.entries(info.when ?? {}).every(([key, wanted]) => (values[key] ?? all.find((p) => p.key === key)?.default) === wanted);
}
