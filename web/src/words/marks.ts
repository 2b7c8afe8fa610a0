/** What is to be said of the windows behind a figure: told at its cell, in numbers (semantics, section 14). */
import type { Answer, AnsweredColumn, AnsweredWindow, Row } from "@/contract";
import { dayText } from "@/model/days";
import type { Numbers } from "@/model/numbers";

const COMPARES = ["difference", "percent_change", "attainment", "index", "contribution", "goal"];

/** How much of a window is posted: "11 of 12 months posted in 2023"; nothing where all of it is. */
export function postedWords({ posted, asked }: AnsweredWindow, { count }: Numbers): string {
  if (!posted || !asked) return "";
  const [first, last] = [asked.first.slice(0, 4), asked.last.slice(0, 4)];
  const years = first === last ? first : `${first} to ${last}`;
  return `${posted.posted} of ${count(posted.asked, posted.grain)} posted in ${years}`;
}

/** The windows of a row: those of its own period in a series, those of the table in others. */
export function windowsOf(answer: Answer, row: Row, column: AnsweredColumn): AnsweredWindow[] {
  if (!answer.periods.length) return answer.windows;
  const down = typeof row.slot === "number" ? answer.periods[row.slot] : undefined;
  const across = column.across.filter((each) =>
    answer.periods.some((period) => period.across.includes(each ?? "")),
  );
  if (!across.length) return (down ?? answer.periods[0])?.windows ?? answer.windows;
  const wanted = JSON.stringify(across);
  const found = answer.periods.find(
    (period) =>
      JSON.stringify(period.across) === wanted &&
      JSON.stringify(period.down) === JSON.stringify(down?.down ?? []),
  );
  return found?.windows ?? answer.windows;
}

/** What is to be said of a cell's own pair of windows; nothing where it is fair and whole. */
export function markOf(answer: Answer, row: Row, column: AnsweredColumn, numbers: Numbers): string {
  const cell = row.cells[answer.columns.indexOf(column)];
  if (!cell || cell.value === null) return "";
  const windows = windowsOf(answer, row, column);
  const [current] = windows;
  const base = windows[column.window];
  if (!current || !base) return "";
  if (!COMPARES.includes(column.kind) && !column.step) return postedWords(base, numbers);
  const said = [postedWords(current, numbers), postedWords(base, numbers)].filter(Boolean);
  if (base.fairness === "unequal" && !said.length)
    said.push(`unequal: ${numbers.count(base.counted_days, "day")} against ${current.counted_days}`);
  if (base.overlaps) said.push("overlaps the current window");
  return said.join("; ");
}

/** The end of a period that is cut at the as-of date: "to the 20th"; nothing where it is whole. */
export function cutWords({ asked, period }: AnsweredWindow): string {
  if (!asked || !period || asked.last >= period.last) return "";
  const sameMonth = asked.first.slice(0, 7) === asked.last.slice(0, 7);
  return `to ${sameMonth ? ordinal(Number(asked.last.slice(8))) : dayText(asked.last)}`;
}

function ordinal(day: number): string {
  const teen = day > 10 && day < 20;
  return `the ${day}${(!teen && ["th", "st", "nd", "rd"][day % 10]) || "th"}`;
}
