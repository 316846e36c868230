import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

// Tests that put another module in a module's place are kept apart; all others share theirs, in a third of the time.
const APART = ["src/engine/pocket.test.ts", "src/engine/stage/painter.test.ts", "src/engine/stage/player.test.ts"];

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { outDir: "../wenditas/api/site", emptyOutDir: true, assetsInlineLimit: 0, chunkSizeWarningLimit: 1000 },
  test: {
    projects: [
      { extends: true, test: { name: "together", include: ["src/**/*.test.ts"], exclude: APART, isolate: false, testTimeout: 30_000 } },
      { extends: true, test: { name: "apart", include: APART, testTimeout: 30_000 } },
    ],
  },
  server: { proxy: { "/api": { target: "http://127.0.0.1:8610", ws: true } } },
});
