import type { Ref } from "react";

/** A hidden file field: a button elsewhere opens it through `ref`. Choosing the same file twice counts twice. */
export function FileInput({ ref, label, accept, onFile }: { ref: Ref<HTMLInputElement>; label: string; accept: string; onFile: (file: File) => void }) {
  return (
    <input
      ref={ref}
      type="file"
      accept={accept}
      aria-label={label}
      className="hidden"
      onChange={(e) => {
        const file = e.currentTarget.files?.[0];
        e.currentTarget.value = "";
        if (file) onFile(file);
      }}
    />
  );
}
