import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { outDir: "../wenditas/api/site", emptyOutDir: true, assetsInlineLimit: 0, chunkSizeWarningLimit: 1000 },
  server: { proxy: { "/api": { target: "http://127.0.0.1:8610", ws: true } } },
});
