import { expect, it } from "vitest";

import { Background } from "./background";

it("tells what goes on, how far it is, and stops it", () => {
  const background = new Background(0);
  const stopped: string[] = [];
  const [a, b] = ["Checks", "Tracking"].map((name) => background.begin(name, 0, () => stopped.push(name))) as [ReturnType<Background["begin"]>, ReturnType<Background["begin"]>];
  a.at(3, 12);
  expect(background.state.getState().tasks.map((t) => [t.name, t.done, t.total])).toEqual([["Checks", 3, 12], ["Tracking", 0, 0]]);
  background.state.getState().tasks[1]!.stop();
  expect(stopped).toEqual(["Tracking"]);
  b.end();
  a.end();
  a.at(4, 12); // late: it is over
  expect(background.state.getState().tasks).toEqual([]);
});
