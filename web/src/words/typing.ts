/** How windows, bases and metrics are typed: the phrases that the palette completes. What is said of them is the server's. */
import type { Base, CurrentWindow, PeriodBase } from "@/contract";
import { ALIGNMENTS, GRAINS } from "@/contract/vocabulary";
import { dayText, rangeText } from "@/model/days";
import { periodName } from "./names";

/** A number of units, as it is typed. */
export function few(number: number, unit: string): string {
  return `${number} ${unit}${number === 1 ? "" : "s"}`;
}

/** What a window is called in the statement. */
export function windowName(window: CurrentWindow, asOf: string | null): string {
  const day = asOf ? dayText(asOf) : "the last posted day";
  switch (window.kind) {
    case "to_date": {
      const completed = window.completed ? `, completed ${GRAINS[window.completed]}s` : "";
      return `${GRAINS[window.grain]} to date at ${day}${completed}`;
    }
    case "running":
      if (!window.back) return `running ${GRAINS[window.grain]} at ${day}`;
      return window.back === 1
        ? `${GRAINS[window.grain]} before the one of ${day}`
        : `${GRAINS[window.grain]} ${window.back} before the one of ${day}`;
    case "period":
      return `${periodName(window.period)} at ${day}`;
    case "last":
      return `last ${few(window.count, GRAINS[window.grain])} ${window.ending === "as_of" ? "to" : "completed by"} ${day}`;
    case "dates":
      return window.last
        ? `${rangeText(window.first, window.last)} at ${day}`
        : `${dayText(window.first)} to ${day}`;
  }
}

/** What a base is called in the statement: the same dates last year, the quarter before, two years back. */
export function baseName(base: Base, window: CurrentWindow, currentYear: number, atDays = false): string {
  // At days a previous period that came down from months or years is the same weekday a week earlier.
  if (atDays && base.kind === "period" && base.unit === "period" && base.day_back && base.day_back % 7 === 0)
    return base.day_back === 7
      ? "the same weekday a week earlier"
      : `the same weekday ${base.day_back / 7} weeks earlier`;
  if (atDays && base.kind === "period" && base.unit === "period" && base.day_back === 1)
    return "the day before";
  switch (base.kind) {
    case "given":
      return base.window.kind === "period"
        ? periodName(base.window.period)
        : windowName(base.window, null).replace(/ at .*$/, "");
    case "fixed":
      return `the same period of ${periodName(base.period)}${aligning(base)}`;
    case "ledger":
      return `the ledger ${base.ledger}${aligning(base)}${base.spread === "working_days" ? ", spread over working days" : ""}`;
    case "shifted":
      return `the days ${few(Math.abs(base.back), GRAINS[base.unit])} ${base.back < 0 ? "later" : "earlier"}${aligning(base)}`;
    case "period":
      return periodBaseName(base, window, currentYear);
  }
}

/** How a base is matched, where that is not by the same dates. */
function aligning(base: { align?: string | undefined }): string {
  return !base.align || base.align === "same_dates" ? "" : `, ${ALIGNMENTS[base.align]}`;
}

function periodBaseName(base: PeriodBase, window: CurrentWindow, currentYear: number): string {
  const { back, unit } = base;
  const years = unit === "year";
  if (base.align === "same_dates" && unit !== "period") {
    if (back === 1) return years ? "the same dates last year" : `the same days of the ${GRAINS[unit]} before`;
    if (back === -1) return years ? "the same dates next year" : `the same days of the ${GRAINS[unit]} after`;
    if (years && window.kind === "to_date" && window.grain === "year")
      return `the same dates of ${currentYear - back}`;
    return `the same dates ${Math.abs(back)} ${GRAINS[unit]}s ${back < 0 ? "ahead" : "back"}`;
  }
  const how = aligning(base);
  const name = unit === "period" ? "period" : GRAINS[unit];
  if (back === 1) return (years ? "last year" : `the ${name} before`) + how;
  if (back === -1) return (years ? "next year" : `the ${name} after`) + how;
  return `${Math.abs(back)} ${name}s ${back < 0 ? "ahead" : "back"}${how}`;
}
