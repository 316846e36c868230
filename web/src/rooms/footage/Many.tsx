import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate, useParams } from "react-router";

import { ask, client } from "../../api/client";
import { useCatalogue } from "../../api/queries";
import type { Footage as Piece, ShotRow } from "../../api/types";
import { Button } from "../../ui/basics";
import { Menu } from "../../ui/menu";
import { useSay } from "../../ui/notices";
import { putInReel, putLookOn, removeMany, type Around } from "./many";
import { Reading } from "./Reading";

/** Whatever is done with footage: where, and how it is said. */
export function useAround(): Around {
  const { projectId } = useParams();
  const navigate = useNavigate();
  return { project: projectId!, queries: useQueryClient(), say: useSay(), go: (to) => void navigate(to) };
}

/** What can be done with all that is chosen. */
export function Many({ pieces, shots, onNone }: { pieces: Piece[]; shots: ReadonlyMap<string, ShotRow[]>; onNone: () => void }) {
  const around = useAround();
  const { data: looks } = useQuery({ queryKey: ["shelf"], queryFn: () => ask(client.GET("/api/shelf")) });
  const { data: catalogue } = useCatalogue();
  const fail = (error: Error) => around.say(error.message, { bad: true });
  const columns = [...(looks ?? []).map((l) => ({ column: `shelf:${l.id}`, name: l.name })), ...(catalogue?.starters ?? []).map((s) => ({ column: `shelf:${s.id}`, name: s.name }))];
  return (
    <div role="group" aria-label="What is chosen" className="flex flex-wrap items-center gap-1.5">
      <span className="text-quiet">{pieces.length} chosen</span>
      <Button onClick={() => void putInReel(pieces, shots, around).catch(fail)}>Put in the reel</Button>
      <Menu trigger={<Button>Put a look on ▾</Button>} items={columns.map(({ column, name }) => ({ name, onSelect: () => void putLookOn(pieces, shots, column, name, around).catch(fail) }))} />
      <Reading pieces={pieces} />
      <Button onClick={() => void removeMany(pieces, around).then(onNone, fail)}>Remove</Button>
      <Button look="plain" onClick={onNone}>
        Choose none
      </Button>
    </div>
  );
}
