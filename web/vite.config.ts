import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { VitePWA } from "vite-plugin-pwa";

export default defineConfig({
  plugins: [
    react(),
    tailwindcss(),
    VitePWA({
      // a class that runs is never reloaded under the instructor's hands: a new version waits until it is asked for
      registerType: "prompt",
      injectRegister: false,
      manifest: {
        name: "Oaken Circuit",
        short_name: "Oaken Circuit",
        start_url: "/",
        display: "standalone",
        background_color: "#fbf7ee",
        theme_color: "#62442b",
        icons: [{ src: "/mark.svg", sizes: "any", type: "image/svg+xml" }],
      },
      workbox: {
        globPatterns: ["**/*.{html,js,css,svg,woff2}"],
        navigateFallback: "/index.html",
        navigateFallbackDenylist: [/^\/api\//, /^\/assets\//],
        dontCacheBustURLsMatching: /^assets\//,
        cleanupOutdatedCaches: true,
        inlineWorkboxRuntime: true,
      },
    }),
  ],
  // one file for the way from the list to the score: it is served from this machine, and its size is measured in the bench
  build: { target: "es2022", sourcemap: false, chunkSizeWarningLimit: 800 },
  server: { host: "127.0.0.1", proxy: { "/api": "http://127.0.0.1:8000" } },
});
