/// <reference types="vitest/config" />
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  base: "./", // from where the page says that the service stands
  plugins: [react()],
  build: { outDir: "dist", emptyOutDir: true, chunkSizeWarningLimit: 800 },
  server: {
    proxy: {
      "/api": { target: "http://127.0.0.1:7171", ws: true },
      "/pictures": "http://127.0.0.1:7171",
    },
  },
  test: { environment: "jsdom", testTimeout: 60_000 },
});
