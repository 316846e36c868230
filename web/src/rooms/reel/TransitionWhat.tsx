import { HelpButton } from "../../panels/HelpButton";
import { useQuery } from "@tanstack/react-query";


import { ask, client } from "../../api/client";
import { useCatalogue } from "../../api/queries";
import type { Command, ReelTransition, Selection } from "../../api/types";
import { join as target } from "../../engine/commands";
import { GAP } from "../../engine/reel/layout";
import { setTransition } from "../../engine/reel/edits";
import type { Placed } from "../../engine/reel/layout";
import { Button, Heading, Segments } from "../../ui/basics";
import { Choice } from "../../ui/choice";
import { togglePlay } from "../../engine/transport";
import type { PercentPin } from "../../engine/percents";
import { useTime } from "../../panels/engine";
import { PercentLane } from "../../panels/PercentLane";
import { benchOf, useReel, useReelLayout } from "./context";
import { OnBench } from "./OnBench";
import { named, Row } from "./Row";

const WHOLE = 1000; // the time of a transition, as its keyframes count it
/** How a reveal goes: the frames of the transition, and when, in percent of it, the hole is open and it begins to take all. */
const GOINGS = [
  { name: "Quick bite", frames: 8, opens: [0, 40], takes: [40, 100] },
  { name: "Slow burn", frames: 36, opens: [0, 60], takes: [30, 100] },
  { name: "Hold the figure", frames: 50, opens: [0, 40], takes: [70, 100] },
];

/** How one item becomes the next. */
export function TransitionWhat({ transition }: { transition: ReelTransition }) {
  const reel = useReel();
  const layout = useReelLayout();
  const { data } = useCatalogue();
  const at = layout.items.findIndex((p) => p.item.id === transition.after);
  const [from, to] = [layout.items[at], layout.items[at + 1]];
  const fitted = layout.transitions.find((j) => j.transition.id === transition.id);
  const selections = useSelections(from, to);
  if (!from || !to) return null;
  const kind = transition.kind ?? "dissolve";
  const reveal = (found: Found) => setTransition(reel, transition.after, "reveal", { look: { ...transition.look, selections: [found.selection], passes: [], bundles: [], lanes: [] }, selection: found.selection.id, of: found.of } as Partial<ReelTransition>);
  const choose = (next: "cut" | "dissolve" | "reveal") => {
    if (next !== "reveal") return setTransition(reel, transition.after, next);
    if (transition.selection) return setTransition(reel, transition.after, "reveal");
    if (selections[0]) return reveal(selections[0]);
    return reveal(newHole(reel.around.newId()));
  };
  const value = (key: string) => (transition as unknown as Record<string, unknown>)[key];
  const words = fitted && [fitted.before + fitted.behind < (transition.frames ?? 24) && `shortened to ${fitted.before + fitted.behind} frames: its items are no longer`, fitted.heldOut && `${fitted.heldOut} frames at the end are held: the footage of what goes is over`, fitted.heldIn && `${fitted.heldIn} frames at the beginning are held: the footage of what comes has not begun`].filter(Boolean);
  const play = () => {
    reel.go(Math.max(0, (fitted?.cut ?? 0) - (fitted?.before ?? 0) - 12));
    togglePlay(reel);
  };
  return (
    <>
      <div className="flex items-baseline justify-between pt-2">
        <span className="flex items-baseline gap-0.5">
          <h2 className="text-[18px] font-bold">Transition</h2>
          <HelpButton of="Transition" page="reel" part="transitions" />
        </span>
        <span className="text-quiet">chosen</span>
      </div>
      <div className="mt-1 grid grid-cols-2 gap-2">
        <Side placed={from} end="last" />
        <Side placed={to} end="first" />
      </div>
      <Heading>How one becomes the other</Heading>
      <Segments
        boxed
        label="Kind of transition"
        value={kind as "cut" | "dissolve" | "reveal"}
        onChange={choose}
        options={[
          { value: "cut", name: "Cut" },
          { value: "dissolve", name: "Dissolve" },
          { value: "reveal", name: "Reveal" },
        ]}
      />
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        {kind === "reveal" && (
          <OnBench hint="Its selection, on the frames of the shot" to={benchOf(reel, "transitions", transition.id)} />
        )}
        <Button onClick={play}>Play the transition</Button>
      </div>
      {words?.map((w) => (
        <p key={String(w)} className="mt-1 text-quiet">
          {w}.
        </p>
      ))}
      <div className="mt-1">
        {named(data?.reel_transition, kind === "reveal" ? ["frames", "at"] : ["frames", "at", "linear"]).map((info) => (
          <Row key={info.key} list="transitions" ids={[transition.id]} info={info} value={value(info.key)} about="Transition" />
        ))}
      </div>
      {kind === "reveal" && <Revealing transition={transition} selections={selections} onSelection={reveal} />}
    </>
  );
}

