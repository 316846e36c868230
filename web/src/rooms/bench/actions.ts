/** What keys and buttons of the Bench do, apart from edits of the look. */
import type { Painter } from "../../editor/painter";
import { edit } from "../../editor/edits";
import { bench, documentOf, setBench } from "../../editor/store";
import { settleAll } from "../../ui/settle";

let painter: Painter | null = null;

export function setPainter(next: Painter | null) {
  painter = next;
}

export const probe = (x: number, y: number, before: boolean) => painter?.probe(x, y, before);

export function go(frame: number) {
  settleAll(); // a value that was stepped here belongs to this frame
  const { view, playing } = bench();
  if (!view) return;
  if (playing) painter?.player.pause();
  setBench({ frame: Math.min(Math.max(Math.round(frame), 0), view.footage.facts.length - 1) });
}

export function togglePlay() {
  settleAll();
  if (bench().playing) painter?.player.pause();
  else painter?.player.play(1);
}

const FASTEST = 4;

/** J and L: play backwards or forwards; again doubles the speed. */
export function shuttle(direction: 1 | -1) {
  settleAll();
  const { playing, speed } = bench();
  const same = playing && Math.sign(speed) === direction;
  painter?.player.play(same ? Math.min(Math.abs(speed) * 2, FASTEST) * direction : direction);
}

export function stopPlaying() {
  if (bench().playing) painter?.player.pause();
}

/** Set the in or out of the shot. The other end moves along where it would be passed. */
export function setEnd(which: "first" | "last", frame: number) {
  const document = documentOf(bench());
  if (!document) return;
  const other = which === "first" ? "last" : "first";
  const passed = which === "first" ? frame > document.last : frame < document.first;
  const patch = [{ op: "replace" as const, path: `/${which}`, value: frame }, ...(passed ? [{ op: "replace" as const, path: `/${other}`, value: frame }] : [])];
  if (document[which] !== frame) void edit(patch, `${which === "first" ? "In" : "Out"} at frame ${frame}`);
}

export function fullScreen() {
  const element = document.getElementById("picture");
  if (document.fullscreenElement) void document.exitFullscreen();
  else void element?.requestFullscreen();
}
