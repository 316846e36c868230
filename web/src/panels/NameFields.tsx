import { Button } from "../ui/basics";

const FIELDS = ["project", "shot", "look", "size"];

/** Fields that a name of an export can be made of, each put at its end by a click. */
export function NameFields({ pattern, onChange }: { pattern: string; onChange: (pattern: string) => void }) {
  return (
    <p className="flex gap-1.5" aria-label="Fields to put in">
      {FIELDS.map((field) => (
        <Button key={field} look="plain" className="h-[22px]" onClick={() => onChange(`${pattern.trimEnd()} {${field}}`.trim())}>
          {`{${field}}`}
        </Button>
      ))}
    </p>
  );
}
