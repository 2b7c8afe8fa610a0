import { fileURLToPath } from "node:url";
import vue from "@vitejs/plugin-vue";
import Components from "unplugin-vue-components/vite";
import { ElementPlusResolver } from "unplugin-vue-components/resolvers";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [
    vue(),
    // Components of the set are registered where they are used; parts of our own are imported by hand.
    Components({
      dirs: [],
      dts: "src/components.d.ts",
      resolvers: [ElementPlusResolver({ importStyle: "css" })],
    }),
  ],
  resolve: { alias: { "@": fileURLToPath(new URL("./src", import.meta.url)) } },
  server: { fs: { allow: [".."] }, proxy: { "/api": "http://127.0.0.1:8420" } },
  build: { chunkSizeWarningLimit: 700 },
  test: { include: ["tests/**/*.spec.ts"], server: { deps: { inline: ["element-plus"] } } },
});
