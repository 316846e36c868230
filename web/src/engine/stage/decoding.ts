/** The thread on which pictures are decoded: what `Decoder` asks for is answered under its number, by a picture or by why there is none. */
import { decode } from "./decode";
import type { Answer, Job } from "./decoder";

onmessage = async ({ data: { id, bytes, type } }: MessageEvent<Job>) => {
  try {
    const bitmap = await decode(bytes, type);
    postMessage({ id, bitmap } satisfies Answer, { transfer: [bitmap] });
  } catch (error) {
    postMessage({ id, failure: String(error) } satisfies Answer);
  }
};
