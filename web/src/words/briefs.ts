/** Words of briefs. */
import type { Alert, Block, BlockKind, MailRecord, Schedule } from "@/contract";
import { WEEKDAYS } from "./calendar";

export const BLOCK_KINDS: Record<BlockKind, { name: string; about: string }> = {
  headline: { name: "Headline figure", about: "One figure, large, with its change against each base" },
  table: { name: "Table", about: "The table as it stands" },
  chart: { name: "Chart", about: "The first measure along its periods, or by its members" },
  movers: { name: "Movers", about: "Who rose and who fell, the largest first" },
  bridge: { name: "Bridge", about: "From the base to the current figure, step by step" },
  scorecard: { name: "Scorecard", about: "Goals met or not, n of m" },
  words: { name: "Words by rules", about: "What the figures say, in a few exact sentences" },
};

export const OTHER_BLOCKS = {
  text: { name: "Text", about: "Your own words, in Markdown" },
  restated: { name: "Note of what was restated", about: "What later postings changed of the issue before" },
  break: { name: "New page", about: "What follows begins on a new page of paper" },
} as const;

/** What a block is called in the list of blocks. */
export function blockName(block: Block, caption = ""): string {
  if (block.kind === "text")
    return `Text: ${
      block.text
        .replace(/[#*_>\n]+/g, " ")
        .trim()
        .slice(0, 40) || "empty"
    }`;
  if (block.kind === "restated" || block.kind === "break") return OTHER_BLOCKS[block.kind].name;
  const said = ("title" in block && block.title) || caption;
  return said ? `${BLOCK_KINDS[block.kind].name}: ${said}` : BLOCK_KINDS[block.kind].name;
}

/** What stands in braces in titles, leads and subjects. */
export const PLACEHOLDERS = "{month}, {as_of}, {year}, {number}, {member}, {headline}, {title}";

export const SCHEDULES: Record<Schedule["kind"], string> = {
  none: "never by itself",
  weekly: "each week",
  month_day: "each month on a day",
  first_working_day: "each month on the first working day",
  posted: "when something was posted",
  complete: "when everything is posted up to the as-of date",
};

/** When a schedule publishes, in words. */
export function scheduleWords(schedule: Schedule): string {
  const at = `at ${schedule.time}`;
  switch (schedule.kind) {
    case "none":
      return "only when somebody publishes it";
    case "weekly":
      return `each ${schedule.weekdays.map((each) => WEEKDAYS[each]).join(" and ")} ${at}`;
    case "month_day":
      return `each month on day ${schedule.day} ${at}`;
    case "first_working_day":
      return `on the first working day of the month ${at}`;
    case "posted":
      return schedule.feed ? `when ${schedule.feed} was posted` : "when something was posted";
    case "complete":
      return "when everything is posted up to the as-of date";
  }
}

export const MAIL_STATES: Record<MailRecord["state"], string> = {
  waiting: "waits",
  sending: "is being sent",
  sent: "sent",
  given_up: "given up",
  unsure: "not sure",
};

/** What an alert looks for, in words. */
export function alertWords(alert: Alert): string {
  if (alert.kind === "feed_behind")
    return `${alert.feed || "any feed"} is more than ${alert.days} ${alert.days === 1 ? "day" : "days"} behind`;
  return `${alert.column} ${alert.comparison} ${alert.figure}`;
}
