import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    projects: [
      { test: { name: "rules", include: ["tests/**/*.test.ts"], environment: "node" } },
      {
        test: {
          name: "screens",
          include: ["tests/**/*.test.tsx"],
          environment: "jsdom",
          environmentOptions: { jsdom: { url: "http://127.0.0.1/" } },
          setupFiles: ["tests/screen.tsx"],
        },
      },
    ],
  },
});
