import { expect, it } from "vitest";

import { PAGES, slug, textOf, within } from "./pages";

const sources = import.meta.glob<string>("/src/**/*.tsx", { query: "?raw", import: "default", eager: true });
const named = Object.entries(sources).flatMap(([path, text]) => [...text.matchAll(/<HelpButton of="[^"]*" page="([^"]*)"(?: part="([^"]*)")?/g)].map(([, page, part]) => ({ path, page: page!, part })));

it("has the page and the heading that each panel names", async () => {
  expect(named.length).toBeGreaterThan(14);
  for (const { path, page, part } of named) {
    expect(PAGES, path).toContain(page);
    const headings = [...(await textOf(page)).matchAll(/^#+ (.*)$/gm)].map(([, words]) => slug(words!));
    if (part) expect(headings, `${path} names a heading of ${page}`).toContain(part);
  }
});

it("follows links between pages, and no others", async () => {
  expect(within("treatments.md")).toEqual({ page: "treatments", part: null });
  expect(within("bench.md#where")).toEqual({ page: "bench", part: "where" });
  expect([within("https://example.org/a.md"), within("gone.md")]).toEqual([null, null]);
  await expect(textOf("gone")).rejects.toThrow("There is no page");
  for (const page of PAGES) for (const [, href] of (await textOf(page)).matchAll(/\]\(([^)#]+\.md)[^)]*\)/g)) expect(within(href!), `${page} links to ${href}`).not.toBeNull();
});
