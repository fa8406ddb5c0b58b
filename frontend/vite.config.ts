import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  test: { include: ["src/**/*.test.{ts,tsx}"] },
  build: {
    // Fonts inlined as data: would need a wider content security policy.
    assetsInlineLimit: 0,
    target: "es2023",
    chunkSizeWarningLimit: 900,
  },
});
