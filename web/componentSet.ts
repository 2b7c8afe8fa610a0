/** The component set, each component from the file that is its own: what imports one is not taken to import them all. */
import { readFileSync } from "node:fs";
import { ElementPlusResolver } from "unplugin-vue-components/resolvers";
import type { ComponentResolverObject } from "unplugin-vue-components";

const COMPONENTS = "element-plus/es/components";
const OWN_FILE = /import \{ ([^}]+) \} from "\.\/([\w-]+\/index)\.mjs"/g;

/** Where the set's own index has each of its components from. */
function ownFiles(): Map<string, string> {
  const index = readFileSync(new URL(`./node_modules/${COMPONENTS}/index.mjs`, import.meta.url), "utf8");
  const found = [...index.matchAll(OWN_FILE)];
  return new Map(
    found.flatMap(([, names = "", file = ""]) =>
      names.split(", ").map((name) => [name, `${COMPONENTS}/${file}`]),
    ),
  );
}

/** What tells the files of components that are used, and of the directives of the set. */
export function componentSet(): ComponentResolverObject[] {
  const files = ownFiles();
  return ElementPlusResolver({ importStyle: "css" }).flatMap((resolver) => {
    if (typeof resolver === "function") return [];
    const resolve: ComponentResolverObject["resolve"] = async (name) => {
      const found = await resolver.resolve(name);
      return found && typeof found === "object" ? { ...found, from: files.get(name) ?? found.from } : found;
    };
    return [{ ...resolver, resolve }];
  });
}
