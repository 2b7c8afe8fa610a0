/** Names as people read them: of dimensions, measures, levels and periods. */
import type { RowLevel } from "@/contract";
import { GRAINS, MEASURES, MONTHS } from "@/contract/vocabulary";
import { dayText } from "@/model/days";
import { periodLevel } from "@/model/periodLevel";

/** What a day of a line is called: its usual one, or by its name. */
export function dayName(name: string): string {
  return name === "day" ? "usual day" : name.replaceAll("_", " ");
}

/** A dimension's name as people read it; of the periods of a day: month of delivery. */
export function dimensionName(name: string): string {
  const level = periodLevel(name);
  return level ? `${GRAINS[level.grain]} of ${dayName(level.day)}` : name.replaceAll("_", " ");
}

export function measureName(name: string): string {
  return MEASURES[name] ?? dimensionName(name);
}

export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** A level of the rows or across as people read it. */
export function levelName(level: RowLevel): string {
  return typeof level === "string" ? dimensionName(level) : GRAINS[level.time];
}

/** More than one of a dimension's members. */
export function many(name: string): string {
  const level = periodLevel(name);
  if (level) return `${GRAINS[level.grain]}s of ${dayName(level.day)}`;
  const word = dimensionName(name);
  return /[^aeiou]y$/.test(word)
    ? `${word.slice(0, -1)}ies`
    : /(s|x|ch|sh)$/.test(word)
      ? `${word}es`
      : `${word}s`;
}

/** A period's sortable name as people read it: 2026-Q1 is Q1 2026, 2026-03 is Mar 2026, 2026-W07 is Week 7 2026. */
export function periodName(key: string): string {
  if (/^\d{4}-\d{2}-\d{2}$/.test(key)) return dayText(key);
  const [year = "", part] = key.split("-");
  if (!part) return year;
  if (part.startsWith("P")) return `Month ${Number(part.slice(1))} ${year}`;
  if (part.startsWith("W")) return `Week ${Number(part.slice(1))} ${year}`;
  return /^\d/.test(part) ? `${MONTHS[Number(part) - 1]} ${year}` : `${part} ${year}`;
}
