import type { Footage } from "../api/types";

const value = (still: Footage) => `still ${still.id}`;

/** The still that an option of these stands for. */
export const stillOf = (stills: readonly Footage[], chosen: string) => stills.find((still) => value(still) === chosen);

/** The stills of a project, among the options of a choice. */
export function StillOptions({ stills }: { stills: readonly Footage[] }) {
  if (!stills.length) return null;
  return (
    <optgroup label="Stills of this project">
      {stills.map((still) => (
        <option key={still.id} value={value(still)}>
          {still.name}
        </option>
      ))}
    </optgroup>
  );
}
