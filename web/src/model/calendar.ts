/** The months and weeks of a ledger's calendar, for choosing from: what periods there are, and which days a month shows. */
import type { CalendarSettings } from "@/contract";
import { addDays, addMonths, dayNumber } from "./days";

export interface WeekRow {
  /** The week's sortable name: 2026-W42. */
  key: string;
  days: string[];
}

/** The day on which the week of a day begins. weekStart: 0 is Monday. */
function startOfWeek(day: string, weekStart: number): string {
  // 1 January 1970 was a Thursday.
  const weekday = (dayNumber(day) + 3) % 7;
  return addDays(day, -((weekday - weekStart + 7) % 7));
}

/** The sortable name of the week of a day: week 1 holds 4 January, whatever the first weekday (semantics, section 3). */
export function weekOf(day: string, weekStart: number): string {
  const start = startOfWeek(day, weekStart);
  const year = Number(start.slice(0, 4));
  const first = (of: number): string => startOfWeek(`${of}-01-04`, weekStart);
  const own = start >= first(year + 1) ? year + 1 : start >= first(year) ? year : year - 1;
  const number = (dayNumber(start) - dayNumber(first(own))) / 7 + 1;
  return `${own}-W${String(number).padStart(2, "0")}`;
}

/** The weeks that a month (2026-10) lies in, each with all of its days. */
export function weeksOf(month: string, weekStart: number): WeekRow[] {
  const rows: WeekRow[] = [];
  const end = addMonths(`${month}-01`, 1);
  for (let start = startOfWeek(`${month}-01`, weekStart); start < end; start = addDays(start, 7))
    rows.push({
      key: weekOf(start, weekStart),
      days: Array.from({ length: 7 }, (_, at) => addDays(start, at)),
    });
  return rows;
}

/** The sortable names of the months of a year in their order: those of its fiscal year, or of a 52/53-week year P01 to P12. */
export function monthsOf(year: number, settings: CalendarSettings): string[] {
  const two = (number: number): string => String(number).padStart(2, "0");
  if (settings.week_years) return Array.from({ length: 12 }, (_, at) => `${year}-P${two(at + 1)}`);
  const start = settings.fiscal_start_month;
  const from = start > 1 && settings.fiscal_year_named === "end" ? year - 1 : year;
  return Array.from({ length: 12 }, (_, at) => addMonths(`${from}-${two(start)}-01`, at).slice(0, 7));
}

/** The sortable names of the year itself, its halves and quarters. */
export function partsOf(year: number): string[] {
  return [
    String(year),
    ...[1, 2].map((at) => `${year}-H${at}`),
    ...[1, 2, 3, 4].map((at) => `${year}-Q${at}`),
  ];
}

/** The fiscal year of a day, by its name. */
export function yearOf(day: string, settings: CalendarSettings): number {
  const [year = 1970, month = 1] = day.split("-").map(Number);
  const start = settings.fiscal_start_month;
  if (settings.week_years || start === 1) return year;
  const begun = month >= start ? year : year - 1;
  return settings.fiscal_year_named === "end" ? begun + 1 : begun;
}
