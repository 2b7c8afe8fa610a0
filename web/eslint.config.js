import prettier from "eslint-config-prettier";
import vue from "eslint-plugin-vue";
import ts from "typescript-eslint";

/** What each folder may not import. One block per folder: a later block for the same file would replace an earlier one. */
const forbidden = {
  composables: ["server", "state", "parts", "panels", "pages", "words"],
  contract: ["server", "state", "composables", "parts", "panels", "pages", "words", "model"],
  words: ["server", "state", "composables", "parts", "panels", "pages"],
  model: ["server", "state", "composables", "parts", "panels", "pages", "words"],
  server: ["state", "composables", "parts", "panels", "pages"],
  state: ["parts", "panels", "pages"],
  parts: ["server", "state", "panels", "pages"],
  panels: ["server", "pages"],
  pages: ["server"],
};

const folders = Object.entries(forbidden).map(([folder, others]) => ({
  files: [`src/${folder}/**/*.{ts,vue}`],
  rules: {
    "no-restricted-imports": [
      "error",
      {
        patterns: [
          { group: others.map((other) => `@/${other}/**`), message: `${folder} may not import these.` },
          { group: ["../*"], message: "Import by @/folder, so that directions can be checked." },
          ...(folder === "model"
            ? [{ group: ["vue", "vue-router", "pinia", "element-plus"], message: "model is plain." }]
            : []),
        ],
      },
    ],
    ...(folder === "server"
      ? {}
      : { "no-restricted-globals": ["error", { name: "fetch", message: "Only server/ calls fetch." }] }),
  },
}));

export default ts.config(
  { ignores: ["dist/**", "src/contract/api.ts"] },
  ...ts.configs.recommended,
  ...vue.configs["flat/recommended"],
  { files: ["**/*.vue"], languageOptions: { parserOptions: { parser: ts.parser } } },
  { rules: { "vue/multi-word-component-names": "off", "no-console": "error" } },
  ...folders,
  prettier,
);
