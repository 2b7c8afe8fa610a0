/** A statement as it is read, in one sentence: for copies, the printed page and captions. */
import type { Answer, Limit, ShownMeasure, Statement } from "@/contract";
import { dayText } from "@/model/days";
import { changedParts } from "@/model/statement";
import { readingWords } from "./readings";
import {
  baseName,
  capital,
  columnWords,
  dimensionName,
  goalWords,
  levelName,
  metricWords,
  scopeWords,
  SHOWS,
  STATUS,
  windowName,
} from "./words";

/** Names of members: three at most, the rest by their number. */
export function memberWords(members: (string | null)[], between: string): string {
  const names = members.map((key) => (key === null ? "not mapped" : key || "blank"));
  return names.length > 3
    ? `${names.slice(0, 2).join(", ")} and ${names.length - 2} more`
    : names.join(between);
}

export function filterWords(filter: Statement["filters"][number]): string {
  return `${dimensionName(filter.dimension)} is ${filter.exclude ? "not " : ""}${memberWords(filter.members, " or ")}`;
}

/** What is shown of the rows. */
export function limitWords(limit: Limit, answer: Answer | null, statement: Statement): string {
  const level = "level" in limit && limit.level ? ` of ${dimensionName(limit.level)}` : "";
  const column = "column" in limit ? answer?.columns.find((each) => each.id === limit.column) : undefined;
  const of =
    column && answer ? columnWords(column, answer, statement) : "column" in limit ? limit.column : "";
  switch (limit.kind) {
    case "top":
      return `the ${limit.size ? "largest" : limit.bottom ? "bottom" : "top"} ${limit.count}${level} by${limit.size ? " size of" : ""} ${of}${limit.rest ? "" : ", without the rest"}`;
    case "status":
      return `only ${limit.status.map((each) => STATUS[each]).join(" or ")}${level}`;
    case "value": {
      const low = limit.at_least == null ? "" : ` from ${limit.at_least}`;
      const high = limit.at_most == null ? "" : ` up to ${limit.at_most}`;
      return `${of}${low}${high}${level}`;
    }
    case "members":
      return `only ${dimensionName(limit.dimension)} ${memberWords(limit.members, ", ")}`;
  }
}

/** The parts of the sentence in their order, each with what it says. answer: what it came to, for the as-of date and names of columns. */
export function sentenceParts(statement: Statement, answer: Answer | null): [part: string, words: string][] {
  const asOf = answer?.as_of ?? (statement.as_of.kind === "pinned" ? statement.as_of.day : null);
  const year = Number((asOf ?? "1970").slice(0, 4));
  const parts: [string, string][] = [
    [
      "measures",
      `Show ${statement.measures.map((each) => shownWords(each, statement, year)).join(", and ")}`,
    ],
  ];
  const say = (part: string, before: string, words: string[], between = " and "): void => {
    if (words.length) parts.push([part, `${before} ${words.join(between)}`]);
  };
  say("rows", "by", statement.rows.map(levelName), " then ");
  say("across", "across", statement.across.map(levelName), " then ");
  say("window", "for the", [windowName(statement.window, asOf)]);
  if (statement.cut === "same_point") parts.push(["cut", "each cut at the same point"]);
  say(
    "bases",
    "against",
    statement.bases.map((base) => baseName(base, statement.window, year)),
  );
  say("filters", "where", statement.filters.map(filterWords));
  const readings = readingWords(statement);
  if (readings.length) parts.push(["readings", readings.join(", ")]);
  say(
    "limits",
    "showing",
    statement.limits.map((each) => limitWords(each, answer, statement)),
  );
  say(
    "goals",
    "with the goal",
    statement.goals.map((each) => goalWords(each, statement, year)),
  );
  if (statement.sort) parts.push(["sort", `sorted by ${sortWords(statement.sort, answer, statement)}`]);
  return parts;
}

/** A metric with what stands beside it, what it is called, and with which bases it is compared where that is not with all. */
function shownWords(shown: ShownMeasure, statement: Statement, year: number): string {
  const beside = [...shown.show.map((one) => SHOWS[one]), ...shown.shares.map(scopeWords)].join(", ");
  const name = shown.name ? `${shown.name} (${metricWords(shown)})` : metricWords(shown);
  const bases = (shown.bases ?? []).flatMap((at) => statement.bases[at - 1] ?? []);
  const against = bases.length
    ? ` (against ${bases.map((base) => baseName(base, statement.window, year)).join(" and ")} only)`
    : "";
  return (beside ? `${name} with ${beside}` : name) + against;
}

/** In which order rows stand. */
export function sortWords(
  sort: NonNullable<Statement["sort"]>,
  answer: Answer | null,
  statement: Statement,
): string {
  const column = answer?.columns.find((each) => each.id === sort.column);
  const words = column && answer ? columnWords(column, answer, statement) : sort.column;
  return `${words}, ${sort.descending ? "the largest first" : "the smallest first"}`;
}

/** What a statement is called where nobody named it: Net sales and orders by region and month. */
export function titleOf(statement: Statement): string {
  const measures = statement.measures.map((each) => each.name || metricWords(each));
  const levels = [...statement.rows, ...statement.across].map(levelName);
  const by = levels.length ? ` by ${levels.join(" and ")}` : "";
  return capital(`${measures.slice(0, 3).join(" and ")}${by}`);
}

/** The whole sentence. */
export function sentence(statement: Statement, answer: Answer | null): string {
  const asOf = answer?.as_of;
  const own = statement.defined.map((each) => `${each.name} = ${each.expression}`);
  const moving = statement.as_of.kind !== "pinned" && asOf ? ` (now ${dayText(asOf)})` : "";
  const parts = sentenceParts(statement, answer).map(([, words]) => words);
  return `${parts.join(", ")}${moving}.${own.length ? ` Where ${own.join("; ")}.` : ""}`;
}

/** In which parts a later statement says otherwise, with what each says; '' where one does not say the part. */
export function sentenceChanges(
  earlier: Statement,
  later: Statement,
): { part: string; before: string; after: string }[] {
  const [before, after] = [earlier, later].map((each) => new Map(sentenceParts(each, null)));
  const changed = changedParts(earlier, later);
  const said = [...new Set([...(before?.keys() ?? []), ...(after?.keys() ?? [])])].flatMap((part) => {
    const words = { part, before: before?.get(part) ?? "", after: after?.get(part) ?? "" };
    return words.before === words.after ? [] : [words];
  });
  // What no sentence holds, an own measure say or the days that an as-of date follows, is named.
  const named = changed
    .filter((part) => !READ.includes(part) && !said.some((each) => each.part === part))
    .map((part) => ({ part, before: "", after: "" }));
  return [...said, ...named];
}

/** Parts of a statement that stand among the readings. */
const READ = [
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
