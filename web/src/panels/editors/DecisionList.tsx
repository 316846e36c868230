import { useRef } from "react";

import { ask, client } from "../../api/client";
import { FileInput } from "../../ui/fileinput";
import { Menu } from "../../ui/menu";
import { ParamRow } from "../ParamRow";
import { Pinned } from "../Pin";
import { download } from "./GradientEditor";
import type { PanelProps } from "./panel";
import { useSay } from "../../ui/notices";

/** The ten numbers of a colour decision list, with files in and out. */
export function DecisionList({ pass, treatment, params, show, set }: PanelProps) {
  const say = useSay();
  const input = useRef<HTMLInputElement>(null);
  const read = async (file: File) => {
    try {
      const found = await ask(client.POST("/api/decision-lists/read", { body: { text: await file.text() } }));
      set(found[0]!.params, `${file.name}: ${found[0]!.id}`);
      if (found.length > 1) say(`${file.name} holds ${found.length} corrections; “${found[0]!.id}”, the first, was taken.`);
    } catch (error) {
      say(error instanceof Error ? error.message : "The decision list was not read.", { bad: true });
    }
  };
  const write = async (kind: "cdl" | "cc" | "ccc") => {
    const response = await fetch("/api/decision-lists/write", { method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify({ params, name: pass.name, kind }) });
    download(await response.text(), `${pass.name}.${kind}`, "application/xml");
  };
  return (
    <div>
      {treatment.params.map((p) => (
        <Pinned key={p.key} target={`passes/${pass.id}/params/${p.key}`} info={p} shown={params[p.key] ?? p.default}>
          <ParamRow info={p} value={params[p.key]} onLive={(v) => show({ [p.key]: v })} onCommit={(v, words) => set({ [p.key]: v }, words)} />
        </Pinned>
      ))}
      <div className="mt-1 flex gap-4 text-[12px] text-quiet">
        <button type="button" className="as-button hover:text-ink" onClick={() => input.current?.click()}>
          Read a .cdl, .cc or .ccc…
        </button>
        <Menu
          trigger={
            <button type="button" className="as-button hover:text-ink">
              Save as ▾
            </button>
          }
          items={(["cdl", "cc", "ccc"] as const).map((kind) => ({ name: `.${kind}`, onSelect: () => void write(kind) }))}
        />
      </div>
      <FileInput ref={input} label="Decision list file" accept=".cdl,.cc,.ccc,.xml" onFile={(found) => void read(found)} />
    </div>
  );
}
