import type { Pass, Treatment } from "../../api/types";

export type Params = Record<string, unknown>;

/** What every panel of parameters is given. */
export type PanelProps = {
  pass: Pass;
  treatment: Treatment;
  params: Params;
  /** How many passes come before this one: the picture it reads is the stage after them. */
  upto: number;
  /** Show values without storing them. */
  show: (values: Params) => void;
  /** Store values as one step of history, in words. */
  set: (values: Params, words: string) => void;
};
