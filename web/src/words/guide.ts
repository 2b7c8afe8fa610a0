/** The chapters of the guide in their order, and which place of it is about what has the focus. */
import { chapterName, chapterOf, placesOf, searchOf, type Chapter, type Place } from "@/model/guide";

const TEXTS = import.meta.glob<string>("../../../docs/guide/*.md", {
  query: "?raw",
  import: "default",
  eager: true,
});
const PICTURES = import.meta.glob<string>("../../../docs/screenshots/*.png", {
  query: "?url",
  import: "default",
  eager: true,
});

const pictures = Object.fromEntries(
  Object.entries(PICTURES).map(([path, url]) => [path.split("/").at(-1) ?? "", url]),
);
const named = Object.entries(TEXTS)
  .sort(([one], [other]) => one.localeCompare(other, "en", { numeric: true }))
  .map(([path, text]) => ({ name: chapterName(path), text }));

export const CHAPTERS: Chapter[] = named.map(({ name, text }) => chapterOf(name, text, pictures));
export const PLACES: Place[] = named.flatMap(({ name, text }) => placesOf(name, text));
export const findPlaces = searchOf(PLACES);

/** By what is marked on the pages, the place of the guide that is about it. */
export const TOPICS: Record<string, string> = {
  figures: "words#figures",
  statement: "words#statement",
  questions: "questions#",
  window: "words#frame-rods-and-beads",
  comparison: "fairness#the-same-part",
  counted: "fairness#not-posted-is-not-zero",
  goal: "plans#goals",
  frame: "words#frame-rods-and-beads",
  proof: "words#proof",
  notices: "words#notice-line",
  intake: "first-hour#bring-a-file",
  posted: "words#batch-posting-version",
  calendar: "fairness#the-same-part",
  keys: "keys#",
  movers: "movers#movers",
  scorecard: "movers#scorecard",
  words: "movers#words",
  briefs: "briefs#put-one-together",
};
