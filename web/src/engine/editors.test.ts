/** What editors do to gradients, curves and bands, whatever is on its way meanwhile: each change is made on what is there by then. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";

import type { ParamInfo, Pass } from "../api/types";
import { addStop, changeStop, named, removeStop, type Stop } from "../colour/stops";
import { bandsOf, changeBands, type Band } from "./bands";
import { addPoint, APART, movePoint, removePoint } from "./curves";
import type { BenchSession } from "./bench";
import type { Point } from "./monotone";
import type { Change } from "./target";
import { engineOn, Shots, Unsteady, viewOf } from "./testing";

const info = (kind: ParamInfo["kind"]): ParamInfo => ({ key: kind, name: kind, kind, help: "", unit: "", low: 0, high: 100, step: 1, default: [], animatable: true, choices: [], fields: [] });
const STOPS: Stop[] = named([0, 25, 50, 75, 100].map((position) => ({ position, colour: "#808080" })));
const CURVE: Point[] = [[0, 0], [30, 30], [60, 60], [100, 100]];
const BANDS: Band[] = [10, 100, 200].map((hue, n) => ({ id: `b${n}`, hue, saturation: 100, turn: 0 }));
const FIELD = { right: 100, low: 0, high: 100 };
const BAND_INFOS = ["hue", "saturation", "turn"].map((key) => ({ ...info("number"), key, high: 360 }));
const PASS = { id: "p" } as Pass;
const target = (key: string) => `passes/p/params/${key}`;

/** A shot of one pass that has a gradient, a curve and bands. */
function shotOf(lanes: unknown[] = []) {
  const view = viewOf({ passes: ["p"], lanes });
  view.document.look.passes![0]!.params = { stops: STOPS, curve: CURVE, bands: BANDS };
  return view;
}
const paramsOf = (view: { document: { look: { passes?: unknown[] } } }) => (view.document.look.passes![0] as { params: { stops: Stop[]; curve: Point[]; bands: Band[] } }).params;

const changeStops = (engine: BenchSession, change: Change<Stop[]>) => engine.target.items(target("stops"), info("gradient"), named, change);
const changeCurve = (engine: BenchSession, change: Change<Point[]>) => engine.target.change(target("curve"), info("curve"), change);

describe("stops", () => {
  it("typed from the last to the first, faster than the server answers, are all kept", async () => {
    const server = new Shots(shotOf());
    const engine = engineOn(server.newest, {}, server);
    const typed = STOPS.toReversed().map((stop, n) => engine.target.store(changeStops(engine, (now) => changeStop(now, stop.id, { colour: `#00000${n}`, position: stop.position + 1 })), "Typed"));
    await Promise.all(typed);
    expect(named(paramsOf(server.newest).stops).map((s) => [s.position, s.colour])).toEqual([[1, "#000004"], [26, "#000003"], [51, "#000002"], [76, "#000001"], [100, "#000000"]]);
  });
  it("are changed in two windows at once, each its own", async () => {
    const server = new Shots(shotOf());
    const [one, two] = [engineOn(server.newest, {}, server), engineOn(server.newest, {}, server, "other")];
    await one.target.store(changeStops(one, (now) => changeStop(now, "s1", { colour: "#111111" })), "One");
    await two.target.store(changeStops(two, (now) => removeStop(changeStop(now, "s5", { colour: "#555555" }), "s3")), "Two");
    expect(paramsOf(server.newest).stops.map((s) => [s.id, s.colour])).toEqual([["s1", "#111111"], ["s2", "#808080"], ["s4", "#808080"], ["s5", "#555555"]]);
  });
  it("at one place keep the order that they are given", () => {
    const engine = engineOn(shotOf());
    const { commands } = changeStops(engine, (now) => now.toReversed().map((s) => ({ ...s, position: 50 })));
    expect(commands).toEqual([{ do: "set", target: "look/passes/p/params/stops", value: STOPS.toReversed().map((s) => ({ ...s, position: 50 })) }]);
  });
  it("that are animated become a keyframe of the whole", () => {
    const lanes = [{ target: target("stops"), keyframes: [{ frame: 0, value: STOPS, how: "linear" }, { frame: 100, value: STOPS.map((s) => ({ ...s, colour: "#ffffff" })), how: "linear" }] }];
    const engine = engineOn(shotOf(lanes));
    engine.go(50);
    const { commands, keyed } = changeStops(engine, (now) => changeStop(now, "s2", { colour: "#123456" }));
    const [set] = commands as { target: string; value: { frame: number; value: Stop[] } }[];
    expect([keyed, commands.length, set!.value.frame, set!.value.value.length]).toEqual([true, 1, 50, 5]);
    expect(set!.value.value.map((s) => s.colour === "#123456")).toEqual([false, true, false, false, false]);
  });
});

