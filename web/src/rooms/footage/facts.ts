/** What is known of footage, in words. */
import type { Footage as Piece, ShotRow } from "../../api/types";
import { bytes, duration, rateWords } from "../../ui/words";

const SIGNALS: Record<string, string> = { hlg: "HLG", pq: "PQ", log: "camera log", linear: "linear light" };

/** How the signal is read: what it is tagged as, and what is done about it. */
function readAs(piece: Piece, colour: string): string {
  const signal = SIGNALS[piece.facts.signal ?? "display"];
  const by = { "by itself": signal === "HLG" || signal === "PQ" ? `${signal}, tone-mapped to BT.709` : signal ? `${signal}, as it is: choose how it is read` : colour, "as it is": signal ? `${signal}, as it is` : colour, hlg: "read as HLG, tone-mapped to BT.709", pq: "read as PQ, tone-mapped to BT.709", lut: `through the LUT “${piece.lut_name ?? "that is gone"}”` }[piece.reading.way ?? "by itself"];
  return by;
}

/** The shots made of it, and how often these stand in the reel. */
export function whereUsed(piece: Piece, shots: ShotRow[]): [string, string][] {
  const used = piece.facts.wave && !shots.length ? (piece.in_reel ? "below the reel" : "not yet: choose it in the reel as its sound track") : !shots.length ? "in no shot yet" : `${shots.length === 1 ? "1 shot" : `${shots.length} shots`}${piece.in_reel ? `, in the reel ${piece.in_reel === 1 ? "once" : piece.in_reel === 2 ? "twice" : `${piece.in_reel} times`}` : ""}`;
  return [["Used", used], ...(piece.lies ? ([["Lies in", piece.lies]] as [string, string][]) : [])];
}

export function facts(piece: Piece): [string, string][] {
  const f = piece.facts;
  const size = `${f.width} × ${f.height}${f.rotation ? `, turned ${f.rotation}°` : ""}`;
  const colour = f.matrix === "rgb" ? "RGB" : `${f.matrix.toUpperCase().replace("BT", "BT.")} ${f.full_range ? "full" : "limited"}${f.tagged ? "" : " (assumed)"}`;
  if (f.wave) return [["Sound", f.origin], ["Length", duration(piece.seconds)], ["File", bytes(piece.bytes)]];
  if (f.kind === "still") return [["Picture", size], ["Format", f.origin || `${f.codec.toUpperCase()}, ${f.bits} bit${f.alpha ? ", alpha" : ""}`], ["Colour", readAs(piece, colour)], ["File", bytes(piece.bytes)]];
  return [
    ["Picture", size],
    ["Rate", `${rateWords(f.rate)}${f.variable_rate ? " (from variable)" : ""}`],
    ["Length", `${duration(piece.seconds)}, ${f.length} frames`],
    ["Codec", f.origin || `${f.codec.toUpperCase()}, ${f.bits} bit${f.alpha ? ", alpha" : ""}`],
    ...(f.interlaced ? ([["Fields", f.fields ? `interlaced, made ${f.fields === "one a field" ? "one frame of each field" : "one frame of each frame"}` : "interlaced, as they are"]] as [string, string][]) : []),
    ["Sound", f.sound ?? "none"],
    ["Colour", readAs(piece, colour)],
    ["File", bytes(piece.bytes)],
  ];
}

export type Order = "came in" | "name" | "length" | "size" | "unused first" | "picture" | "rate" | "codec" | "sound" | "used";

/** Footage in an order, or the other way round, of which every word that is looked for is in the name or in what is known of it. */
export function sorted(pieces: Piece[], words: string, order: Order, shots: ReadonlyMap<string, ShotRow[]>, turned = false): Piece[] {
  const sought = words.toLowerCase().split(/\s+/).filter(Boolean);
  const told = (p: Piece) => [p.name, p.lies ?? "", ...facts(p).map(([, v]) => v), ...(shots.get(p.id) ?? []).map((s) => s.name)].join(" ").toLowerCase();
  const found = sought.length ? pieces.filter((p) => ((text) => sought.every((w) => text.includes(w)))(told(p))) : [...pieces];
  const uses = (p: Piece) => (shots.get(p.id)?.length ?? 0) + p.in_reel;
  const perSecond = (p: Piece) => ((n, d) => n! / (d ?? 1))(...(p.facts.rate.split("/").map(Number) as [number, number?]));
  const by: Record<Order, (a: Piece, b: Piece) => number> = {
    "came in": () => 0,
    name: (a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }),
    length: (a, b) => b.seconds - a.seconds,
    size: (a, b) => b.bytes - a.bytes,
    "unused first": (a, b) => uses(a) - uses(b),
    picture: (a, b) => b.facts.width * b.facts.height - a.facts.width * a.facts.height,
    rate: (a, b) => perSecond(b) - perSecond(a),
    codec: (a, b) => (a.facts.origin || a.facts.codec).localeCompare(b.facts.origin || b.facts.codec),
    sound: (a, b) => (a.facts.sound ?? "~").localeCompare(b.facts.sound ?? "~"),
    used: (a, b) => uses(b) - uses(a),
  };
  found.sort(by[order]);
  return turned ? found.reverse() : found;
}
