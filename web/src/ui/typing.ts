/** Where keys go: to what has the focus, or to the room. */

const NOT_TYPED = new Set(["checkbox", "radio", "button", "submit", "range", "color", "file"]);

/** Whether keys go to what has the focus: text, or a list that is open to the keyboard. */
export function typing(target: EventTarget | null): boolean {
  if (target instanceof HTMLInputElement) return !NOT_TYPED.has(target.type);
  return target instanceof HTMLElement && (target.isContentEditable || target.tagName === "TEXTAREA" || target.tagName === "SELECT");
}

/** Whether something lies over the room that keys belong to. */
export const busy = () => document.querySelector("[role=dialog],[role=menu],[role=listbox]") !== null;

/** Whether a key is another's: what has the focus took it, is typed into, or lies over the room. */
export const elsewhere = (e: KeyboardEvent) => e.defaultPrevented || e.isComposing || typing(e.target) || busy();

/** To the next area of a room, or the one before: its first control takes the focus. */
export function nextArea(direction: 1 | -1) {
  const found = [...document.querySelectorAll<HTMLElement>("header, main [aria-label=Stages], main [data-area], main > section, main > aside, main > [role=region], main > div")].filter(first);
  const areas = found.filter((a) => !found.some((b) => a !== b && a.contains(b))); // what holds an area is none: the focus would never leave it
  const at = areas.findIndex((a) => a.contains(document.activeElement));
  const next = areas[(at + direction + areas.length) % areas.length];
  if (next) first(next)?.focus();
}

const first = (area: HTMLElement) => area.querySelector<HTMLElement>("button:not(:disabled), a[href], input:not([type=file]):not(:disabled), select:not(:disabled), [tabindex='0']");
