import { describe, expect, it } from "vitest";

import type { Lane, ShotDocument } from "../api/types";
import { copyPins, keysReordered, laneOf, mixColours, movePins, passage, pastePins, pointerOf, putLane, snapTo, valueAt, withKeyframe } from "./lanes";

const lane = (...keyframes: [number, unknown, string?][]): Lane => ({ target: "passes/p/amount", keyframes: keyframes.map(([frame, value, how]) => ({ frame, value, how: (how ?? "linear") as "linear", ease: 100 })), drift: 0, start: 0, way: "as typed" });
const info = { kind: "number", unit: "%", low: 0, high: 100, axis: null } as const;
const document = { first: 0, last: 99, look: { passes: [{ id: "o" }, { id: "p", amount: 100 }], selections: [{ id: "s", shapes: [{ id: "f" }] }], lanes: [lane([0, 0])] } } as unknown as ShotDocument;

describe("values between keyframes", () => {
  // The same numbers as in the server's own tests.
  it("are held, straight or eased", () => {
    expect([5, 15, 20, 30].map((n) => valueAt(lane([10, 0, "hold"], [30, 100]), info, n, 24))).toEqual([0, 0, 0, 100]);
    expect([15, 20].map((n) => valueAt(lane([10, 0], [30, 100]), info, n, 24))).toEqual([25, 50]);
    expect(valueAt(lane([10, 0, "smooth"], [30, 100]), info, 15, 24)).toBeCloseTo(15.625, 9);
    expect(passage({ how: "smooth", ease: 50 }, 0.25)).toBeCloseTo((0.25 + 0.15625) / 2, 9);
  });
  it("drift, and come round", () => {
    const angle = { ...info, unit: "°", low: -3600, high: 3600 };
    expect(valueAt({ ...lane([0, 30]), drift: 100 }, angle, 90, 25)).toBe(390);
    expect(valueAt({ ...lane([0, 90]), drift: 10 }, info, 240, 24)).toBe(100);
  });
  it("turn the way that was chosen", () => {
    const angle = { ...info, unit: "°", low: -360, high: 360 };
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

describe("targets", () => {
  it("are found in the document", () => {
    expect(pointerOf(document, "passes/p/params/red")).toBe("/look/passes/1/params/red");
    expect(pointerOf(document, "selections/s/shapes/f/feather_in")).toBe("/look/selections/0/shapes/0/feather_in");
    expect(pointerOf(document, "passes/gone/amount")).toBeNull();
    expect(laneOf(document, "passes/p/amount")).not.toBeNull();
    expect(putLane(document, lane([0, 0])).path).toBe("/look/lanes/0");
    expect(putLane(document, { ...lane([0, 0]), target: "passes/p/on" }).path).toBe("/look/lanes/-");
  });
});

describe("lanes of keys", () => {
  it("go along when keys are put in another order or removed", () => {
    const keyed = { ...document, look: { ...document.look, lanes: [lane([0, 0]), ...[0, 1, 2].map((n) => ({ ...lane([0, n]), target: `selections/s/keys/${n}/tolerance` }))] } } as ShotDocument;
    const after = (order: number[]) => (keysReordered(keyed, "s", order)[0]!.value as Lane[]).map((l) => [l.target, l.keyframes[0]!.value]);
    expect(after([2, 0, 1])).toEqual([["passes/p/amount", 0], ["selections/s/keys/1/tolerance", 0], ["selections/s/keys/2/tolerance", 1], ["selections/s/keys/0/tolerance", 2]]);
    expect(after([1, 2])).toEqual([["passes/p/amount", 0], ["selections/s/keys/0/tolerance", 1], ["selections/s/keys/1/tolerance", 2]]);
    expect(keysReordered(document, "s", [1, 0])).toEqual([]);
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
