import { HelpButton } from "../../panels/HelpButton";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";

import { ask, client } from "../../api/client";
import { useCatalogue, useProject } from "../../api/queries";
import type { Look, Pass, ReelSpan } from "../../api/types";
import { join as target } from "../../engine/commands";
import { flash } from "../../engine/reel/edits";
import { benchOf } from "./context";
import { OnBench } from "./OnBench";
import type { PercentPin } from "../../engine/percents";
import { useTime } from "../../panels/engine";
import { ParamRow } from "../../panels/ParamRow";
import { PercentLane } from "../../panels/PercentLane";
import { Button, Heading } from "../../ui/basics";
import { Choice } from "../../ui/choice";
import { Menu } from "../../ui/menu";
import { useAskName } from "../../ui/prompt";
import { useReel, useReelLayout } from "./context";
import { named, Row } from "./Row";

/** A look over a stretch: what it is made of, and how much of it there is. */
export function SpanWhat({ span }: { span: ReelSpan }) {
  const reel = useReel();
  const layout = useReelLayout();
  const askName = useAskName();
  const { data } = useCatalogue();
  const laid = layout.spans.find((s) => s.span.id === span.id);
  const at = (...words: string[]) => target("spans", span.id, ...words);
  const order = (reel.shown.spans ?? []).map((s) => s.id);
  const place = order.indexOf(span.id);
  const lift = (by: 1 | -1) => void reel.edit([{ do: "move", target: at(), before: order[by > 0 ? place + 2 : place - 1] ?? null }], `${span.name} laid ${by > 0 ? "over" : "under"} the next`);
  const set = (words: string, key: string, value: unknown) => void reel.edit([{ do: "set", target: at(key), value }], `${span.name}: ${words}`);
  return (
    <>
      <div className="flex items-baseline justify-between pt-2">
        <h2 className="min-w-0 truncate text-[18px] font-bold">
          <button type="button" title="Rename" className="underline decoration-strong decoration-1 underline-offset-4 hover:decoration-ink" onClick={() => askName("Rename the span", span.name, (name) => set(`now ${name}`, "name", name))}>
            {span.name}
          </button>
        </h2>
        <span className="flex items-baseline gap-0.5 text-quiet">
          span <HelpButton of="Span" page="reel" part="spans" />
        </span>
      </div>
      {laid ? (
        <p className="text-quiet">
          Frames {laid.first} to {laid.last} of the reel
        </p>
      ) : (
        <p className="mt-1 border border-strong px-2 py-1">The items that this span lay over are gone from the reel: it shows nothing until it is laid over others, or they are brought back.</p>
      )}
      <div className="mt-2 flex flex-wrap gap-1.5">
        <Button on={span.on === false} onClick={() => set(span.on === false ? "on" : "off", "on", span.on === false)}>
          {span.on === false ? "Switch on" : "Switch off"}
        </Button>
        {laid && (
          <OnBench hint="Selections, passes and lanes, over the reel below it" to={benchOf(reel, "spans", span.id)} />
        )}
        {laid && (
          <Button title="0 → 100 → 0 % over 12 frames, at the playhead" onClick={() => flash(reel, laid)}>
            Flash here
          </Button>
        )}
        {(span.amounts?.length ?? 0) > 0 && <Button onClick={() => set("even again", "amounts", [])}>Even again</Button>}
        {order.length > 1 && (
          <>
            <Button disabled={place === order.length - 1} title="Over the next span: what it does comes later" onClick={() => lift(1)}>
              Higher
            </Button>
            <Button disabled={place === 0} title="Under the next span: what it does comes first" onClick={() => lift(-1)}>
              Lower
            </Button>
          </>
        )}
        <Button title="Delete" onClick={() => void reel.edit([{ do: "remove", target: at() }], `Span ${span.name} removed`)}>
          Remove
        </Button>
      </div>
      <Heading>How much</Heading>
      {named(data?.reel_span, ["amount", "fade_in", "fade_out"]).map((info) => (
        <Row key={info.key} list="spans" ids={[span.id]} info={info} value={(span as unknown as Record<string, unknown>)[info.key]} about={span.name} />
      ))}
      {laid && <Amounts span={span} first={laid.first} last={laid.last} />}
      <label className="flex h-[30px] items-center justify-between gap-2">
        <span className="w-[98px] shrink-0">Blend</span>
        <Choice aria-label="Blend" value={span.blend ?? "normal"} className="flex-1" onChange={(e) => set(`blend ${e.currentTarget.value}`, "blend", e.currentTarget.value)}>
          {data?.blends.map((b) => (
            <option key={b}>{b}</option>
          ))}
        </Choice>
      </label>
      <Passes span={span} onLook={(look, words) => set(words, "look", look)} />
    </>
  );
}

