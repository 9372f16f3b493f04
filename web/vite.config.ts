import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react()],
  build: { chunkSizeWarningLimit: 900 },
  server: { fs: { allow: [".."] }, proxy: { "/api": "http://127.0.0.1:8765" } },
});
