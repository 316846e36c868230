import { useQuery } from "@tanstack/react-query";

import { ask, client } from "../../api/client";
import { useProject } from "../../api/queries";
import type { ParamInfo } from "../../api/types";
import { useView } from "../engine";

/** The shots of the project, but the one on the Bench. */
export function useOtherShots() {
  const view = useView();
  const { data } = useProject(view.project_id);
  return (data?.shots ?? []).filter((s) => s.id !== view.shot.id);
}

type Props = { info: ParamInfo; value: string; onCommit: (id: string, name: string) => void };

function List({ info, value, options, none, gone, onCommit }: Props & { options: { id: string; name: string }[]; none: string; gone: string }) {
  return (
    <label className="flex h-[30px] items-center gap-2" title={info.help}>
      <span className="w-[98px] shrink-0">{info.name}</span>
      <select aria-label={info.name} value={value} onChange={(e) => onCommit(e.currentTarget.value, options.find((o) => o.id === e.currentTarget.value)?.name ?? none)} className="h-[26px] min-w-0 flex-1 border border-strong bg-ground px-1">
        <option value="">{none}</option>
        {options.map((o) => (
          <option key={o.id} value={o.id}>
            {o.name}
          </option>
        ))}
        {value && !options.some((o) => o.id === value) && <option value={value}>{gone}</option>}
      </select>
    </label>
  );
}

/** A shot of the project that a pass lays in. */
export function ShotRow(props: Props) {
  const shots = useOtherShots();
  return (
    <>
      <List {...props} options={shots} none="none yet" gone="no longer in the project" />
      {!props.value && <p className="mb-1 text-[12px] text-quiet">{shots.length ? "Choose a shot; until then the picture stays as it is." : "The project has no other shot: make one in Footage."}</p>}
    </>
  );
}

/** All of the shot that is laid in, or what one of its selections selects. */
export function PartRow({ shot, ...props }: Props & { shot: string }) {
  const { data } = useQuery({
    queryKey: ["laid", shot],
    enabled: !!shot,
    queryFn: () => ask(client.GET("/api/shots/{shot_id}", { params: { path: { shot_id: shot } } })),
  });
  return <List {...props} options={(data?.document.look.selections ?? []).map(({ id, name }) => ({ id, name }))} none="all of it" gone="a selection that is gone" />;
}
