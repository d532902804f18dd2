import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { VitePWA } from "vite-plugin-pwa";

export default defineConfig({
  plugins: [
    react(),
    tailwindcss(),
    VitePWA({
      // A new version waits until the last tab is closed: nothing in hand is loaded away.
      registerType: "prompt",
      injectRegister: null,
      manifest: {
        name: "Jugatrix",
        short_name: "Jugatrix",
        description: "Where the mounts go, what they do, and what stops the wheel.",
        display: "standalone",
        start_url: "/",
        background_color: "#23282e",
        theme_color: "#23282e",
        icons: [
          { src: "/mark-192.png", sizes: "192x192", type: "image/png" },
          { src: "/mark-512.png", sizes: "512x512", type: "image/png", purpose: "any" },
          { src: "/mark-512.png", sizes: "512x512", type: "image/png", purpose: "maskable" },
        ],
      },
      workbox: {
        globPatterns: ["**/*.{js,css,html,svg,woff2}"],
        maximumFileSizeToCacheInBytes: 6_000_000,
        navigateFallback: null,
        runtimeCaching: [
          {
            // The page is fetched anew where there is a line: its scripts and its security headers belong together.
            urlPattern: ({ request, url }) =>
              request.mode === "navigate" && !url.pathname.startsWith("/api/"),
            handler: "NetworkFirst",
            options: {
              cacheName: "page",
              networkTimeoutSeconds: 4,
              precacheFallback: { fallbackURL: "/index.html" },
            },
          },
        ],
      },
    }),
  ],
  build: {
    outDir: "dist",
    emptyOutDir: true,
    sourcemap: false,
    chunkSizeWarningLimit: 1000,
    // What of others is in the build, and under which terms; server/keeping/licences.py puts the rest to it.
    license: { fileName: "licences-of-scripts.md" },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8000" } },
});
