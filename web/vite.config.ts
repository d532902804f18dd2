import { createHash } from "node:crypto";
import { readdirSync, readFileSync } from "node:fs";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

const WORKER = "sw.js";
const sumOf = (content: string | Uint8Array) =>
  createHash("sha256").update(content).digest("hex").slice(0, 16);

/** Put the worker beside the build and tell it every file that a browser keeps, each with its sum. */
function keptWithoutLine(): Plugin {
  return {
    name: "kept-without-line",
    apply: "build",
    enforce: "post",
    buildStart() {
      this.emitFile({ type: "chunk", id: "src/session/worker.ts", fileName: WORKER });
    },
    generateBundle(_, bundle) {
      const worker = bundle[WORKER];
      if (worker?.type !== "chunk") throw new Error("The worker is not in the build.");
      const files: Record<string, string> = {};
      for (const [name, its] of Object.entries(bundle))
        if (/\.(js|css|html|svg|woff2)$/.test(name) && name !== WORKER)
          files[`/${name}`] = sumOf(its.type === "chunk" ? its.code : its.source);
      for (const name of readdirSync("public")) files[`/${name}`] = sumOf(readFileSync(`public/${name}`));
      const told = JSON.stringify(files);
      worker.code = `const FILES = ${told}, BUILD = "${sumOf(told)}";\n${worker.code}`;
    },
  };
}

export default defineConfig({
  plugins: [react(), tailwindcss(), keptWithoutLine()],
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
