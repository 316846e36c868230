import { afterEach, expect, it, vi } from "vitest";

import { decode, sizeOf } from "./decode";

afterEach(() => vi.unstubAllGlobals());

it("decodes off the page's thread where it can, and gives back what it took for it", async () => {
  const closed: string[] = [];
  class ImageDecoder {
    constructor(readonly what: { data: Uint8Array; type: string }) {}
    decode = () => Promise.resolve({ image: `frame of ${this.what.type}` });
    close = () => closed.push("decoder");
  }
  vi.stubGlobal("window", { ImageDecoder });
  vi.stubGlobal("ImageDecoder", ImageDecoder);
  expect(await decode(new Uint8Array([1]), "image/jpeg")).toBe("frame of image/jpeg");
  expect(closed).toEqual(["decoder"]);
});

it("tells how large what it gives is", () => {
  expect(sizeOf({ width: 4, height: 3 } as ImageBitmap)).toEqual({ width: 4, height: 3 });
  expect(sizeOf({ displayWidth: 8, displayHeight: 6, codedWidth: 16 } as VideoFrame)).toEqual({ width: 8, height: 6 });
});

it("goes by way of a blob where the browser cannot", async () => {
  vi.stubGlobal("window", {});
  vi.stubGlobal("createImageBitmap", (blob: Blob) => Promise.resolve(`bitmap of ${blob.type}, ${blob.size}`));
  expect(await decode(new Uint8Array([1, 2]), "image/png")).toBe("bitmap of image/png, 2");
});
