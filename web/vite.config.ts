import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  // one file for the way from the list to the score: it is served from this machine, and its size is measured in the bench
  build: { target: "es2022", sourcemap: false, chunkSizeWarningLimit: 800 },
  server: { host: "127.0.0.1", proxy: { "/api": "http://127.0.0.1:8000" } },
});
