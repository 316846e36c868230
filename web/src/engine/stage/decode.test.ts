import { afterEach, expect, it, vi } from "vitest";

import { decode } from "./decode";

afterEach(() => vi.unstubAllGlobals());

it("decodes off the page's thread where it can, and gives back what it took for it", async () => {
  const closed: string[] = [];
  class ImageDecoder {
    constructor(readonly what: { data: Uint8Array; type: string }) {}
    decode = () => Promise.resolve({ image: { of: this.what.type, close: () => closed.push("image") } });
    close = () => closed.push("decoder");
  }
  vi.stubGlobal("window", { ImageDecoder });
  vi.stubGlobal("ImageDecoder", ImageDecoder);
  vi.stubGlobal("createImageBitmap", (image: { of: string }) => Promise.resolve(`bitmap of ${image.of}`));
  expect(await decode(new Uint8Array([1]), "image/jpeg")).toBe("bitmap of image/jpeg");
  expect(closed).toEqual(["image", "decoder"]);
});

it("goes by way of a blob where the browser cannot", async () => {
  vi.stubGlobal("window", {});
  vi.stubGlobal("createImageBitmap", (blob: Blob) => Promise.resolve(`bitmap of ${blob.type}, ${blob.size}`));
  expect(await decode(new Uint8Array([1, 2]), "image/png")).toBe("bitmap of image/png, 2");
});
