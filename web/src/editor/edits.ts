/** Edits: one at a time, in order, each against the newest revision; none is lost to a lost connection or a reload. */
import { ask, client, Refusal, Unreachable } from "../api/client";
import { markOffline, whenOnline } from "../api/events";
import type { Operation, ShotView } from "../api/types";
import { say } from "../ui/notices";
import { acceptView, bench, setBench } from "./store";

type Edit = { shot: string; patch: Operation[]; words: string };

let queue: Promise<void> = Promise.resolve();
let waiting: Edit[] = [];

const storageKey = (shot: string) => `wenditas-unsent-${shot}`;

function remember() {
  const shot = bench().view?.shot.id;
  if (!shot) return;
  const mine = waiting.filter((e) => e.shot === shot);
  if (mine.length) localStorage.setItem(storageKey(shot), JSON.stringify(mine));
  else localStorage.removeItem(storageKey(shot));
}

/** Show a change without storing it. */
export function live(patch: Operation[]) {
  setBench({ draft: patch });
}

/** Store a change: one step of history. It is shown at once. */
export function edit(patch: Operation[], words: string): Promise<void> {
  const shot = bench().view?.shot.id;
  if (!shot) return Promise.resolve();
  const item = { shot, patch, words };
  waiting.push(item);
  remember();
  setBench({ draft: patch, saving: true });
  return enqueue(() => send(item));
}

/** Edits that a reload or a crash of the page left unsent. */
export function resume(shot: string) {
  const text = localStorage.getItem(storageKey(shot));
  if (!text) return;
  const items = JSON.parse(text) as Edit[];
  waiting.push(...items);
  for (const item of items) void enqueue(() => send(item));
  say(items.length === 1 ? "An edit that had not reached the server was sent again." : `${items.length} edits that had not reached the server were sent again.`);
}

export function enqueue(work: () => Promise<void>): Promise<void> {
  setBench({ underWay: bench().underWay + 1 });
  const over = () => setBench({ underWay: bench().underWay - 1 });
  queue = queue.then(work, work).finally(over);
  return queue;
}

async function send(item: Edit) {
  try {
    const view = await againstNewest((base) =>
      client.POST("/api/shots/{shot_id}/edits", { params: { path: { shot_id: item.shot } }, body: { base, patch: item.patch, words: item.words } }),
    );
    if (view) acceptView(view);
  } catch (error) {
    await refused(error, item);
  } finally {
    waiting = waiting.filter((e) => e !== item);
    remember();
    if (!waiting.length) setBench({ draft: [], saving: false });
  }
}

/** Send with the newest revision as base; wait out a lost connection. */
export async function againstNewest<T>(call: (base: number) => Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T | null> {
  for (;;) {
    const base = bench().view?.revision;
    if (base === undefined) return null;
    try {
      return await ask(call(base));
    } catch (error) {
      if (!(error instanceof Unreachable)) throw error;
      markOffline();
      await whenOnline();
    }
  }
}

async function refused(error: unknown, item: Edit) {
  if (error instanceof Refusal && error.kind === "StaleRevision") {
    await refetch(item.shot);
    say("This shot was changed in another window. Its newest state is shown; your last edit is not in it.", {
      bad: true,
      action: { name: "Apply mine again", run: () => void edit(item.patch, item.words) },
    });
  } else {
    await refetch(item.shot);
    say(error instanceof Error ? error.message : "The edit was not stored.", { bad: true });
  }
}

export async function refetch(shot: string) {
  try {
    const view = await ask(client.GET("/api/shots/{shot_id}", { params: { path: { shot_id: shot } } }));
    if (bench().view?.shot.id === shot) acceptView(view);
  } catch {
    // Offline: the next event brings the newest state.
  }
}

type Step = "undo" | "redo";

export function step(which: Step): Promise<void> {
  return enqueue(async () => {
    const view = bench().view;
    if (!view || view[which] === null) return;
    const words = view[which];
    try {
      const path = which === "undo" ? "/api/shots/{shot_id}/undo" : "/api/shots/{shot_id}/redo";
      const next = await againstNewest((base) => client.POST(path, { params: { path: { shot_id: view.shot.id } }, body: { base } }));
      if (next) acceptView(next);
      say(`${which === "undo" ? "Undone" : "Done again"}: ${words}`);
    } catch (error) {
      await refetch(view.shot.id);
      say(error instanceof Error ? error.message : "That did not work.", { bad: true });
    }
  });
}

/** A click in the picture (or a dragged box) with one of the pick tools. */
export function pick(x: number, y: number, refuse: boolean, selection: string | null, box = { width: 0, height: 0 }): Promise<void> {
  return enqueue(async () => {
    const { view, frame } = bench();
    if (!view) return;
    try {
      const answer = await againstNewest((base) =>
        client.POST("/api/shots/{shot_id}/picks", { params: { path: { shot_id: view.shot.id } }, body: { base, frame, x, y, patch: bench().patch, ...box, selection, refuse, key: bench().keyNumber } }),
      );
      if (!answer) return;
      acceptView(answer.view);
      const fresh = selection === null ? { keyNumber: 0, shapeId: null } : {};
      setBench({ selectionId: answer.selection, tool: refuse ? "refuse" : "add", asks: null, ...fresh });
    } catch (error) {
      await refetch(view.shot.id);
      say(error instanceof Error ? error.message : "The pick was not stored.", { bad: true });
    }
  });
}

/** A new selection from a place of the picture. */
export const pickAt = (x: number, y: number) => pick(x, y, false, null);

export function loadLook(text: string): Promise<void> {
  return enqueue(async () => {
    const view: ShotView | null = bench().view;
    if (!view) return;
    try {
      const next = await againstNewest((base) => client.PUT("/api/shots/{shot_id}/look", { params: { path: { shot_id: view.shot.id } }, body: { base, text } }));
      if (next) acceptView(next);
      say("Look loaded.", { action: { name: "Undo", run: () => void step("undo") } });
    } catch (error) {
      say(error instanceof Error ? error.message : "The look was not loaded.", { bad: true });
    }
  });
}
