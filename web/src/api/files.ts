/** Files that passes use: LUTs and pictures. */

export type Brought = { digest: string; name: string; kind: "lut" | "picture" };

/** Take a file into the data folder. Throws with what is wrong with it. */
export async function bringFile(file: File): Promise<Brought> {
  const response = await fetch(`/api/files?name=${encodeURIComponent(file.name)}`, { method: "POST", body: file });
  const answer = (await response.json()) as Brought & { message?: string };
  if (!response.ok) throw new Error(answer.message ?? "The file was not taken.");
  return answer;
}

/** Take a still of the Footage room as a picture that passes can use. Throws with why that cannot be. */
export async function bringStill(footage: string): Promise<Brought> {
  const response = await fetch(`/api/files/of/${footage}`, { method: "POST" });
  const answer = (await response.json()) as Brought & { message?: string };
  if (!response.ok) throw new Error(answer.message ?? "The still was not taken.");
  return answer;
}
