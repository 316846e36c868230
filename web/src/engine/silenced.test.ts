import { expect, it } from "vitest";

import { hearInLook, isSilent, Silenced, silenceInLook } from "./silenced";
import { engineOn } from "./testing";

const memory = (text?: string) => {
  const held = new Map(text === undefined ? [] : [["wenditas-silenced", text]]);
  return { getItem: (name: string) => held.get(name) ?? null, setItem: (name: string, value: string) => void held.set(name, value) };
};

it("silences a check for a shot or for good, and keeps that", () => {
  const kept = memory();
  const silenced = new Silenced(kept);
  silenced.put("banding", "a");
  silenced.put("clipping", null);
  const again = new Silenced(kept);
  const now = () => again.state.getState();
  expect([isSilent(now(), "banding", "a"), isSilent(now(), "banding", "b"), isSilent(now(), "clipping", "b")]).toEqual([true, false, true]);
  again.lift("clipping", "b");
  again.lift("banding", "a");
  expect([isSilent(now(), "banding", "a"), isSilent(now(), "clipping", "b")]).toEqual([false, false]);
});

it.each(["{", "[]", "7", '{"always":"all","shots":{"a":7}}'])("begins anew where what was kept makes no sense: %s", (text) => {
  expect(isSilent(new Silenced(memory(text)).state.getState(), "banding", "a")).toBe(false);
});

it("silences a check in a look, which takes that along, and tells of it again; what is silent stays once", async () => {
  const engine = engineOn();
  for (const check of ["banding", "clipping", "banding"]) silenceInLook(engine, check, check);
  expect(engine.shown.look.silenced).toEqual(["banding", "clipping"]);
  hearInLook(engine, "flicker", "Flicker");
  hearInLook(engine, "banding", "Banding");
  expect(engine.shown.look.silenced).toEqual(["clipping"]);
  await engine.document.idle();
  expect(engine.view.undo).toBe("Banding told again");
});
