/// <reference types="node" />
import { mkdirSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { brotliCompressSync, gzipSync } from "node:zlib";
import react from "@vitejs/plugin-react";
import type { Plugin } from "vite";
import { VitePWA } from "vite-plugin-pwa";
import { defineConfig } from "vitest/config";

/** Puts a compressed copy beside each text that the build makes, so that nobody compresses it while a page waits. */
function compressedBeside(): Plugin {
  return {
    name: "compressed-beside",
    apply: "build",
    writeBundle({ dir = "" }, bundle) {
      for (const [name, one] of Object.entries(bundle)) {
        const text = Buffer.from(one.type === "chunk" ? one.code : one.source);
        if (!/\.(js|css|svg)$/.test(name) || text.length < 1024) continue;
        mkdirSync(dirname(join(dir, name)), { recursive: true });
        writeFileSync(join(dir, `${name}.br`), brotliCompressSync(text));
        writeFileSync(join(dir, `${name}.gz`), gzipSync(text, { level: 9 }));
      }
    },
  };
}

export default defineConfig({
  plugins: [
    react(),
    compressedBeside(),
    // Keeps the pages of the roll call and of a trip, and nothing else, for when the line is down; they register it.
    VitePWA({
      filename: "offline-worker.js",
      injectRegister: null,
      manifest: false,
      registerType: "autoUpdate",
      workbox: {
        globPatterns: ["index.html", "mark.svg", "assets/*.{js,css,woff2}"],
        globIgnores: ["**/{School,Today,Desk,Absence,Concerns,Papers,Registers}-*"],
        maximumFileSizeToCacheInBytes: 4_000_000,
        navigateFallback: "/index.html",
        navigateFallbackAllowlist: [/^\/roll-call$/, /^\/trips\/\d+$/],
        cleanupOutdatedCaches: true,
      },
    }),
  ],
  build: { outDir: "../web/dist", emptyOutDir: false, chunkSizeWarningLimit: 1200 },
  server: { proxy: { "/api": "http://127.0.0.1:8321" } },
  test: {
    environment: "jsdom",
    setupFiles: ["src/test-setup.ts"],
    pool: "threads",
    maxWorkers: 2,
    isolate: false, // building a page for each file takes three times as long; src/test-setup.ts clears what is left
    testTimeout: 60_000,
  },
});
