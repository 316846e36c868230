/** The live channel of a shot or a reel: one request under way at a time for each kind, the newest waiting one kept, older ones forgotten. */
import type { Command, View } from "../../api/types";
import type { ScopeKind } from "./state";

export type Ask = {
  kind: "look" | "before" | "pixel" | "play" | "ready" | "clear";
  revision?: number;
  commands?: Command[];
  frame?: number;
  width?: number;
  view?: View;
  selection?: string | null;
  upto?: number | null;
  alone?: string | null;
  without?: "spans" | "looks" | null;
  scope?: ScopeKind | null;
  of?: string;
  x?: number;
  y?: number;
  every?: number;
  /** Only whether it is rendered is told; the picture stays where it is. */
  bare?: boolean;
  first?: number;
  last?: number;
};

/** A picture with its scope, or a scope that follows a picture ("scope"). */
export type Picture = { kind: string; id: number; frame: number; view: View; jpeg: Uint8Array<ArrayBuffer>; scope: { kind: ScopeKind; png: Uint8Array<ArrayBuffer> } | null };
type Header = { kind: string; id: number; frame: number; view: View; picture: number; scope: ScopeKind | null };
type Told = { kind: string; id: number; message?: string } & Record<string, unknown>;

type Handlers = {
  picture: (p: Picture) => void;
  pixel: (answer: Told) => void;
  ready: (answer: Told) => void;
  /** kind: of the single request that it was; null for one of the queue. */
  failed: (id: number, kind: string | null, message: string) => void;
  open: () => void;
  /** The server does not want this channel, and says why. */
  refused: (reason: string) => void;
};

const SOON = 500; // ms until the channel is opened again after it broke
const MOST = 15_000; // and at most, where it breaks again and again
const POLICY = 1008; // the close code of a refusal (RFC 6455, 7.4.1)

export class Live {
  private socket: WebSocket | null = null;
  private nextId = 1;
  private flying = new Map<string, number>();
  private waiting = new Map<string, Ask>();
  private closed = false;
  private pause = SOON;
  private timer = 0;

  constructor(
    private path: string,
    private handlers: Handlers,
    private back: () => Promise<void>,
  ) {
    this.open();
  }

  private open() {
    if (this.closed) return;
    const scheme = location.protocol === "https:" ? "wss" : "ws";
    const socket = new WebSocket(`${scheme}://${location.host}${this.path}/live`);
    socket.binaryType = "arraybuffer";
    socket.onopen = () => {
      this.flying.clear();
      this.handlers.open();
    };
    socket.onmessage = (message) => {
      this.pause = SOON;
      this.receive(message.data as ArrayBuffer | string);
    };
    socket.onclose = (event) => {
      this.socket = null;
      if (this.closed) return;
      if (event.code === POLICY) return this.handlers.refused(event.reason || "The server does not show this.");
      this.timer = window.setTimeout(() => void this.back().then(() => this.open()), this.pause);
      this.pause = Math.min(this.pause * 2, MOST);
    };
    this.socket = socket;
  }

  close() {
    this.closed = true;
    window.clearTimeout(this.timer);
    this.socket?.close();
  }

  /** Ask for the newest state of something; a request that is still waiting is replaced. */
  newest(ask: Ask) {
    if (this.flying.has(ask.kind)) this.waiting.set(ask.kind, ask);
    else this.flying.set(ask.kind, this.send(ask));
  }

  /** Add to the queue; answers come in order. Returns the id of the request. */
  send(ask: Ask): number {
    const id = this.nextId++;
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify({ ...ask, id }));
    return id;
  }

  private settle(kind: string) {
    this.flying.delete(kind);
    const next = this.waiting.get(kind);
    this.waiting.delete(kind);
    if (next) this.flying.set(kind, this.send(next));
  }

  private receive(data: ArrayBuffer | string) {
    if (typeof data === "string") {
      const told = JSON.parse(data) as Told;
      const kind = [...this.flying].find(([, id]) => id === told.id)?.[0] ?? null;
      const newer = kind !== null && this.waiting.has(kind);
      if (kind !== null) this.settle(kind);
      if (told.kind === "pixel") this.handlers.pixel(told);
      if (told.kind === "ready") this.handlers.ready(told);
      if (told.kind === "error" && !newer) this.handlers.failed(told.id, kind, told.message ?? "This picture could not be made.");
      return;
    }
    const length = new DataView(data).getUint32(0);
    const header = JSON.parse(new TextDecoder().decode(new Uint8Array(data, 4, length))) as Header;
    const scope = header.scope && { kind: header.scope, png: new Uint8Array(data, 4 + length + header.picture) };
    this.handlers.picture({ ...header, jpeg: new Uint8Array(data, 4 + length, header.picture), scope });
    if (header.kind !== "play" && header.kind !== "scope") this.settle(header.kind);
  }
}
