import { useQuery } from "@tanstack/react-query";

import { ask, client } from "../api/client";
import { useCatalogue, useProject } from "../api/queries";
import type { ParamInfo, Pass } from "../api/types";
import { useBundle, useEngine, useParamValues, usePass, useView } from "./engine";
import { type Change, PlaceHandles } from "./PlaceHandles";
import type { Mapping } from "./mapping";

const KEYS = ["centre_x", "centre_y", "size", "turn"] as const;
type Values = Record<(typeof KEYS)[number], number>;

/** Handles of what the chosen pass puts somewhere: a still, another shot, the picture itself. */
export function PlacesOverlay({ mapping }: { mapping: Mapping }) {
  const pass = usePass();
  const bundle = useBundle();
  const { data } = useCatalogue();
  const params = data?.treatments.find((t) => t.id === pass?.treatment)?.params ?? [];
  const infos = KEYS.map((key) => params.find((p) => p.key === key));
  if (!pass || bundle || !pass.on || infos.some((i) => !i)) return null;
  return <Handles key={pass.id} pass={pass} infos={infos as ParamInfo[]} mapping={mapping} />;
}

/** Width over height of what a pass puts somewhere; null where nothing is chosen yet. */
function useAspect(pass: Pass): number | null {
  const view = useView();
  const { picture, shot } = pass.params as { picture?: string; shot?: string };
  const files = useQuery({ queryKey: ["files"], enabled: picture !== undefined, queryFn: () => ask(client.GET("/api/files")) });
  const project = useProject(shot === undefined ? undefined : view.project_id);
  const of = (facts: { width: number; height: number } | undefined) => (facts ? facts.width / facts.height : null);
  if (picture !== undefined) return of(files.data?.find((f) => f.digest === picture)?.facts as { width: number; height: number } | undefined);
  if (shot === undefined) return of(view.footage.facts);
  const footage = project.data?.shots.find((s) => s.id === shot)?.footage_id;
  return of(project.data?.footage.find((f) => f.id === footage)?.facts);
}

function Handles({ pass, infos, mapping }: { pass: Pass; infos: ParamInfo[]; mapping: Mapping }) {
  const engine = useEngine();
  const { facts } = useView().footage;
  const aspect = useAspect(pass);
  const now = useParamValues(pass.id, infos, pass.params as Record<string, unknown>);
  const value = Object.fromEntries(infos.map((i) => [i.key, Number(now[i.key] ?? i.default)])) as Values;
  if (aspect === null) return null;
  const width = (1080 * facts.width) / facts.height;
  const written = (change: Change) => {
    const params: Partial<Values> = {
      ...(change.middle && { centre_x: (change.middle.x / width) * 100, centre_y: (change.middle.y / 1080) * 100 }),
      ...(change.scale !== undefined && { size: value.size * change.scale }),
      ...(change.turn !== undefined && { turn: change.turn }),
    };
    return infos.filter((i) => i.key in params).map((info) => {
      const v = params[info.key as keyof Values]!;
      const round = info.period ? ((((v + 180) % 360) + 360) % 360) - 180 : v;
      return { target: `passes/${pass.id}/params/${info.key}`, info, value: Number(Math.min(Math.max(round, info.low), info.high).toFixed(2)) };
    });
  };
  return (
    <PlaceHandles
      name={pass.name ?? "it"}
      middle={{ x: (value.centre_x / 100) * width, y: (value.centre_y / 100) * 1080 }}
      half={{ x: (value.size / 200) * 1080 * aspect, y: (value.size / 200) * 1080 }}
      turn={value.turn}
      mapping={mapping}
      onLive={(change) => (change ? engine.target.show(written(change)) : engine.document.drop())}
      onCommit={(change, words) => void engine.target.write(written(change), `${pass.name} ${words}`)}
    />
  );
}
