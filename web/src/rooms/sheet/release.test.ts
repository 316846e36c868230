import { afterEach, describe, expect, it, vi } from "vitest";

import { keep, release } from "./release";

/** An image as the page has it, loading a picture. */
class Image extends EventTarget {
  complete = false;
  constructor(readonly src: string) {
    super();
  }
}

describe("a picture that is let go of", () => {
  const revoke = vi.spyOn(URL, "revokeObjectURL").mockImplementation(() => undefined);
  afterEach(() => revoke.mockClear());

  it.each(["load", "error"])("while it is being loaded goes once that has ended: %s", (end) => {
    const image = new Image("blob:a");
    release("blob:a", image as unknown as HTMLImageElement);
    expect(revoke).not.toHaveBeenCalled();
    image.dispatchEvent(new Event(end));
    expect(revoke.mock.calls).toEqual([["blob:a"]]);
  });
  it("goes at once where it is loaded, never came on screen, or another is shown by now", () => {
    release("blob:a", Object.assign(new Image("blob:a"), { complete: true }) as unknown as HTMLImageElement);
    release("blob:b", null);
    release("blob:c", new Image("blob:d") as unknown as HTMLImageElement);
    expect(revoke.mock.calls.flat()).toEqual(["blob:a", "blob:b", "blob:c"]);
  });
  it("is known by its element when that has left the page", () => {
    const ref = { current: null as Image | null };
    const image = new Image("blob:a");
    keep(ref)(image);
    keep(ref)(null);
    expect(ref.current).toBe(image);
  });
});
