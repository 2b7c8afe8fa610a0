/** The guide: chapters of Markdown, each cut into places that can be found and opened. */
import MarkdownIt from "markdown-it";
import MiniSearch from "minisearch";

export interface Chapter {
  /** By which it stands in addresses. */
  name: string;
  title: string;
  html: string;
}

export interface Place {
  id: string;
  chapter: string;
  /** "" for the beginning of a chapter. */
  anchor: string;
  title: string;
  text: string;
}

/** A heading as it stands in addresses: as-of date -> as-of-date. */
export function anchorOf(heading: string): string {
  return heading
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "");
}

/** A file's name without its order: ../guide/2-questions.md -> questions. */
export function chapterName(path: string): string {
  return /(?:\d+-)?([^/]+)\.md$/.exec(path)?.[1] ?? path;
}

/** pictures: the addresses of pictures by their file names. */
export function chapterOf(name: string, text: string, pictures: Record<string, string>): Chapter {
  const markdown = new MarkdownIt({ html: false, typographer: false });
  const { heading_open, image } = markdown.renderer.rules;
  markdown.renderer.rules.heading_open = (tokens, at, options, env, self) => {
    tokens[at]?.attrSet("id", anchorOf(tokens[at + 1]?.content ?? ""));
    return heading_open
      ? heading_open(tokens, at, options, env, self)
      : self.renderToken(tokens, at, options);
  };
  markdown.renderer.rules.image = (tokens, at, options, env, self) => {
    const file =
      String(tokens[at]?.attrGet("src") ?? "")
        .split("/")
        .at(-1) ?? "";
    tokens[at]?.attrSet("src", pictures[file] ?? "");
    return image ? image(tokens, at, options, env, self) : self.renderToken(tokens, at, options);
  };
  const title = /^# (.+)$/m.exec(text)?.[1] ?? name;
  return { name, title, html: markdown.render(text) };
}

/** The places of a chapter: its beginning, and what follows each heading. */
export function placesOf(name: string, text: string): Place[] {
  const title = /^# (.+)$/m.exec(text)?.[1] ?? name;
  return text
    .split(/^(?=##? )/m)
    .filter((each) => each.trim())
    .map((part) => {
      const heading = /^##? (.+)$/m.exec(part)?.[1] ?? title;
      const anchor = part.startsWith("## ") ? anchorOf(heading) : "";
      const plain = part
        .replace(/^#+ .*$/m, "")
        .replace(/!?\[([^\]]*)\]\([^)]*\)/g, "$1")
        .replace(/[*`#>]/g, "")
        .replace(/\s+/g, " ")
        .trim();
      return { id: `${name}#${anchor}`, chapter: name, anchor, title: heading, text: plain };
    });
}

/** Finds places by words, also half-written and nearly right ones. */
export function searchOf(places: Place[]): (text: string) => Place[] {
  const index = new MiniSearch<Place>({ fields: ["title", "text"] });
  index.addAll(places);
  const known = new Map(places.map((each) => [each.id, each]));
  return (text) =>
    index
      .search(text, { prefix: true, fuzzy: 0.2, boost: { title: 3 }, combineWith: "AND" })
      .flatMap(({ id }) => known.get(String(id)) ?? []);
}
