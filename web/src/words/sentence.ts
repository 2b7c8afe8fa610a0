/** A statement as it is read, in one sentence: for copies, the printed page and captions. */
import type { Answer, Limit, Statement } from "@/contract";
import { dayText } from "@/model/days";
import {
  baseName,
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
      return `the ${limit.bottom ? "bottom" : "top"} ${limit.count}${level} by ${of}${limit.rest ? "" : ", without the rest"}`;
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

/** The whole sentence. answer: what it came to, for the as-of date and the names of columns. */
export function sentence(statement: Statement, answer: Answer | null): string {
  const asOf = answer?.as_of ?? (statement.as_of.kind === "pinned" ? statement.as_of.day : null);
  const year = Number((asOf ?? "1970").slice(0, 4));
  const measures = statement.measures.map((each) => {
    const beside = [...each.show.map((one) => SHOWS[one]), ...each.shares.map(scopeWords)].join(", ");
    const name = each.name ? `${each.name} (${metricWords(each)})` : metricWords(each);
    return beside ? `${name} with ${beside}` : name;
  });
  const parts = [`Show ${measures.join(", and ")}`];
  if (statement.rows.length) parts.push(`by ${statement.rows.map(levelName).join(" then ")}`);
  if (statement.across.length) parts.push(`across ${statement.across.map(levelName).join(" then ")}`);
  parts.push(`for the ${windowName(statement.window, asOf)}`);
  if (statement.cut === "same_point") parts.push("each cut at the same point");
  if (statement.bases.length)
    parts.push(
      `against ${statement.bases.map((base) => baseName(base, statement.window, year)).join(" and ")}`,
    );
  if (statement.filters.length) parts.push(`where ${statement.filters.map(filterWords).join(" and ")}`);
  if (statement.returns === "sale_day") parts.push("returns on the day of their sale");
  if (statement.levels === "as_it_is_now") parts.push("levels as they are now");
  if (statement.limits.length)
    parts.push(
      `showing ${statement.limits.map((each) => limitWords(each, answer, statement)).join(" and ")}`,
    );
  if (statement.goals.length)
    parts.push(`with the goal ${statement.goals.map((each) => goalWords(each, statement)).join(" and ")}`);
  const own = statement.defined.map((each) => `${each.name} = ${each.expression}`);
  const pinned = statement.as_of.kind === "pinned" && asOf ? "" : asOf ? ` (now ${dayText(asOf)})` : "";
  return `${parts.join(", ")}${pinned}.${own.length ? ` Where ${own.join("; ")}.` : ""}`;
}
