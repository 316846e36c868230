import { useQueries } from "@tanstack/react-query";
import { useEffect, useRef } from "react";

import type { ReelLayout } from "../../engine/reel/layout";
import { perFrame, xOf, type Span } from "../../engine/timespan";
import { useSize } from "../../ui/size";
import { useReelLayout, useTrack } from "./context";

const HIGH = 40; // pixels
const PEAKS = 50; // a second, as the server has them

const peaksOf = async (footage: string): Promise<Uint8Array> => {
  const response = await fetch(`/api/footage/${footage}/peaks`);
  if (!response.ok) throw new Error(`The wave was answered with ${response.status}.`); // silence is drawn of silence alone
  return new Uint8Array(await response.arrayBuffer());
};

/** What is heard, as a wave: of the items, and of the reel's own track below. */
export function SoundRow({ span }: { span: Span }) {
  const layout = useReelLayout();
  const track = useTrack();
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width } = useSize(canvas, { width: 800, height: HIGH });
  const seen = layout.items.filter((p) => p.shot?.sound && p.first <= span.to && p.first + p.frames >= span.from);
  const pieces = [...new Set([...seen.map((p) => p.shot!.footage_id), ...(track ? [track.footage] : [])])];
  const waves = useQueries({ queries: pieces.map((id) => ({ queryKey: ["peaks", id], staleTime: Infinity, queryFn: () => peaksOf(id) })) });
  const here = new Map(pieces.map((id, n) => [id, waves[n]?.data ?? null]));
  useEffect(() => {
    const { current } = canvas;
    const context = current?.getContext("2d");
    if (!current || !context) return;
    const density = window.devicePixelRatio;
    current.width = Math.max(1, Math.round(width * density));
    current.height = HIGH * (track ? 2 : 1) * density;
    context.scale(density, density);
    context.fillStyle = getComputedStyle(current).color;
    draw(context, layout, span, here, track);
  });
  const missing = waves.filter((w) => w.isError);
  return (
    <div className="relative mt-1 shrink-0">
      <canvas ref={canvas} role="img" aria-label="Sound" className="block w-full text-quiet" style={{ height: HIGH * (track ? 2 : 1) }} />
      {missing.length > 0 && (
        <button type="button" className="absolute top-1 left-2 bg-raised px-2 underline" onClick={() => missing.forEach((w) => void w.refetch())}>
          The wave of {missing.length === 1 ? "one sound" : `${missing.length} sounds`} could not be read. Try again
        </button>
      )}
    </div>
  );
}

type Track = ReturnType<typeof useTrack>;

function draw(context: CanvasRenderingContext2D, layout: ReelLayout, span: Span, waves: Map<string, Uint8Array | null>, track: Track) {
  const seconds = 1 / layout.rate / perFrame(span); // a pixel takes
  const wave = (peaks: Uint8Array | null, from: number, to: number, zero: number, gain: number, middle: number) => {
    for (let x = Math.max(0, Math.floor(from)); peaks && x < Math.min(to, span.width); x++) {
      const at = ((x - from) * seconds + zero) * PEAKS;
      let peak = 0;
      if (at >= peaks.length) break;
      for (let n = Math.max(0, Math.floor(at)); n <= at + seconds * PEAKS && n < peaks.length; n++) peak = Math.max(peak, peaks[n]!);
      const high = Math.max(0.5, Math.min(1, (peak / 255) * gain) * (HIGH / 2 - 2));
      context.fillRect(x, middle - high, 1, high * 2);
    }
  };
  for (const p of layout.items) {
    if (!p.shot?.sound || p.item.heard === false) continue;
    const left = xOf(span, p.first - 0.5);
    wave(waves.get(p.shot.footage_id) ?? null, left, left + p.frames * perFrame(span), (p.item.first * p.rate[1]) / p.rate[0], 10 ** ((p.item.gain ?? 0) / 20), HIGH / 2);
  }
  if (track) wave(waves.get(track.footage) ?? null, xOf(span, (track.at ?? 0) - 0.5), xOf(span, layout.length - 0.5), 0, 10 ** ((track.gain ?? 0) / 20), HIGH * 1.5);
}