function Side({ placed, end }: { placed: Placed; end: "first" | "last" }) {
  const { item, shot } = placed;
  return (
    <figure>
      <img src={shot && !shot.gone ? `/api/shots/${item.shot}/pictures/${shot.revision}/${item[end]}.jpg?width=160` : undefined} alt="" className="h-[66px] w-full bg-black object-cover" />
      <figcaption className="truncate text-[12px] text-quiet">{shot?.name ?? (item.shot === GAP ? "Gap" : "gone")}</figcaption>
    </figure>
  );
}

const NEW = "new";

/** A selection of the transition alone: with no key it is nothing yet, which is what the Bench is for. */
const newHole = (id: string): Found => ({ selection: { id, name: "Hole" } as Selection, of: "outgoing", shot: "" });

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

function Revealing({ transition, selections, onSelection }: { transition: ReelTransition; selections: Found[]; onSelection: (found: Found) => void }) {
  const reel = useReel();
  const { data } = useCatalogue();
  const opens = transition.opens ?? [];
  const takes = transition.takes ?? [];
  const set = (key: "opens" | "takes", value: unknown): Command => ({ do: "set", target: target("transitions", transition.id, key), value });
  const how = (opens[0]?.how ?? "smooth") === "linear" ? "linear" : "smooth";
  const keys = (from: number, to: number, goes: "linear" | "smooth" = how) => [
    { frame: Math.round((from / 100) * WHOLE), value: 0, how: goes },
    { frame: Math.max(Math.round((to / 100) * WHOLE), Math.round((from / 100) * WHOLE) + 1), value: 100, how: goes },
  ];
  const eased = (goes: "linear" | "smooth") =>
    void reel.edit([opens, takes].map((pins, n) => set(n ? "takes" : "opens", pins.map((k) => ({ ...k, how: goes })))), goes === "smooth" ? "Reveal eased" : "Reveal even");
  const half = () => void reel.edit([{ do: "set", target: target("transitions", transition.id, "frames"), value: Math.max(1, Math.round((transition.frames ?? 24) / 2)) }], "Reveal in half the time");
  const frame = useTime((s) => s.frame);
  const fitted = useReelLayout().transitions.find((j) => j.transition.id === transition.id);
  const begin = fitted ? fitted.cut - fitted.before : 0;
  const count = fitted ? fitted.before + fitted.behind : 0;
  const at = fitted && frame >= begin && frame < begin + count ? ((frame - begin) / Math.max(count - 1, 1)) * WHOLE : null;
  const here = selections.find((s) => s.selection.id === transition.selection);
  return (
    <>
      <Heading>The hole</Heading>
      <label className="flex h-[30px] items-center justify-between gap-2">
        <span className="w-[98px] shrink-0">Opens where</span>
        <Choice aria-label="Opens where" value={here ? transition.selection! : ""} className="flex-1" onChange={(e) => onSelection(selections.find((s) => s.selection.id === e.currentTarget.value) ?? newHole(reel.around.newId()))}>
          {!here && <option value="">{(transition.look as { selections?: Selection[] } | undefined)?.selections?.[0]?.name ?? "a selection"} (of this transition alone)</option>}
          <option value={NEW}>a new selection, of what goes</option>
          {selections.map((s) => (
            <option key={s.selection.id} value={s.selection.id}>
              {s.selection.name}, {s.of === "outgoing" ? "what goes" : "what comes"}
            </option>
          ))}
        </Choice>
      </label>
      {named(data?.reel_transition, ["grows", "edge"]).map((info) => (
        <Row key={info.key} list="transitions" ids={[transition.id]} info={info} value={(transition as unknown as Record<string, unknown>)[info.key]} about="Reveal" />
      ))}
      <Heading>How it goes</Heading>
      {(["opens", "takes"] as const).map((key) => (
        <PercentLane
          key={key}
          name={key === "opens" ? "The hole opens" : "It takes all"}
          pins={(key === "opens" ? opens : takes) as PercentPin[]}
          end={WHOLE}
          step={WHOLE / Math.max(count - 1, 1)}
          first={begin}
          rate={reel.layout.rate}
          at={at}
          onLive={(to) => (to ? reel.document.show([set(key, to)]) : reel.document.drop())}
          onCommit={(to, words) => void reel.edit([set(key, to)], `Reveal: ${words}`)}
        />
      ))}
      <div className="h-1.5" />
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
          <Button key={g.name} title={`${g.frames} frames`} onClick={() => void reel.edit([set("opens", keys(g.opens[0]!, g.opens[1]!)), set("takes", keys(g.takes[0]!, g.takes[1]!)), { do: "set", target: target("transitions", transition.id, "frames"), value: g.frames }], `Reveal: ${g.name.toLowerCase()}`)}>
            {g.name}
          </Button>
        ))}
      </div>
    </>
  );
}
