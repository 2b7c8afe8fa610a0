/** The files of the first page: few, and fetched at once. */
import type { HtmlTagDescriptor, Plugin } from "vite";

interface Files {
  /** What asks for the first figures while the page's own code is still being read. */
  opening: string;
  /** The application, and the page that most addresses lead to: fetched beside it, not when it has been read. */
  page: string[];
  /** What the fonts' files are called that its words are drawn with, before their hashes. */
  fonts: string[];
}

/** A plugin, and the two groups that the first page's modules are put together in: a file each, where the builder would make forty. */
export function firstPage({ opening, page, fonts }: Files): {
  plugin: Plugin;
  groups: { name: string; test: (id: string) => boolean; priority: number }[];
} {
  const ofOpening = new Set<string>();
  const ofPage = new Set<string>();

  return {
    groups: [
      { name: "first", test: (id) => ofOpening.has(id), priority: 2 },
      { name: "page", test: (id) => ofPage.has(id), priority: 1 },
    ],
    plugin: {
      name: "first-page",
      buildEnd() {
        const follow = (id: string, found: Set<string>): void => {
          if (found.has(id)) return;
          found.add(id);
          for (const each of this.getModuleInfo(id)?.importedIds ?? []) follow(each, found);
        };
        follow(opening, ofOpening);
        for (const each of page) follow(each, ofPage);
      },
      transformIndexHtml: {
        order: "post",
        handler(html, { bundle, server }): HtmlTagDescriptor[] {
          const chunks = Object.values(bundle ?? {}).filter((each) => each.type === "chunk");
          const asks = server
            ? "src/opening.ts"
            : chunks.find((each) => each.facadeModuleId === opening)?.fileName;
          const files = new Map(chunks.map((each) => [each.fileName, each]));
          const code = new Set<string>();
          const reach = (file: string): void => {
            if (code.has(file)) return;
            code.add(file);
            files.get(file)?.imports.forEach(reach);
          };
          chunks
            .filter((each) => page.some((id) => each.moduleIds.includes(id)))
            .forEach((each) => reach(each.fileName));
          const styles = [...code].flatMap((file) => [...(files.get(file)?.viteMetadata?.importedCss ?? [])]);
          const link = (file: string, rel: string, as = {}): HtmlTagDescriptor => ({
            tag: "link",
            attrs: { rel, ...as, crossorigin: true, href: `/${file}` },
            injectTo: "head",
          });
          // Text that was drawn without its font is drawn again with it.
          const drawn = Object.keys(bundle ?? {}).filter((file) => fonts.some((each) => file.includes(each)));
          const missing = (files: Iterable<string>): string[] =>
            [...new Set(files)].filter((file) => !html.includes(file));
          return [
            // As soon as it is there: it waits for no styles and for no other code.
            {
              tag: "script",
              attrs: { type: "module", async: true, crossorigin: true, src: `/${asks}` },
              injectTo: "head-prepend",
            },
            ...missing(code).map((file) => link(file, "modulepreload")),
            ...missing(styles).map((file) => link(file, "stylesheet")),
            ...drawn.map((file) => link(file, "preload", { as: "font", type: "font/woff2" })),
          ];
        },
      },
    },
  };
}
