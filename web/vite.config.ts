import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { brotliCompressSync, constants, gzipSync } from "node:zlib";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";
import { apiPage } from "./plugins/apiPage.ts";
import { manual } from "./plugins/manual.ts";

/** Writes each script, style and drawing compressed beside it: the server sends what a browser takes, and compresses nothing. */
const compressed: Plugin = {
  name: "compressed",
  apply: "build",
  closeBundle() {
    const folder = join(import.meta.dirname, "dist", "assets");
    for (const name of readdirSync(folder).filter((one) => /\.(js|css|svg)$/.test(one))) {
      const data = readFileSync(join(folder, name));
      const hint = { [constants.BROTLI_PARAM_SIZE_HINT]: data.length };
      writeFileSync(join(folder, `${name}.br`), brotliCompressSync(data, { params: hint }));
      writeFileSync(join(folder, `${name}.gz`), gzipSync(data, { level: 9 }));
    }
  },
};

export default defineConfig({
  plugins: [react(), manual, apiPage, compressed],
  build: { chunkSizeWarningLimit: 900 },
  server: { fs: { allow: [".."] }, proxy: { "/api": "http://127.0.0.1:8765" } },
});
