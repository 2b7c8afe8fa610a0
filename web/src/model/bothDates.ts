/** Dates that can be read in two ways, shown in both, so that a person can tell which is meant. */
import { dayText } from "./days";

const NUMBERS = /^\s*(\d{1,2})[-/. ]{1,2}(\d{1,2})[-/. ]{1,2}(\d{4}|\d{2})\b/;

/** "03.04.2026: 3 Apr 2026 or 4 Mar 2026" for the first texts whose day and month can be exchanged. */
export function bothDates(texts: string[], most = 2): string[] {
  const found: string[] = [];
  for (const text of texts) {
    const match = NUMBERS.exec(text);
    if (!match || found.length === most) continue;
    const [, first = "", second = "", year = ""] = match;
    if (Number(first) > 12 || Number(second) > 12 || Number(first) === Number(second)) continue;
    found.push(`${match[0].trim()}: ${named(year, second, first)} or ${named(year, first, second)}`);
  }
  return found;
}

/** Two-digit years are 1970 to 2069. */
function named(year: string, month: string, day: string): string {
  const full = year.length === 4 ? year : `${Number(year) >= 70 ? "19" : "20"}${year}`;
  return dayText(`${full}-${month.padStart(2, "0")}-${day.padStart(2, "0")}`);
}
