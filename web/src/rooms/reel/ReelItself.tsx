import { HelpButton } from "../../panels/HelpButton";
import { useParams } from "react-router";

import { useCatalogue, useProject } from "../../api/queries";
import type { Command } from "../../api/types";
import { Heading } from "../../ui/basics";
import { Choice } from "../../ui/choice";
import { useReel, useReelLayout, useTrack } from "./context";
import { named, Row } from "./Row";

const SIZES = ["1280 × 720", "1920 × 1080", "1080 × 1920", "1440 × 1080", "2048 × 858", "3840 × 2160"];
const RATES: [string, string][] = [["24000/1001", "23.976"], ["24", "24"], ["25", "25"], ["30000/1001", "29.97"], ["30", "30"], ["48", "48"], ["50", "50"], ["60000/1001", "59.94"], ["60", "60"]];
const AUTO = "as the first item";

/** The reel: its frame, its rate, the sound beside its items. */
export function ReelItself() {
  const reel = useReel();
  const { projectId } = useParams();
  const { data: project } = useProject(projectId);
  const { data } = useCatalogue();
  const layout = useReelLayout();
  const track = useTrack();
  const { shown } = reel;
  const size = shown.width && shown.height ? `${shown.width} × ${shown.height}` : AUTO;
  const sounding = project?.footage.filter((f) => f.facts.sound) ?? [];
  const set = (target: string, value: unknown): Command => ({ do: "set", target, value });
  const setSize = (told: string) => {
    const [width, height] = told === AUTO ? [null, null] : told.split(" × ").map(Number);
    void reel.edit([set("width", width), set("height", height)], `Reel: frame ${told}`);
  };
  return (
    <>
      <div className="flex items-baseline justify-between pt-2">
        <span className="flex items-baseline gap-0.5">
          <h2 className="text-[18px] font-bold">Reel</h2>
          <HelpButton of="Reel" page="reel" />
        </span>
        <span className="text-quiet">{layout.items.length === 1 ? "1 item" : `${layout.items.length} items`}</span>
      </div>
      <p className="text-quiet">Choose an item, a transition or a span below to change it.</p>
      <Heading>Frame and rate</Heading>
      <label className="flex h-[30px] items-center justify-between gap-2">
        <span className="w-[98px] shrink-0">Size</span>
        <Choice aria-label="Size" value={size} className="flex-1" onChange={(e) => setSize(e.currentTarget.value)}>
          {[AUTO, ...SIZES, ...(size === AUTO || SIZES.includes(size) ? [] : [size])].map((told) => (
            <option key={told}>{told}</option>
          ))}
        </Choice>
      </label>
      <label className="flex h-[30px] items-center justify-between gap-2">
        <span className="w-[98px] shrink-0">Rate</span>
        <Choice aria-label="Rate of the reel" value={shown.fps ?? ""} className="flex-1" onChange={(e) => void reel.edit([set("fps", e.currentTarget.value || null)], `Reel: ${e.currentTarget.selectedOptions[0]!.text} frames a second`)}>
          <option value="">{AUTO}</option>
          {[...RATES, ...(shown.fps && !RATES.some(([r]) => r === shown.fps) ? [[shown.fps, shown.fps] as [string, string]] : [])].map(([rate, name]) => (
            <option key={rate} value={rate}>
              {name}
            </option>
          ))}
        </Choice>
      </label>
      <p className="text-[12px] text-quiet">
        Now {layout.width} × {layout.height} at {Math.round(layout.rate * 1000) / 1000}.
      </p>
      <Heading>Sound track</Heading>
      <label className="flex h-[30px] items-center justify-between gap-2">
        <span className="w-[98px] shrink-0">Sound of</span>
        <Choice aria-label="Sound track" value={track?.footage ?? ""} className="flex-1" onChange={(e) => void reel.edit([set("track", e.currentTarget.value ? { ...track, footage: e.currentTarget.value } : null)], e.currentTarget.value ? "A sound track" : "No sound track")}>
          <option value="">none</option>
          {sounding.map((f) => (
            <option key={f.id} value={f.id}>
              {f.name}
            </option>
          ))}
        </Choice>
      </label>
      {track && named(data?.reel_track, ["at", "gain", "fade_in", "fade_out"]).map((info) => <Row key={info.key} list="track" ids={[]} info={info} value={(track as unknown as Record<string, unknown>)[info.key]} about="Sound track" />)}
    </>
  );
}
