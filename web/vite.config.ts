import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { chunkSizeWarningLimit: 1200 },
  test: { testTimeout: 30_000 },
  server: { proxy: { "/api": "http://127.0.0.1:8000" } },
});
