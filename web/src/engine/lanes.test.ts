import { describe, expect, it } from "vitest";

import type { Lane, ShotDocument } from "../api/types";
import { applyCommands } from "./commands";
import { helper } from "./keyframes";
import { copyPins, laneCommands, laneOf, mixColours, movePins, passage, pastePins, snapTo, valueAt, withKeyframe } from "./lanes";

const lane = (...keyframes: [number, unknown, string?][]): Lane => ({ target: "passes/p/amount", keyframes: keyframes.map(([frame, value, how]) => ({ frame, value, how: (how ?? "linear") as "linear", ease: 100 })), drift: 0, start: 0, way: "as typed" });
const info = { kind: "number", unit: "%", low: 0, high: 100, axis: null } as const;

describe("values between keyframes", () => {
  // The same numbers as in the server's own tests.
  it("are held, straight or eased", () => {
    expect([5, 15, 20, 30].map((n) => valueAt(lane([10, 0, "hold"], [30, 100]), info, n, 24))).toEqual([0, 0, 0, 100]);
    expect([15, 20].map((n) => valueAt(lane([10, 0], [30, 100]), info, n, 24))).toEqual([25, 50]);
    expect(valueAt(lane([10, 0, "smooth"], [30, 100]), info, 15, 24)).toBeCloseTo(15.625, 9);
    expect(passage({ how: "smooth", ease: 50 }, 0.25)).toBeCloseTo((0.25 + 0.15625) / 2, 9);
  });
  it("drift, and come round", () => {
    const angle = { ...info, unit: "°", low: -3600, high: 3600, period: 360 };
    expect(valueAt({ ...lane([0, 30]), drift: 100 }, angle, 90, 25)).toBe(390);
    expect(valueAt({ ...lane([0, 90]), drift: 25 }, { ...info, period: 100 }, 48, 24)).toBe(40); // a palette that slides
    expect(valueAt({ ...lane([0, 90]), drift: 10 }, info, 240, 24)).toBe(100);
  });
  it("turn the way that was chosen", () => {
    const angle = { ...info, unit: "°", low: -360, high: 360, period: 360 };
    const at = (way: Lane["way"]) => valueAt({ ...lane([0, 350], [10, 10]), way }, angle, 5, 24);
    expect([at("as typed"), at("short"), at("long")]).toEqual([180, 360, 180]);
  });
  it("are colours in Oklab", () => {
    expect(mixColours("#ff0000", "#0000ff", 0.5)).toBe("#8c53a2"); // coloraide: mix in oklab, clipped
    expect(mixColours("#000000", "#ffffff", 0.5)).toBe("#636363");
  });
  it("are curves and gradients of different length", () => {
    const curve = valueAt(lane([0, [[0, 0], [100, 100]]], [10, [[0, 0], [50, 80], [100, 100]]]), { ...info, kind: "curve", axis: "tone" }, 5, 24) as number[][];
    expect(curve[1]).toEqual([50, 65]);
    const two = [{ position: 0, colour: "#000000" }, { position: 100, colour: "#ffffff" }];
    const stops = valueAt(lane([0, two], [10, [two[0], { position: 50, colour: "#ff0000" }, two[1]]]), { ...info, kind: "gradient" }, 5, 24) as { position: number }[];
    expect(stops.map((s) => s.position)).toEqual([0, 50, 100]);
  });
});

describe("setting an animated value", () => {
  it("moves the keyframe here, or makes one", () => {
    expect(withKeyframe(lane([0, 10], [20, 50]), info, 20, 70, 24).keyframes[1]!.value).toBe(70);
    expect(withKeyframe(lane([0, 10, "hold"], [20, 50]), info, 12, 70, 24).keyframes.map((k) => [k.frame, k.value, k.how])).toEqual([[0, 10, "hold"], [12, 70, "hold"], [20, 50, "linear"]]);
  });
  it("takes the drift off", () => {
    expect(withKeyframe({ ...lane([0, 0]), drift: 24 }, info, 10, 50, 24).keyframes[1]!.value).toBe(40);
  });
});

describe("edits of lanes", () => {
  const target = "look/lanes/passes~1p~1amount";
  it("put a new lane whole, and of one that is there the keyframes that differ", () => {
    const before = lane([0, 0], [10, 50], [20, 100]);
    expect(laneCommands("look", null, before)).toEqual([{ do: "set", target, value: before }]);
    expect(laneCommands("look", before, before)).toEqual([]);
    const after = { ...lane([0, 0], [10, 60], [30, 1]), drift: 2 };
    expect(laneCommands("look", before, after).map((c) => [c.do, c.target.slice(target.length)])).toEqual([["set", "/keyframes/10"], ["set", "/keyframes/30"], ["remove", "/keyframes/20"], ["set", "/drift"]]);
  });
  it("make the lane that is wanted", () => {
    const document = { look: { lanes: [lane([0, 0], [10, 50])] } } as unknown as ShotDocument;
    const after = { ...lane([3, 1], [10, 60], [30, 1]), way: "short" as const };
    expect(laneOf(applyCommands(document, laneCommands("look", laneOf(document, after.target), after)), after.target)).toEqual(after);
  });
});

