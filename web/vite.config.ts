import { fileURLToPath } from "node:url";
import vue from "@vitejs/plugin-vue";
import Components from "unplugin-vue-components/vite";
import { ElementPlusResolver } from "unplugin-vue-components/resolvers";
import type { HtmlTagDescriptor, Plugin } from "vite";
import { defineConfig } from "vitest/config";

/** The page that most addresses lead to, fetched beside the application, not when that has been read. */
const FIRST_PAGE = "/pages/FiguresPage.vue";

/** Links to a page, to what it imports and to their styles, in the document that the application begins with. */
function fetchedAtOnce(page: string): Plugin {
  return {
    name: "fetched-at-once",
    transformIndexHtml: {
      order: "post",
      handler(html, { bundle }): HtmlTagDescriptor[] {
        const chunks = Object.values(bundle ?? {}).filter((each) => each.type === "chunk");
        const first = chunks.find((each) => each.facadeModuleId?.endsWith(page));
        const code = first ? [first.fileName, ...first.imports] : [];
        const styles = chunks
          .filter((each) => code.includes(each.fileName))
          .flatMap((each) => [...(each.viteMetadata?.importedCss ?? [])]);
        const link = (file: string, rel: string): HtmlTagDescriptor => ({
          tag: "link",
          attrs: { rel, crossorigin: true, href: `/${file}` },
          injectTo: "head",
        });
        return [
          ...code.filter((file) => !html.includes(file)).map((file) => link(file, "modulepreload")),
          ...[...new Set(styles)]
            .filter((file) => !html.includes(file))
            .map((file) => link(file, "stylesheet")),
        ];
      },
    },
  };
}

export default defineConfig({
  plugins: [
    vue(),
    fetchedAtOnce(FIRST_PAGE),
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
