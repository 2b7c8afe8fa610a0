/** A period in what is typed. */

const MONTHS = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];

/** Its sortable name: of 2026-Q3, Q3 2026, March 2026, week 12 2026, 2026; null where none is named. */
export function periodIn(text: string): string | null {
  const lower = text.toLowerCase();
  if (/\d{4}-\d{2}-\d{2}/.test(lower)) return null;
  const sortable = /\b(\d{4})-?(h[12]|q[1-4]|p\d{2}|w\d{2}|(?<=-)\d{2})\b/.exec(lower);
  if (sortable) return `${sortable[1]}-${sortable[2]?.toUpperCase()}`;
  const part = /\b([hq])([1-4])\s+(\d{4})\b/.exec(lower);
  if (part && (part[1] === "q" || Number(part[2]) < 3))
    return `${part[3]}-${part[1]?.toUpperCase()}${part[2]}`;
  const week = /\bweek\s+(\d{1,2})\s+(\d{4})\b/.exec(lower);
  if (week) return `${week[2]}-W${week[1]?.padStart(2, "0")}`;
  const month = /\b([a-z]{3})[a-z]*\s+(\d{4})\b/.exec(lower);
  const at = MONTHS.indexOf(month?.[1] ?? "");
  if (month && at >= 0) return `${month[2]}-${String(at + 1).padStart(2, "0")}`;
  return /\b(19|20)\d{2}\b/.exec(lower)?.[0] ?? null;
}
