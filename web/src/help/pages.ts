/** The pages of `docs/`, as they come with the application: read when they are gone to, with their pictures. */
const TEXTS = import.meta.glob<string>("../../../docs/*.md", { query: "?raw", import: "default" });
const PICTURES = import.meta.glob<string>(["../../../docs/screenshots/*.png", "../../../docs/screenshots/looks/*.webp"], { query: "?url", import: "default" });
const DOCS = "../../../docs/";

/** The names of all pages. */
export const PAGES: readonly string[] = Object.keys(TEXTS).map((path) => path.slice(DOCS.length, -3));

/** The text of a page, as Markdown. Rejects where there is none of that name. */
export const textOf = (page: string): Promise<string> => TEXTS[`${DOCS}${page}.md`]?.() ?? Promise.reject(new Error(`There is no page “${page}”.`));

/** Where a picture of a page is; undefined where there is none. */
export const pictureOf = (path: string): Promise<string> | undefined => PICTURES[`${DOCS}${path}`]?.();

/** How a heading is named in an address: its words, with hyphens. */
export const slug = (words: string) => words.toLowerCase().replace(/[^a-z0-9]+/g, "-").replace(/^-+|-+$/g, "");

/** Where a link of a page leads within the help; null where it leads elsewhere. */
export function within(href: string): { page: string; part: string | null } | null {
  const found = /^([a-z-]+)\.md(?:#(.+))?$/.exec(href);
  return found && PAGES.includes(found[1]!) ? { page: found[1]!, part: found[2] ?? null } : null;
}
