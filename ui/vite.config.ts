import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  build: { outDir: "../web/dist", emptyOutDir: false, chunkSizeWarningLimit: 1200 },
  server: { proxy: { "/api": "http://127.0.0.1:8321" } },
  test: {
    environment: "jsdom",
    setupFiles: ["src/test-setup.ts"],
    pool: "threads",
    maxWorkers: 2,
    testTimeout: 60_000,
  },
});
