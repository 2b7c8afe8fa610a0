/** The guide: chapters rendered from Markdown, places found by words, links that lead where they say. */
import { describe, expect, it } from "vitest";
import { anchorOf, chapterOf, placesOf, searchOf } from "@/model/guide";
import { CHAPTERS, findPlaces, PLACES, TOPICS } from "@/words/guide";

describe("a chapter", () => {
  const text =
    "# Files\n\nRead *whole*.\n\n## Dates & days\n\nA [question](question:Year%20to%20date), ![a file](../x/one.png)\n";

  it("has headings with their places, and the pictures of the house", () => {
    const { title, html } = chapterOf("files", text, { "one.png": "/assets/one.png" });
    expect(title).toBe("Files");
    expect(html).toContain('<h2 id="dates-days">');
    expect(html).toContain('src="/assets/one.png"');
    expect(chapterOf("x", "<script>alert(1)</script>", {}).html).not.toContain("<script>");
  });

  it("is cut into places that are found by half a word and by one that is nearly right", () => {
    const places = placesOf("files", text);
    expect(places.map((each) => each.id)).toEqual(["files#", "files#dates-days"]);
    expect(places[1]?.text).toBe("A question, a file");
    const find = searchOf(places);
    expect([find("quest")[0]?.anchor, find("dayts")[0]?.anchor, find("nothing here")]).toEqual([
      "dates-days",
      "dates-days",
      [],
    ]);
  });
});

describe("the guide of the house", () => {
  it("has a place for every topic that the pages mark", () => {
    const known = new Set(PLACES.map((each) => each.id));
    expect(Object.entries(TOPICS).filter(([, place]) => !known.has(place))).toEqual([]);
  });

  it("shows every picture that it names, and links only to chapters that there are", () => {
    for (const { html } of CHAPTERS) {
      expect(html).not.toContain('src=""');
      for (const [, to] of html.matchAll(/href="guide:([^"]+)"/g))
        expect(CHAPTERS.map((each) => each.name)).toContain(to);
    }
    expect(findPlaces("as-of date").length).toBeGreaterThan(0);
    expect(anchorOf("As-of date, and time")).toBe("as-of-date-and-time");
  });
});
