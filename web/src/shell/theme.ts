type Kept = Pick<Storage, "getItem" | "setItem">;

const KEY = "wenditas-theme";
export type Theme = "dim" | "bright";

export const theme = (): Theme => (document.documentElement.dataset.theme === "bright" ? "bright" : "dim");

export function initTheme(kept: Kept) {
  document.documentElement.dataset.theme = kept.getItem(KEY) === "bright" ? "bright" : "dim";
}

export function setTheme(next: Theme, kept: Kept) {
  document.documentElement.dataset.theme = next;
  kept.setItem(KEY, next);
  window.dispatchEvent(new Event("resize")); // canvases repaint their surround
}
