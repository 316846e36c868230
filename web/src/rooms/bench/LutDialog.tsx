import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState } from "react";

import { ask, client } from "../../api/client";
import { useEngine, useSettledFrame, useView } from "../../panels/engine";
import { Button, Segments } from "../../ui/basics";

const SIZES = ["17", "33", "65"] as const;

/** What of the look is the same everywhere, as a .cube file: what is left out, and how much is lost by that. */
export function LutDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog.Root open={open} onOpenChange={onClose}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content aria-describedby={undefined} className="fixed top-[14%] left-1/2 z-50 w-[520px] -translate-x-1/2 border border-strong bg-panel p-5">
          <Dialog.Title className="text-[18px] font-bold">Save as a LUT</Dialog.Title>
          <Content onClose={onClose} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Content({ onClose }: { onClose: () => void }) {
  const engine = useEngine();
  const view = useView();
  const frame = useSettledFrame();
  const [size, setSize] = useState<(typeof SIZES)[number]>("33");
  const path = { shot_id: view.shot.id, revision: view.revision, frame };
  const { data, error } = useQuery({
    queryKey: ["lut", path, size],
    queryFn: ({ signal }) => ask(client.GET("/api/shots/{shot_id}/lut/{revision}/{frame}", { params: { path, query: { size: Number(size) } }, signal })),
  });
  const passes = engine.passes.length;
  return (
    <>
      <p className="mt-1 text-quiet">A LUT does the same to a colour wherever it stands. What of this look does, is in it.</p>
      <p className="mt-3 flex items-center gap-3">
        <span className="text-quiet">Samples along an edge</span>
        <Segments boxed label="Samples along an edge" value={size} onChange={setSize} options={SIZES.map((value) => ({ value, name: value }))} />
      </p>
      {error && <p className="mt-3">{error.message}</p>}
      {!data && !error && <p className="mt-3 text-quiet">Measuring what is lost…</p>}
      {data && (
        <>
          <h3 className="mt-3 font-semibold">{data.left_out.length ? "Left out" : passes ? "All of it is in the LUT." : "This look has no passes: the LUT changes nothing."}</h3>
          <ul aria-label="Left out" className="max-h-[200px] overflow-auto">
            {data.left_out.map((item, n) => (
              <li key={n}>
                <b>{item.name}</b>: {item.why}
              </li>
            ))}
          </ul>
          <p className="mt-2">
            On frame {frame} the LUT differs from the look by <b>{data.mean.toFixed(2)}</b> in the mean, <b>{data.largest.toFixed(1)}</b> at most <span className="text-quiet">(CIEDE2000: 1 is just seen side by side)</span>.
          </p>
        </>
      )}
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        {data?.cdl && (
          <a className="inline-flex h-[26px] items-center border border-strong px-2.5 font-medium hover:border-ink" title="Slope, offset, power and saturation hold all of this look" href={`/api/shots/${view.shot.id}/lut/${view.revision}/${frame}.cdl`} download onClick={onClose}>
            Save .cdl
          </a>
        )}
        <a className="inline-flex h-[26px] items-center bg-inverse px-2.5 font-medium text-inverse-ink" href={`/api/shots/${view.shot.id}/lut/${view.revision}/${frame}.cube?size=${size}`} download onClick={onClose}>
          Save .cube
        </a>
      </div>
    </>
  );
}
