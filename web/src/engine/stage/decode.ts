/** From bytes that arrive over the live channel to something that can be drawn. */

/** Decodes off the page's thread where the browser can take bytes as they are, which is twice as fast as by way of a blob. */
export async function decode(bytes: Uint8Array<ArrayBuffer>, type: "image/jpeg" | "image/png"): Promise<ImageBitmap> {
  if (!("ImageDecoder" in window)) return createImageBitmap(new Blob([bytes], { type }));
  const decoder = new ImageDecoder({ data: bytes, type });
  const { image } = await decoder.decode();
  const bitmap = await createImageBitmap(image);
  image.close();
  decoder.close();
  return bitmap;
}
