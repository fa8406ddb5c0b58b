import react from "@vitejs/plugin-react";
import { VitePWA } from "vite-plugin-pwa";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [
    react(),
    VitePWA({
      registerType: "autoUpdate",
      injectRegister: null,
      manifest: {
        name: "Uvren",
        short_name: "Uvren",
        description: "How much room does each person have today?",
        start_url: "/",
        display: "standalone",
        background_color: "#F7F5EF",
        theme_color: "#F7F5EF",
        icons: [
          { src: "/icon.svg", sizes: "any", type: "image/svg+xml", purpose: "any" },
          { src: "/icon-192.png", sizes: "192x192", type: "image/png" },
          { src: "/icon-512.png", sizes: "512x512", type: "image/png", purpose: "maskable" },
        ],
      },
      workbox: {
        globPatterns: ["**/*.{js,css,html,svg,woff2}"],
        navigateFallback: "/index.html",
        navigateFallbackDenylist: [/^\/api\//, /^\/healthz/],
        cleanupOutdatedCaches: true,
      },
    }),
  ],
  test: { include: ["*.test.ts", "src/**/*.test.{ts,tsx}"] },
  build: {
    // Fonts inlined as data: would need a wider content security policy.
    assetsInlineLimit: 0,
    target: "es2023",
    chunkSizeWarningLimit: 900,
  },
});
