import { useQuery } from "@tanstack/react-query";

import { ask, client } from "../../api/client";
import { useCatalogue } from "../../api/queries";
import type { Command, ParamInfo, ReelJoin, Selection } from "../../api/types";
import { join as target } from "../../engine/commands";
import { setJoin } from "../../engine/reel/edits";
import type { Placed } from "../../engine/reel/layout";
import { NumberRow } from "../../ui/number";
import { Button, Heading, Segments } from "../../ui/basics";
import { Choice } from "../../ui/choice";
import { togglePlay } from "../../engine/transport";
import { useReel, useReelLayout } from "./context";
import { named, Row } from "./Row";

const WHOLE = 1000; // the time of a join, as its keyframes count it
/** How a reveal goes: the frames of the join, and when, in percent of it, the hole is open and it begins to take all. */
const GOINGS = [
  { name: "Quick bite", frames: 8, opens: [0, 40], takes: [40, 100] },
  { name: "Slow burn", frames: 36, opens: [0, 60], takes: [30, 100] },
  { name: "Hold the figure", frames: 50, opens: [0, 40], takes: [70, 100] },
];
const share = (name: string, help: string): ParamInfo => ({ key: name, name, help, kind: "number", unit: "%", low: 0, high: 100, step: 1, default: 50, animatable: false }) as unknown as ParamInfo;
const OPENS = share("Hole opens by", "When, in percent of the join, all of the hole is open.");
const TAKES = share("Takes all from", "When, in percent of the join, it begins to take the rest.");

/** How one item becomes the next. */
export function JoinWhat({ join }: { join: ReelJoin }) {
  const reel = useReel();
  const layout = useReelLayout();
  const { data } = useCatalogue();
  const at = layout.items.findIndex((p) => p.item.id === join.after);
  const [from, to] = [layout.items[at], layout.items[at + 1]];
  const fitted = layout.joins.find((j) => j.join.id === join.id);
  const selections = useSelections(from, to);
  if (!from || !to) return null;
  const kind = join.kind ?? "dissolve";
  const reveal = (found: Found) => setJoin(reel, join.after, "reveal", { look: { ...join.look, selections: [found.selection], passes: [], bundles: [], lanes: [] }, selection: found.selection.id, of: found.of } as Partial<ReelJoin>);
  const choose = (next: "cut" | "dissolve" | "reveal") => {
    if (next !== "reveal") return setJoin(reel, join.after, next);
    if (join.selection) return setJoin(reel, join.after, "reveal");
    if (selections[0]) return reveal(selections[0]);
    reel.around.say("A reveal opens where a selection of one of the two shots is: make one on the Bench first.", { bad: true });
  };
  const value = (key: string) => (join as unknown as Record<string, unknown>)[key];
  const words = fitted && [fitted.before + fitted.behind < (join.frames ?? 24) && `shortened to ${fitted.before + fitted.behind} frames: its items are no longer`, fitted.heldOut && `${fitted.heldOut} frames at the end are held: the footage of what goes is over`, fitted.heldIn && `${fitted.heldIn} frames at the beginning are held: the footage of what comes has not begun`].filter(Boolean);
  const play = () => {
    reel.go(Math.max(0, (fitted?.cut ?? 0) - (fitted?.before ?? 0) - 12));
    togglePlay(reel);
  };
  return (
    <>
      <div className="flex items-baseline justify-between pt-2">
        <h2 className="text-[18px] font-bold">Join</h2>
        <span className="text-quiet">chosen</span>
      </div>
      <div className="mt-1 grid grid-cols-2 gap-2">
        <Side placed={from} end="last" />
        <Side placed={to} end="first" />
      </div>
      <Heading>How one becomes the other</Heading>
      <Segments
        boxed
        label="Kind of join"
        value={kind as "cut" | "dissolve" | "reveal"}
        onChange={choose}
        options={[
          { value: "cut", name: "Cut" },
          { value: "dissolve", name: "Dissolve" },
          { value: "reveal", name: "Reveal" },
        ]}
      />
      {words?.map((w) => (
        <p key={String(w)} className="mt-1 text-quiet">
          {w}.
        </p>
      ))}
      <div className="mt-1">
        {named(data?.reel_join, kind === "reveal" ? ["frames", "at"] : ["frames", "at", "linear"]).map((info) => (
          <Row key={info.key} list="joins" ids={[join.id]} info={info} value={value(info.key)} about="Join" />
        ))}
      </div>
      {kind === "reveal" && <Revealing join={join} selections={selections} onSelection={reveal} />}
      <div className="mt-2">
        <Button onClick={play}>Play the join</Button>
      </div>
    </>
  );
}

function Side({ placed, end }: { placed: Placed; end: "first" | "last" }) {
  const { item, shot } = placed;
  return (
    <figure>
      <img src={shot && !shot.gone ? `/api/shots/${item.shot}/pictures/${shot.revision}/${item[end]}.jpg?width=160` : undefined} alt="" className="h-[66px] w-full bg-black object-cover" />
      <figcaption className="truncate text-[12px] text-quiet">{shot?.name ?? "gone"}</figcaption>
    </figure>
  );
}

type Found = { selection: Selection; of: "outgoing" | "incoming"; shot: string };

