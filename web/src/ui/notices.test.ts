import { expect, it } from "vitest";

import { Notices } from "./notices";

it("keeps two refused edits with the same words apart, and one of what is only said", () => {
  const notices = new Notices();
  const again: number[] = [];
  for (const n of [1, 2]) notices.say("The edit was not stored.", { bad: true, action: { name: "Apply mine again", run: () => void again.push(n) } });
  for (const _ of [1, 2]) notices.say("The server cannot be reached.", { bad: true });
  const { list } = notices.state.getState();
  expect(list.map((n) => n.text)).toEqual(["The edit was not stored.", "The edit was not stored.", "The server cannot be reached."]);
  for (const notice of list) notice.action?.run();
  expect(again).toEqual([1, 2]);
});
