const KEY = "wenditas-theme";
export type Theme = "dim" | "bright";

export const theme = (): Theme => (document.documentElement.dataset.theme === "bright" ? "bright" : "dim");

export function initTheme() {
  document.documentElement.dataset.theme = localStorage.getItem(KEY) === "bright" ? "bright" : "dim";
}

export function setTheme(next: Theme) {
  document.documentElement.dataset.theme = next;
  localStorage.setItem(KEY, next);
  window.dispatchEvent(new Event("resize")); // canvases repaint their surround
}