/** The selections of the two shots: what a reveal may open. */
function useSelections(from: Placed | undefined, to: Placed | undefined): Found[] {
  const read = (p: Placed | undefined) => ({
    queryKey: ["shot-selections", p?.item.shot, p?.shot?.revision],
    enabled: !!p?.shot && !p.shot.gone,
    queryFn: () => ask(client.GET("/api/shots/{shot_id}", { params: { path: { shot_id: p!.item.shot } } })),
  });
  const { data: out } = useQuery(read(from));
  const { data: coming } = useQuery(read(to));
  const found = (view: typeof out, of: Found["of"]) => (view?.document.look.selections ?? []).map((selection) => ({ selection: { ...(selection as unknown as Selection), reads: null }, of, shot: view!.shot.name }) as Found);
  return [...found(out, "outgoing"), ...found(coming, "incoming")];
}

function Revealing({ join, selections, onSelection }: { join: ReelJoin; selections: Found[]; onSelection: (found: Found) => void }) {
  const reel = useReel();
  const { data } = useCatalogue();
  const opens = join.opens ?? [];
  const takes = join.takes ?? [];
  const set = (key: "opens" | "takes", value: unknown): Command => ({ do: "set", target: target("joins", join.id, key), value });
  const how = (opens[0]?.how ?? "smooth") === "linear" ? "linear" : "smooth";
  const keys = (from: number, to: number, goes: "linear" | "smooth" = how) => [
    { frame: Math.round((from / 100) * WHOLE), value: 0, how: goes },
    { frame: Math.max(Math.round((to / 100) * WHOLE), Math.round((from / 100) * WHOLE) + 1), value: 100, how: goes },
  ];
  const eased = (goes: "linear" | "smooth") =>
    void reel.edit([opens, takes].map((pins, n) => set(n ? "takes" : "opens", pins.map((k) => ({ ...k, how: goes })))), goes === "smooth" ? "Reveal eased" : "Reveal even");
  const half = () => void reel.edit([{ do: "set", target: target("joins", join.id, "frames"), value: Math.max(1, Math.round((join.frames ?? 24) / 2)) }], "Reveal in half the time");
  const [openAt, takeAt] = [(opens.at(-1)?.frame ?? 450) / 10, (takes[0]?.frame ?? 700) / 10];
  const openTo = (v: number) => [set("opens", keys(Math.min((opens[0]?.frame ?? 0) / 10, v - 0.1), Math.max(v, 0.1)))];
  const takeFrom = (v: number) => [set("takes", keys(Math.min(v, 99.9), Math.max((takes.at(-1)?.frame ?? WHOLE) / 10, v)))];
  const here = selections.find((s) => s.selection.id === join.selection);
  return (
    <>
      <Heading>The hole</Heading>
      <label className="flex h-[30px] items-center justify-between gap-2">
        <span className="w-[98px] shrink-0">Opens where</span>
        <Choice aria-label="Opens where" value={here ? join.selection! : ""} className="flex-1" onChange={(e) => onSelection(selections.find((s) => s.selection.id === e.currentTarget.value)!)}>
          {!here && <option value="">{(join.look as { selections?: Selection[] } | undefined)?.selections?.[0]?.name ?? "a selection"} (of this join alone)</option>}
          {selections.map((s) => (
            <option key={s.selection.id} value={s.selection.id}>
              {s.selection.name}, {s.of === "outgoing" ? "what goes" : "what comes"}
            </option>
          ))}
        </Choice>
      </label>
      {named(data?.reel_join, ["grows", "edge"]).map((info) => (
        <Row key={info.key} list="joins" ids={[join.id]} info={info} value={(join as unknown as Record<string, unknown>)[info.key]} about="Reveal" />
      ))}
      <NumberRow info={OPENS} value={openAt} onLive={(v) => reel.document.show(openTo(Number(v)))} onCommit={(v) => void reel.edit(openTo(Number(v)), `Reveal: open by ${v} %`)} />
      <NumberRow info={TAKES} value={takeAt} onLive={(v) => reel.document.show(takeFrom(Number(v)))} onCommit={(v) => void reel.edit(takeFrom(Number(v)), `Reveal: takes all from ${v} %`)} />
      <Heading>How it goes</Heading>
      <div className="mb-1.5 flex flex-wrap gap-1.5">
        <Segments
          boxed
          label="How it goes on"
          value={how}
          onChange={eased}
          options={[
            { value: "linear", name: "Even", tip: "At the same pace all the way" },
            { value: "smooth", name: "Eased", tip: "Slower where it begins and ends" },
          ]}
        />
        <Button title="The same, in half as many frames" onClick={half}>
          Half the time
        </Button>
      </div>
      <div className="flex flex-wrap gap-1.5">
        {GOINGS.map((g) => (
          <Button key={g.name} title={`${g.frames} frames`} onClick={() => void reel.edit([set("opens", keys(g.opens[0]!, g.opens[1]!)), set("takes", keys(g.takes[0]!, g.takes[1]!)), { do: "set", target: target("joins", join.id, "frames"), value: g.frames }], `Reveal: ${g.name.toLowerCase()}`)}>
            {g.name}
          </Button>
        ))}
      </div>
    </>
  );
}
