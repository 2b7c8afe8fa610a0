import { fileURLToPath } from "node:url";
import vue from "@vitejs/plugin-vue";
import Components from "unplugin-vue-components/vite";
import { defineConfig } from "vitest/config";
import { componentSet } from "./componentSet.ts";
import { firstPage } from "./firstPage.ts";

const src = (file: string): string => fileURLToPath(new URL(`./src/${file}`, import.meta.url));
const first = firstPage({
  opening: src("opening.ts"),
  page: [src("main.ts"), src("pages/FiguresPage.vue")],
  fonts: ["source-sans-3-latin-wght-normal", "source-serif-4-latin-wght-normal"],
});

export default defineConfig({
  plugins: [
    vue(),
    first.plugin,
    // Components of the set are registered where they are used; parts of our own are imported by hand.
    Components({
      dirs: [],
      dts: "src/components.d.ts",
      resolvers: componentSet(),
    }),
  ],
  resolve: { alias: { "@": src("") } },
  server: { fs: { allow: [".."] }, proxy: { "/api": "http://127.0.0.1:8420" } },
  build: {
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      input: { index: fileURLToPath(new URL("./index.html", import.meta.url)), opening: src("opening.ts") },
      output: { codeSplitting: { groups: first.groups } },
    },
  },
  test: { include: ["tests/**/*.spec.ts"], server: { deps: { inline: ["element-plus"] } } },
});
