/** What a later version of a kept statement says otherwise. */
import type { Said, Statement } from "@/contract";
import { changedParts } from "@/model/statement";

/** In which parts a later statement says otherwise, with what each says; '' where one does not say the part. said: of each, part by part. */
export function sentenceChanges(
  earlier: Statement,
  later: Statement,
  [said, saidLater]: [Said[], Said[]],
): { part: string; before: string; after: string }[] {
  const [before, after] = [said, saidLater].map(
    (each) => new Map(each.map(({ part, words }) => [part, words.trim()])),
  );
  const changed = changedParts(earlier, later);
  const told = [...new Set([...(before?.keys() ?? []), ...(after?.keys() ?? [])])].flatMap((part) => {
    const words = { part, before: before?.get(part) ?? "", after: after?.get(part) ?? "" };
    return words.before === words.after ? [] : [words];
  });
  // What no sentence holds, an own measure say or the days that an as-of date follows, is named.
  const named = changed
    .filter((part) => !CONVENTIONS.includes(part) && !told.some((each) => each.part === part))
    .map((part) => ({ part, before: "", after: "" }));
  return [...told, ...named];
}

/** Parts of a statement that stand among the conventions. */
const CONVENTIONS = [
  "levels",
  "returns",
  "refunds",
  "returns_within",
  "items",
  "unit_of_measure",
  "negative_bases",
  "all_members",
  "feeds_end",
  "shares_add_up",
];
