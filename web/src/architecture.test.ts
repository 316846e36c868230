/** Imports point one way, and nothing but the application itself holds state. */
import { describe, expect, it } from "vitest";

const files = import.meta.glob<string>("/src/**/*.{ts,tsx}", { query: "?raw", import: "default", eager: true });
const sources = Object.entries(files).filter(([path]) => !/\.test\.tsx?$|schema\.d\.ts$/.test(path));

/** What each part may import, besides itself. */
const MAY: Record<string, string[]> = {
  api: [],
  colour: [],
  engine: ["api", "colour"],
  ui: ["colour"],
  app: ["api", "engine", "ui"],
  panels: ["api", "colour", "engine", "ui", "app"],
  rooms: ["api", "colour", "engine", "ui", "app", "panels"],
  help: ["panels", "ui", "app"],
  shell: ["api", "colour", "engine", "ui", "app", "panels", "help"],
  main: ["app", "help", "panels", "rooms", "shell", "ui"],
};

const partOf = (path: string) => path.replace(/^\/src\//, "").split("/")[0]!.replace(/\.\w+$/, "");

const resolved = (from: string, to: string) => new URL(to, `file://${from}`).pathname;

describe("imports", () => {
  it.each(Object.keys(MAY))("of %s point one way", (part) => {
    const mine = sources.filter(([path]) => partOf(path) === part);
    expect(mine.length).toBeGreaterThan(0);
    for (const [path, text] of mine)
      for (const [, to] of text.matchAll(/from "(\.[^"]+)"/g)) {
        const other = partOf(resolved(path, to!));
        expect(other === part || MAY[part]!.includes(other), `${path} imports ${to}`).toBe(true);
      }
  });
  it("make no circle in the engine", () => {
    const mine = new Map(sources.filter(([path]) => partOf(path) === "engine" && !path.endsWith("testing.ts")));
    const imports = (path: string) => [...mine.get(path)!.matchAll(/from "(\.[^"]+)"/g)].map(([, to]) => `${resolved(path, to!)}.ts`).filter((to) => mine.has(to));
    const done = new Set<string>();
    const follow = (path: string, way: string[]) => {
      expect(way, `${path} imports itself by way of others`).not.toContain(path);
      if (done.has(path)) return;
      for (const to of imports(path)) follow(to, [...way, path]);
      done.add(path);
    };
    for (const path of mine.keys()) follow(path, []);
  });
  it("are those of parts that are known", () => {
    for (const [path] of sources) expect(Object.keys(MAY), path).toContain(partOf(path));
  });
  it("leave the engine free of React", () => {
    for (const [path, text] of sources.filter(([p]) => partOf(p) === "engine"))
      expect(text, path).not.toMatch(/from "(react|react-dom|@tanstack\/react-query|zustand)"/);
  });
  it("leave the engine free of HTTP", () => {
    for (const [path, text] of sources.filter(([p]) => partOf(p) === "engine" && !p.endsWith("testing.ts"))) expect(text, path).not.toMatch(/from "[^"]*api\/(?!types")|\bfetch\(/);
  });
});

describe("modules", () => {
  const STATE = /^(?:export )?(?:let|var) |^(?:export )?const \w+(?:: [^=]+)? = (?:create(?:Store)?[<(]|new (?!Set\(\[|Map\(\[)[A-Z]\w*)/gm;
  it("hold no state", () => {
    for (const [path, text] of sources) if (path !== "/src/main.tsx") expect(text.match(STATE) ?? [], path).toEqual([]);
  });
});
