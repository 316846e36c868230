/** The sheet as one picture with names, for a client. */
const CELL = 320;
const NAMES = 200;
const GAP = 12;
const HEAD = 48;
const BELOW = 44;
const TALLEST = 32_000; // pixels that a canvas may be high

export type Printed = { title: string; heads: string[]; rows: { name: string; aside: string; cells: { url: string; words: string }[] }[] };

/** Draw all cells, with names; `progress` is told how many are there. */
export async function sheetPicture({ title, heads, rows }: Printed, progress: (done: number, of: number) => void): Promise<Blob> {
  const across = Math.max(1, ...rows.map((r) => r.cells.length));
  const high = Math.round((CELL * 9) / 16);
  const canvas = document.createElement("canvas");
  canvas.width = NAMES + across * (CELL + GAP) + GAP;
  canvas.height = 2 * HEAD + rows.length * (high + BELOW) + GAP;
  if (canvas.height > TALLEST) throw new Error(`A picture of ${rows.length} rows would be too tall: choose fewer shots.`);
  const context = canvas.getContext("2d")!;
  const face = getComputedStyle(document.body).fontFamily;
  const write = (words: string, x: number, y: number, weight: number, size: number, colour: string, most: number) => {
    context.font = `${weight} ${size}px ${face}`;
    context.fillStyle = colour;
    let text = words;
    while (text && context.measureText(text).width > most) text = `${text.slice(0, -2).trimEnd()}…`;
    context.fillText(text, x, y);
  };
  context.fillStyle = "#ffffff";
  context.fillRect(0, 0, canvas.width, canvas.height);
  write(title, GAP, 32, 700, 22, "#111111", canvas.width - 2 * GAP);
  heads.forEach((head, n) => write(head, NAMES + n * (CELL + GAP), HEAD + 26, 600, 16, "#111111", CELL));
  const total = rows.reduce((n, r) => n + r.cells.length, 0);
  let done = 0;
  for (const [n, row] of rows.entries()) {
    const top = 2 * HEAD + n * (high + BELOW);
    write(row.name, GAP, top + 24, 600, 16, "#111111", NAMES - 2 * GAP);
    write(row.aside, GAP, top + 44, 400, 13, "#555555", NAMES - 2 * GAP);
    for (const [k, cell] of row.cells.entries()) {
      const left = NAMES + k * (CELL + GAP);
      const response = await fetch(cell.url);
      if (!response.ok) throw new Error("One of the pictures could not be rendered.");
      const image = await createImageBitmap(await response.blob());
      const scale = Math.min(CELL / image.width, high / image.height);
      context.fillStyle = "#000000";
      context.fillRect(left, top, CELL, high);
      context.drawImage(image, left + (CELL - image.width * scale) / 2, top + (high - image.height * scale) / 2, image.width * scale, image.height * scale);
      image.close();
      write(cell.words, left, top + high + 18, 400, 13, "#555555", CELL);
      progress(++done, total);
    }
  }
  return new Promise((resolve, reject) => canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error("The picture could not be made."))), "image/png"));
}
