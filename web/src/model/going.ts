/** Going down and up in time and in rows, and stepping the as-of date: comparisons stay right for each level. */
import type { Base, CurrentWindow, Grain, Opened, RowLevel, Statement } from "@/contract";
import { addDays, addMonths } from "./days";
import { grainOf, grains } from "./statement";

/** The way down: weeks and half-years are taken by choice, not on the way. */
const WAY: Grain[] = ["year", "quarter", "month", "day"];
/** The grains, from the coarsest to the finest. */
export const COARSE_TO_FINE: Grain[] = ["year", "half_year", "quarter", "month", "week", "day"];
/** A previous period that comes down to days is the same weekday a week earlier (semantics, section 7). */
const DAY_BACK = 7;

/** The grain of a period's sortable name. */
export function grainOfPeriod(key: string): Grain | null {
  return grainOf({ kind: "period", period: key });
}

/** The next finer grain on the way down; null at the day. */
export function finer(grain: Grain): Grain | null {
  const at = COARSE_TO_FINE.indexOf(grain);
  return WAY.find((each) => COARSE_TO_FINE.indexOf(each) > at) ?? null;
}

/** The next coarser grain on the way up; null at the year. */
export function coarser(grain: Grain): Grain | null {
  const at = COARSE_TO_FINE.indexOf(grain);
  return [...WAY].reverse().find((each) => COARSE_TO_FINE.indexOf(each) < at) ?? null;
}

/** The finest level of time in the rows, where there is one. */
function finestIn(levels: RowLevel[]): Grain | null {
  const found = levels.flatMap((each) => (typeof each === "string" ? [] : [each.time]));
  return found.sort((one, other) => COARSE_TO_FINE.indexOf(other) - COARSE_TO_FINE.indexOf(one))[0] ?? null;
}

/** Bases keep a step per level: at days it is the one they had there, a week where they come down for the first time. */
export function basesAtDays(bases: Base[]): Base[] {
  return bases.map((base) =>
    base.kind === "period" && base.unit === "period" && base.back === 1 && base.day_back == null
      ? { ...base, day_back: DAY_BACK }
      : base,
  );
}

/** A level of time replaced by another one, in the rows or across. */
function replaced(statement: Statement, from: Grain, to: Grain): Statement {
  const swap = (levels: RowLevel[]): RowLevel[] =>
    levels.map((each) => (typeof each !== "string" && each.time === from ? { time: to } : each));
  const bases = to === "day" ? basesAtDays(statement.bases) : statement.bases;
  return { ...statement, rows: swap(statement.rows), across: swap(statement.across), bases, sort: null };
}

/**
 * The window itself one level up or down in time, of pages that show no periods beside each other: from the month to date to the
 * quarter to date. A base that steps by what is finer than a year steps by the window from there on. Null where there is no such
 * level, or the window is no running period.
 */
export function windowLevel(statement: Statement, way: "up" | "down"): Statement | null {
  const { window } = statement;
  if (window.kind !== "to_date" && window.kind !== "running") return null;
  const grain = (way === "up" ? coarser : finer)(window.grain);
  if (!grain || grain === "day") return null;
  const bases = statement.bases.map((base) =>
    base.kind === "period" && base.unit !== "year" ? { ...base, unit: "period" as const } : base,
  );
  return { ...statement, window: { ...window, grain }, bases };
}

/** One level down in time: into a period where one is named, else all of them. Null where there is nothing below. */
export function goDown(statement: Statement, period: string | null = null): Statement | null {
  const grain = finestIn([...statement.rows, ...statement.across]);
  const window: CurrentWindow = period ? { kind: "period", period } : statement.window;
  if (!grain) {
    const own = grainOf(statement.window);
    const below = own ? finer(own) : "month";
    if (!below) return null;
    const bases = below === "day" ? basesAtDays(statement.bases) : statement.bases;
    return { ...statement, rows: [{ time: below }, ...statement.rows], bases: perPeriod(bases), sort: null };
  }
  const below = finer(grain);
  if (!below) return null;
  const next = { ...replaced(statement, grain, below), window };
  return grains(statement).includes(below) ? null : next;
}

/** Bases that stepped by the window's own grain step by each period's. */
function perPeriod(bases: Base[]): Base[] {
  return bases.map((base) =>
    base.kind === "period" && base.unit !== "year" ? { ...base, unit: "period" } : base,
  );
}

/** One level up in time; a window of one period widens to the period that holds it. Null at the top. */
export function goUp(statement: Statement): Statement | null {
  const grain = finestIn([...statement.rows, ...statement.across]);
  if (!grain) return null;
  const above = coarser(grain);
  if (!above || grains(statement).includes(above)) return null;
  const { window } = statement;
  const own = window.kind === "period" ? grainOfPeriod(window.period) : null;
  const fits = !own || COARSE_TO_FINE.indexOf(own) < COARSE_TO_FINE.indexOf(above);
  const wider =
    fits || window.kind !== "period" ? window : { ...window, period: holding(window.period, above) };
  return { ...replaced(statement, grain, above), window: wider };
}

/** The name of what holds a period, wide enough to be split into periods of a grain. */
function holding(period: string, parts: Grain): string {
  const year = period.slice(0, 4);
  if (parts === "day") return period.slice(0, 7);
  if (parts !== "month" || !/^\d{4}-\d{2}/.test(period)) return year;
  return `${year}-Q${Math.ceil(Number(period.slice(5, 7)) / 3)}`;
}

/** Rows opened one level deeper or less deep, within what there is. */
export function openedBy(opened: Opened, by: number, levels: number): Opened {
  return { depth: Math.min(Math.max(opened.depth + by, 1), Math.max(levels, 1)), paths: [] };
}

/** The as-of date stepped by the window's own periods; the last day of a month goes to the last day of the next. */
export function stepAsOf(day: string, window: CurrentWindow, by: number): string {
  const grain = grainOf(window) ?? "day";
  if (grain === "day") return addDays(day, by);
  if (grain === "week") return addDays(day, 7 * by);
  const months = { month: 1, quarter: 3, half_year: 6, year: 12 }[grain] * by;
  const moved = addMonths(day, months);
  const atEnd = addDays(day, 1).endsWith("-01");
  return atEnd ? lastOfMonth(moved) : moved;
}

function lastOfMonth(day: string): string {
  return addDays(addMonths(`${day.slice(0, 7)}-01`, 1), -1);
}
