/**
 * How windows and bases are typed: the phrases that the palette completes, before any answer could name them. Their names are
 * the server's (`telling/windows.py`); `web/tests/named.json`, made by it, holds both together.
 */
import type { Base, CurrentWindow, PeriodBase, Statement } from "@/contract";
import { ALIGNMENTS, GRAINS } from "@/contract/vocabulary";
import { dayText, rangeText } from "@/model/days";
import { grains } from "@/model/statement";
import { periodName } from "./names";

/** A number of units, as it is typed. */
export function few(number: number, unit: string): string {
  return `${number} ${unit}${number === 1 ? "" : "s"}`;
}

/** What a window is called without its day. */
export function windowName(window: CurrentWindow): string {
  switch (window.kind) {
    case "to_date":
      return `${GRAINS[window.grain]} to date${window.completed ? `, completed ${GRAINS[window.completed]}s` : ""}`;
    case "running":
      if (!window.back) return `running ${GRAINS[window.grain]}`;
      return `${GRAINS[window.grain]} ${window.back === 1 ? "" : `${window.back} `}before the running one`;
    case "period":
      return periodName(window.period);
    case "last":
      return `last ${few(window.count, GRAINS[window.grain])}`;
    case "dates":
      return window.last
        ? rangeText(window.first, window.last)
        : `${dayText(window.first)} to the as-of date`;
  }
}

/** The same with its article, for whatever as-of date. */
export function wholeWindowName(window: CurrentWindow): string {
  const name = windowName(window);
  if (window.kind === "period" || window.kind === "dates") return name;
  if (window.kind !== "last") return `the ${name}`;
  return `the ${name} ${window.ending === "as_of" ? "to" : "completed by"} the as-of date`;
}

/** What a base is called in a statement: the same dates last year, the quarter before, two years back. */
export function baseName(base: Base, statement: Statement, currentYear: number): string {
  switch (base.kind) {
    case "given":
      return base.window.kind === "dates" && !base.window.last
        ? `${dayText(base.window.first)} to the last posted day`
        : windowName(base.window);
    case "fixed":
      return `the same period of ${periodName(base.period)}${aligning(base)}`;
    case "ledger":
      return `the ledger ${base.ledger}${aligning(base)}${base.spread === "working_days" ? ", spread over working days" : ""}`;
    case "shifted":
      return `the days ${few(Math.abs(base.back), GRAINS[base.unit])} ${base.back < 0 ? "later" : "earlier"}${aligning(base)}`;
    case "period":
      return periodBaseName(base, statement, currentYear);
  }
}

/** How a base is matched, where that is not by the same dates. */
function aligning(base: { align?: string | undefined }): string {
  return !base.align || base.align === "same_dates" ? "" : `, ${ALIGNMENTS[base.align]}`;
}

function periodBaseName(base: PeriodBase, statement: Statement, currentYear: number): string {
  const { back, unit } = base;
  const { window } = statement;
  const years = unit === "year";
  if (base.align === "same_dates" && unit !== "period") {
    if (back === 1) return years ? "the same dates last year" : `the same days of the ${GRAINS[unit]} before`;
    if (back === -1) return years ? "the same dates next year" : `the same days of the ${GRAINS[unit]} after`;
    if (years && window.kind === "to_date" && window.grain === "year")
      return `the same dates of ${currentYear - back}`;
    return `the same dates ${few(Math.abs(back), GRAINS[unit])} ${back < 0 ? "ahead" : "back"}`;
  }
  const how = aligning(base);
  const name = unit === "period" ? periodUnit(statement) : GRAINS[unit];
  if (back === 1) return (years ? "last year" : `the ${name} before`) + how;
  if (back === -1) return (years ? "next year" : `the ${name} after`) + how;
  return `${few(Math.abs(back), name)} ${back < 0 ? "ahead" : "back"}${how}`;
}

/** A series with one level of time steps by that. */
function periodUnit(statement: Statement): string {
  const [only, ...others] = new Set(grains(statement));
  return only && !others.length ? GRAINS[only] : "period";
}
