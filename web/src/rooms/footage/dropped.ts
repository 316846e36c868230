/** What was dropped: files, also of folders, and which of them are numbered pictures that belong together. */

/** Numbered pictures on their way: files to be sent, or in a media folder of the server. */
export type Run = { names: string[]; files: File[]; place?: { place: string; path: string } };

const NUMBER = /^(.*?)(\d+)(\.[A-Za-z]+)$/;
const PICTURES = new Set([".png", ".tif", ".tiff", ".exr", ".dpx"]);
const LEAST = 3;

/** All files of a drop; folders are opened. */
export async function dropped(transfer: DataTransfer): Promise<File[]> {
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry?.() ?? null);
  const flat = [...transfer.files];
  if (!entries.some((e) => e?.isDirectory)) return flat;
  const found: File[] = [];
  for (const entry of entries) if (entry) await walk(entry, found);
  return found;
}

async function walk(entry: FileSystemEntry, found: File[]): Promise<void> {
  if (entry.isFile) {
    found.push(await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject)));
    return;
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (!some.length) return;
    for (const one of some) await walk(one, found);
  }
}

/** Files apart, and runs of pictures whose names differ by a number alone. */
export function runsOf(files: File[]): { apart: File[]; together: Run[] } {
  const groups = new Map<string, { number: number; file: File }[]>();
  const apart: File[] = [];
  for (const file of files) {
    const match = NUMBER.exec(file.name);
    if (match && PICTURES.has(match[3]!.toLowerCase())) {
      const key = `${match[1]}|${match[3]!.toLowerCase()}`;
      groups.set(key, [...(groups.get(key) ?? []), { number: Number(match[2]), file }]);
    } else if (!file.name.startsWith(".")) apart.push(file);
  }
  const together: Run[] = [];
  for (const group of groups.values()) {
    if (group.length < LEAST) apart.push(...group.map((g) => g.file));
    else {
      const run = group.sort((a, b) => a.number - b.number).map((g) => g.file);
      together.push({ names: run.map((f) => f.name), files: run });
    }
  }
  return { apart, together };
}