/** How the amount goes over the span: pins in place of the even amount. */
function Amounts({ span, first, last }: { span: ReelSpan; first: number; last: number }) {
  const reel = useReel();
  const frame = useTime((s) => s.frame);
  const pins = (span.amounts ?? []) as PercentPin[];
  const set = (value: PercentPin[]) => [{ do: "set" as const, target: target("spans", span.id, "amounts"), value }];
  const end = last - first;
  if (!pins.length) {
    const even = { value: span.amount ?? 100, how: "smooth" as const };
    return (
      <Button title="Pins over the span, in place of the even amount" disabled={end < 1} onClick={() => void reel.edit(set([{ frame: 0, ...even }, { frame: end, ...even }]), `${span.name}: amount animated`)}>
        Animate the amount
      </Button>
    );
  }
  return (
    <PercentLane
      name="Amount"
      pins={pins}
      end={end}
      step={1}
      first={first}
      rate={reel.layout.rate}
      at={frame >= first && frame <= last ? frame - first : null}
      onLive={(to) => (to ? reel.document.show(set(to)) : reel.document.drop())}
      onCommit={(to, words) => void reel.edit(set(to), `${span.name}: ${words}`)}
    />
  );
}

/** The passes of a span, each with what is declared of it; and looks to put in their place. */
function Passes({ span, onLook }: { span: ReelSpan; onLook: (look: Look, words: string) => void }) {
  const reel = useReel();
  const { data } = useCatalogue();
  const passes = (span.look?.passes ?? []) as Pass[];
  const [open, setOpen] = useState<string | null>(passes[0]?.id ?? null);
  const looks = useLooks();
  const at = (...words: string[]) => target("spans", span.id, "look", "passes", ...words);
  const add = (id: string, name: string) => {
    const made = reel.around.newId();
    setOpen(made);
    void reel.edit([{ do: "add", target: at(), value: { id: made, name, treatment: id } }], `${span.name}: ${name} added`);
  };
  const groups = data?.groups ?? [];
  return (
    <>
      <Heading
        aside={
          <Menu
            trigger={<Button look="plain">Look of… ▾</Button>}
            items={looks.length ? looks.map((l) => ({ name: l.name, onSelect: () => void l.read().then((look) => onLook(look, `the look of ${l.name}`), (error: Error) => reel.around.say(error.message, { bad: true })) })) : [{ name: "No look is saved yet", disabled: true, onSelect: () => undefined }]}
          />
        }
      >
        Passes
      </Heading>
      {!passes.length && <p className="text-quiet">None yet: add one, or put a look here.</p>}
      {passes.map((pass) => {
        const treatment = data?.treatments.find((t) => t.id === pass.treatment);
        const plain = treatment?.params.filter((p) => ["number", "switch", "choice", "colour", "colours"].includes(p.kind)) ?? [];
        return (
          <section key={pass.id} className="border-b border-line py-1">
            <div className="flex items-center gap-2">
              <input type="checkbox" aria-label={`${pass.name} on`} checked={pass.on !== false} className="accent-[var(--inverse)]" onChange={(e) => void reel.edit([{ do: "set", target: at(pass.id, "on"), value: e.currentTarget.checked }], `${pass.name} ${e.currentTarget.checked ? "on" : "off"}`)} />
              <button type="button" aria-expanded={open === pass.id} className="min-w-0 flex-1 truncate text-left font-semibold" onClick={() => setOpen(open === pass.id ? null : pass.id)}>
                {pass.name} {open === pass.id ? "▴" : "▾"}
              </button>
              <Button look="plain" aria-label={`Remove ${pass.name}`} onClick={() => void reel.edit([{ do: "remove", target: at(pass.id) }], `${span.name}: ${pass.name} removed`)}>
                ✕
              </Button>
            </div>
            {open === pass.id && (
              <>
                {plain.map((info) => {
                  const command = (v: unknown) => [{ do: "set" as const, target: at(pass.id, "params", info.key), value: v }];
                  return <ParamRow key={info.key} info={info} value={pass.params?.[info.key]} onLive={(v) => reel.document.show(command(v))} onCommit={(v, words) => void reel.edit(command(v), `${pass.name}: ${words}`)} />;
                })}
                {treatment && plain.length < treatment.params.length && <p className="text-[12px] text-quiet">Its gradients, curves and files are those of the look that it came with.</p>}
              </>
            )}
          </section>
        );
      })}
      <div className="mt-1.5 flex flex-wrap gap-1.5">
        {groups.map((group) => (
          <Menu
            key={group}
            align="start"
            trigger={<Button look="plain">+ {group} ▾</Button>}
            items={(data?.treatments ?? []).filter((t) => t.group === group).map((t) => ({ name: t.name, onSelect: () => add(t.id, t.name) }))}
          />
        ))}
      </div>
    </>
  );
}

/** The looks that a span may take over: of the project's shots, and of the shelf. */
function useLooks(): { name: string; read: () => Promise<Look> }[] {
  const { projectId } = useParams();
  const { data: project } = useProject(projectId);
  const { data: shelf } = useQuery({ queryKey: ["shelf"], queryFn: () => ask(client.GET("/api/shelf")) });
  return [
    ...(shelf ?? []).map((item) => ({ name: item.name, read: () => Promise.resolve((item as unknown as { look: Look }).look) })),
    ...(project?.shots ?? []).map((shot) => ({ name: shot.name, read: () => ask(client.GET("/api/shots/{shot_id}", { params: { path: { shot_id: shot.id } } })).then((view) => view.document.look as Look) })),
  ];
}
