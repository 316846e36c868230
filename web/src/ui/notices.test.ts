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

const texts = (notices: Notices) => notices.state.getState().list.map((n) => n.text);

it("takes what was said of a picture away with it, and keeps what was refused", () => {
  const notices = new Notices();
  const say = notices.of("shot", () => "“Fence”", () => true);
  say("The edit was not stored.", { bad: true });
  say("Fence was lost at frame 37.", { bad: true, seen: true, action: { name: "Go there", run: () => undefined } });
  notices.say("The reel was not read.", { bad: true, seen: true, about: "reel" });
  say("Fence tracked.");
  notices.leave("shot");
  expect(texts(notices)).toEqual(["The edit was not stored.", "The reel was not read."]);
});

it("says of a shot that was left which it is, without a step that only leads somewhere there", () => {
  const notices = new Notices();
  let here = true;
  const say = notices.of("shot", () => "“Night tram”", () => here);
  here = false;
  say("Fence was lost at frame 37.", { bad: true, seen: true, action: { name: "Go there", run: () => undefined } });
  expect(notices.state.getState().list).toMatchObject([{ text: "“Night tram”: Fence was lost at frame 37.", action: undefined, about: undefined }]);
});