describe("moves that are made all the time", () => {
  const rest = lane([20, 35]);
  const at = (l: Lane, n: number) => valueAt(l, info, n, 24);
  const made = (what: "in" | "out" | "flash" | "step", frame: number, on = rest) => helper(on, { ...info, key: "amount", name: "Amount", help: "", step: 1, default: 100, animatable: true, choices: [], fields: [], axis: null }, what, frame, 24);
  it("leave the value before and after a flash as it was", () => {
    const flash = made("flash", 60);
    expect([0, 20, 55, 60, 65, 99].map((n) => at(flash, n))).toEqual([35, 35, 35, 100, 35, 35]);
  });
  it("go down where the value is at its top", () => expect(at(made("flash", 60, lane([0, 100])), 60)).toBe(0));
  it("leave the keyframes around them, and take the place of those between", () => {
    const busy = lane([0, 10], [50, 20], [60, 30], [100, 40]);
    const frames = (what: "in" | "out" | "flash" | "step", frame: number) => made(what, frame, busy).keyframes.map((k) => k.frame);
    expect(frames("step", 60)).toEqual([0, 50, 59, 60, 100]);
    expect(frames("in", 40)).toEqual([0, 40, 64, 100]);
    expect(frames("flash", 80).filter((n) => [0, 50, 60, 80, 100].includes(n))).toEqual([0, 50, 60, 80, 100]);
    expect(made("step", 60, busy).keyframes.filter((k) => [0, 50, 100].includes(k.frame)).map((k) => k.value)).toEqual([10, 20, 40]);
  });
  it("can be made at the first frame", () => {
    for (const what of ["flash", "step", "in", "out"] as const) {
      const frames = made(what, 0).keyframes.map((k) => k.frame);
      expect([new Set(frames).size, Math.min(...frames) >= 0]).toEqual([frames.length, true]);
    }
  });
  it("step from what was before", () => {
    const step = made("step", 30, lane([0, 0], [60, 60]));
    expect([29, 30].map((n) => at(step, n))).toEqual([29, 30]);
  });
});

describe("pins", () => {
  const lanes = [lane([0, 0], [10, 50], [20, 100])];
  const pins = [0, 10, 20].map((frame) => ({ target: "passes/p/amount", frame }));
  it("move together, and take the place of what they land on", () => {
    expect(movePins(lanes, pins, (f) => f + 5).lanes[0]!.keyframes.map((k) => k.frame)).toEqual([5, 15, 25]);
    const landed = movePins(lanes, [pins[1]!], () => 20).lanes[0]!.keyframes;
    expect(landed.map((k) => [k.frame, k.value])).toEqual([[0, 0], [20, 50]]);
  });
  it("are drawn closer together", () => {
    const squeezed = movePins(lanes, pins, (f) => f / 2);
    expect(squeezed.lanes[0]!.keyframes.map((k) => k.frame)).toEqual([0, 5, 10]);
    expect(squeezed.pins.map((p) => p.frame)).toEqual([0, 5, 10]);
  });
  it("are given other values", () => {
    expect(movePins(lanes, [pins[1]!], (f) => f, (v) => Number(v) + 7).lanes[0]!.keyframes.map((k) => k.value)).toEqual([0, 57, 100]);
  });
  it("are copied with their distances, and pasted into their lanes or into another", () => {
    const other = { ...lane([3, 9, "hold"]), target: "passes/p/params/red" };
    const copied = copyPins([...lanes, other], [pins[1]!, pins[2]!, { target: other.target, frame: 3 }]);
    expect(copied.map((c) => [c.target, c.after])).toEqual([["passes/p/amount", 7], ["passes/p/amount", 17], ["passes/p/params/red", 0]]);
    const back = pastePins([...lanes, other], copied, 30);
    expect(back.lanes.map((l) => l.keyframes.map((k) => [k.frame, k.value]))).toEqual([[[0, 0], [10, 50], [20, 100], [37, 50], [47, 100]], [[3, 9], [30, 9]]]);
    expect(back.pins.map((p) => p.frame)).toEqual([37, 47, 30]);
    const into = pastePins([...lanes, other], copied.slice(0, 2), 3, other.target);
    expect(into.lanes[0]!.keyframes.map((k) => [k.frame, k.value, k.how])).toEqual([[3, 9, "hold"], [10, 50, "linear"], [20, 100, "linear"]]);
    expect(pastePins(lanes, copied.slice(2), 0)).toEqual({ lanes: [], pins: [] });
  });
  it("snap to what is near", () => {
    expect([snapTo(22.4, [24, 48], 2), snapTo(20.4, [24, 48], 2), snapTo(20.4, [], 2)]).toEqual([24, 20, 20]);
  });
});