describe("points of a curve", () => {
  it("keep their order and their distance wherever they are dragged", () => {
    const place = fc.double({ min: -50, max: 150, noNaN: true });
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(5), place, place, fc.constantFrom("move", "add", "remove")), { maxLength: 30 }), (steps) => {
        const all = steps.reduce<Point[]>((now, [n, x, y, what]) => {
          const from = now[n % now.length]![0];
          if (what === "add") return addPoint(now, FIELD, [Math.min(Math.max(x, 0), 100), y]);
          return what === "remove" ? removePoint(now, from) : movePoint(now, FIELD, from, [x, y]);
        }, CURVE);
        for (const [n, [x, y]] of all.entries()) {
          expect(x >= 0 && x <= 100 && y >= 0 && y <= 100).toBe(true);
          if (n) expect(x - all[n - 1]![0]).toBeGreaterThanOrEqual(APART - 1e-9);
        }
      }),
    );
  });
});

const stops = STOPS.map((s) => s.id);
const percent = fc.integer({ min: 0, max: 100 });
const colour = fc.integer({ min: 0, max: 0xffffff }).map((v) => `#${v.toString(16).padStart(6, "0")}`);
const what = fc.oneof(
  fc.record({ do: fc.constant("colour" as const), id: fc.constantFrom(...stops), to: colour }),
  fc.record({ do: fc.constant("place" as const), id: fc.constantFrom(...stops), to: percent }),
  fc.record({ do: fc.constant("drag" as const), id: fc.constantFrom(...stops), to: percent, end: fc.constantFrom("stored", "given up") }),
  fc.record({ do: fc.constant("add" as const), to: percent }),
  fc.record({ do: fc.constant("remove" as const), id: fc.constantFrom(...stops) }),
  fc.record({ do: fc.constant("point" as const), at: fc.constantFrom(0, 30, 60, 100), to: percent }),
  fc.record({ do: fc.constant("band" as const), id: fc.constantFrom("b0", "b1", "b2"), key: fc.constantFrom("saturation", "turn"), to: percent }),
);
type What = typeof what extends fc.Arbitrary<infer T> ? T : never;
type Params = ReturnType<typeof paramsOf>;

/** What somebody does in an editor, and what it comes to. */
function perform(engine: BenchSession, action: What, fresh: string): (model: Params) => Params {
  const store = (change: Change<Stop[]>) => (void engine.target.store(changeStops(engine, change), "Edit"), (m: Params) => ({ ...m, stops: change(m.stops) }));
  if (action.do === "colour") return store((now) => changeStop(now, action.id, { colour: action.to }));
  if (action.do === "place") return store((now) => changeStop(now, action.id, { position: action.to }));
  if (action.do === "add") return store((now) => addStop(now, fresh, action.to));
  if (action.do === "remove") return store((now) => removeStop(now, action.id));
  if (action.do === "drag") {
    for (const share of [0.3, 0.7, 1]) engine.target.display(changeStops(engine, (now) => changeStop(now, action.id, { position: action.to * share })));
    if (action.end === "stored") return store((now) => changeStop(now, action.id, { position: action.to }));
    engine.document.drop();
    return (m) => m;
  }
  if (action.do === "point") {
    const change: Change<Point[]> = (now) => movePoint(now, FIELD, action.at, [action.at, action.to]);
    void engine.target.store(changeCurve(engine, change), "Edit");
    return (m) => ({ ...m, curve: change(m.curve) });
  }
  const change: Change<Band[]> = (now) => now.map((b) => (b.id === action.id ? { ...b, [action.key]: action.to } : b));
  void engine.target.store(changeBands(engine, PASS, BAND_INFOS, change), "Edit");
  return (m) => ({ ...m, bands: change(m.bands) });
}

describe("whatever is lost or late on the way", () => {
  const outcomes = fc.array(fc.constantFrom("lost" as const, "unanswered" as const, "answered" as const), { maxLength: 10 });
  it("all that was done in the editors is stored, each thing once, in its order", async () => {
    await fc.assert(
      fc.asyncProperty(fc.scheduler(), fc.array(what, { minLength: 1, maxLength: 12 }), outcomes, async (s, todo, lost) => {
        const server = new Unsteady((label) => s.schedule(Promise.resolve(), label), lost, shotOf());
        const engine = engineOn(server.newest, {}, server);
        server.changed = (revision) => void s.schedule(Promise.resolve(), "event").then(() => engine.document.told(revision));
        let model = paramsOf(shotOf());
        todo.forEach((action, n) => void s.schedule(Promise.resolve(), "a hand moves").then(() => (model = perform(engine, action, `new${n}`)(model))));
        await s.waitIdle();
        const end = paramsOf(server.newest);
        expect(end.stops).toEqual(model.stops);
        expect(end.curve).toEqual(model.curve);
        expect(end.bands).toEqual(model.bands);
        expect(bandsOf(engine.document.shown, "p", BAND_INFOS, engine.timeline)).toEqual(model.bands);
        expect(paramsOf(engine.document.view)).toEqual(end);
      }),
      { numRuns: 200 },
    );
  });
});
