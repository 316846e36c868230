import { useQuery } from "@tanstack/react-query";

import { ask, client } from "../../api/client";
import { useCatalogue } from "../../api/queries";
import type { Footage as Piece, ShotRow } from "../../api/types";
import { useDoing } from "../../panels/doing";
import { Button } from "../../ui/basics";
import { Menu } from "../../ui/menu";
import { putInReel, putLookOn, removeMany } from "./many";
import { Reading } from "./Reading";

/** What can be done with all that is chosen. */
export function Many({ pieces, shots, onNone }: { pieces: Piece[]; shots: ReadonlyMap<string, ShotRow[]>; onNone: () => void }) {
  const doing = useDoing();
  const { data: looks } = useQuery({ queryKey: ["shelf"], queryFn: () => ask(client.GET("/api/shelf")) });
  const { data: catalogue } = useCatalogue();
  const columns = [...(looks ?? []).map((l) => ({ column: `shelf:${l.id}`, name: l.name })), ...(catalogue?.starters ?? []).map((s) => ({ column: `shelf:${s.id}`, name: s.name }))];
  return (
    <div role="group" aria-label="What is chosen" className="flex flex-wrap items-center gap-1.5">
      <span className="text-quiet">{pieces.length} chosen</span>
      <Button onClick={() => void putInReel(pieces, shots, doing)}>Put in the reel</Button>
      <Menu trigger={<Button>Put a look on ▾</Button>} items={columns.map(({ column, name }) => ({ name, onSelect: () => void putLookOn(pieces, shots, column, name, doing) }))} />
      <Reading pieces={pieces} />
      <Button onClick={() => void removeMany(pieces, doing).then((gone) => gone && onNone())}>Remove</Button>
      <Button look="plain" onClick={onNone}>
        Choose none
      </Button>
    </div>
  );
}
