/** From bytes that arrive over the live channel to something that can be drawn. */

/** A picture that can be drawn, and is given back once it is not needed any more. */
export type Drawable = ImageBitmap | VideoFrame;

/** Its size in pixels. */
export const sizeOf = (drawn: Drawable) => ("displayWidth" in drawn ? { width: drawn.displayWidth, height: drawn.displayHeight } : drawn);

/** Decodes off the page's thread where the browser can take bytes as they are, and gives its frame: to make a bitmap of it first would copy it once more. */
export async function decode(bytes: Uint8Array<ArrayBuffer>, type: "image/jpeg" | "image/png"): Promise<Drawable> {
  if (!("ImageDecoder" in window)) return createImageBitmap(new Blob([bytes], { type }));
  const decoder = new ImageDecoder({ data: bytes, type });
  const { image } = await decoder.decode();
  decoder.close();
  return image;
}
