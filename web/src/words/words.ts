/** All text shown to people that is not put together from data. */
import type {
  Along,
  Answer,
  AnsweredColumn,
  AnsweredWindow,
  Base,
  CurrentWindow,
  DefinedMeasure,
  Goal,
  Grain,
  PeriodBase,
  RowLevel,
  ShareScope,
  Show,
  ShownMeasure,
  Statement,
  StatementPreview,
} from "@/contract";
import { dayText, rangeText } from "@/model/days";
import { whole } from "@/model/numbers";
import { metricId } from "@/model/statement";

export const MEASURES: Record<string, string> = {
  net_sales: "net sales",
  gross_sales: "gross sales",
  returns: "returns",
  units: "units",
  returned_units: "returned units",
  cost: "cost",
  lines: "lines",
  orders: "orders",
  active_customers: "active customers",
  active_products: "active products",
  average_order_value: "average order value",
  price_per_unit: "price per unit",
  margin_percent: "margin %",
  return_rate: "return rate",
};

export const DEFINITIONS: Record<string, string> = {
  net_sales: "Gross sales less returns.",
  gross_sales: "The sum of the amounts of sale lines.",
  returns: "What came back, shown positive.",
  units: "Units sold less units returned.",
  returned_units: "Units that came back, shown positive.",
  cost: "The sum of the costs, of lines that have one.",
  lines: "The number of lines, sales and returns.",
  orders: "Different order ids among the sale lines.",
  active_customers: "Different customers among the sale lines.",
  active_products: "Different products among the sale lines.",
  average_order_value: "Gross sales divided by orders.",
  price_per_unit: "Net sales divided by units, of lines that have a quantity.",
  margin_percent: "Net sales less cost, divided by net sales, of lines that have a cost.",
  return_rate: "Returns divided by gross sales.",
};

export const SHOWS: Record<Show, string> = {
  difference: "change",
  percent_change: "% change",
  attainment: "% of base",
  index: "index",
  contribution: "contribution",
  share_of_all: "share of all",
  share_of_parent: "share of parent",
  share_change: "change of shares",
  scope: "what it is a share of",
  rank: "rank",
  cumulative: "total down the list",
  cumulative_share: "share down the list",
  bridge: "bridge of the change",
  price_volume_mix: "price, volume and mix",
};

export const HEADINGS: Record<string, string> = {
  difference: "Change",
  percent_change: "% change",
  attainment: "% of base",
  index: "Index",
  contribution: "Contribution",
  share: "Share",
  share_of_all: "Share",
  share_of_parent: "Of parent",
  share_change: "Change of share",
  scope: "All of it",
  rank: "Rank",
  cumulative: "Down the list",
  cumulative_share: "Share down the list",
  goal: "Goal",
};

/** Steps of a bridge and of price, volume and mix. */
export const STEPS: Record<string, string> = {
  lost: "Lost",
  new: "New",
  kept_down: "Kept, down",
  kept_up: "Kept, up",
  returns_only: "Returns only",
  price: "Price",
  volume: "Volume",
  mix: "Mix",
  not_split: "Not split",
};

/** How a base is aligned to a current window that is not complete. */
export const ALIGNMENTS: Record<string, string> = {
  same_dates: "the same dates",
  same_days: "the same number of days",
  same_weekdays: "the same weekdays",
  same_working_days: "the same number of working days",
  whole: "the whole period",
};

/** In which ways a base of a kind can be matched with the current window. */
export function alignmentsOf(base: Base): string[] {
  switch (base.kind) {
    case "period":
      return Object.keys(ALIGNMENTS);
    case "shifted":
      return ["same_dates", "same_weekdays"];
    case "fixed":
      return ["same_dates", "same_days", "whole"];
    case "ledger":
      return ["same_dates", "whole"];
    case "given":
      return [];
  }
}

/** Over what a plan's lines for whole weeks or months are spread. */
export const SPREADS: Record<string, string> = { days: "all days", working_days: "working days" };

export const GRAINS: Record<Grain, string> = {
  day: "day",
  week: "week",
  month: "month",
  quarter: "quarter",
  half_year: "half-year",
  year: "year",
};

export const REASONS: Record<string, string> = {
  before_coverage: "The window lies before the first posted day.",
  after_coverage: "The window lies after the last posted day.",
  not_posted: "The days of the window are not posted.",
  after_as_of: "The window lies after the as-of date.",
  base_is_zero: "The base is 0, so there is no ratio to it.",
  base_is_negative: "The base is negative, so a ratio to it would mislead.",
  window_incomplete: "The window is not complete.",
  not_given: "No line here has the column that this needs.",
  not_applicable: "This comparison does not apply here.",
};

/** The same, in a few words. */
export const SHORT_REASONS: Record<string, string> = {
  before_coverage: "before posted days",
  after_coverage: "after posted days",
  not_posted: "not posted",
  after_as_of: "after the as-of date",
  not_applicable: "no such period",
};

export const FAIRNESS: Record<string, string> = {
  equal_days: "equal days",
  equal_working_days: "equal working days",
  whole_periods: "whole periods",
  same_dates: "same dates",
  unequal: "unequal",
};

/** Why a base is no equal of the current window, in one sentence. */
export function unequalWords(base: AnsweredWindow, current: AnsweredWindow, asOf: string): string {
  const days = `${count(base.counted_days, "day")} of it count against ${current.counted_days}`;
  if (base.partly_covered || current.partly_covered)
    return `Not equal: ${days}, since lines are posted for a part only.`;
  if (base.asked && base.asked.last > asOf) return `Not equal: ${days}, since it goes past the as-of date.`;
  return `Not equal: ${days}, since a day is missing there or it is a period of another kind.`;
}

export const STATUS: Record<string, string> = {
  kept: "kept",
  new: "new",
  lost: "lost",
  returns_only: "returns only",
};

export const TERMS: Record<string, string> = {
  amount_sold: "Gross sales",
  amount_returned: "Returns",
  amount_returned_signed: "Return lines",
  amount_net: "Net sales",
  quantity_sold: "Units sold",
  quantity_returned: "Units returned",
  quantity_returned_signed: "Units of return lines",
  quantity_net: "Units",
  cost_sold: "Cost of sales",
  cost_returned: "Cost of returns",
  cost_net: "Cost",
  lines_sold: "Sale lines",
  lines_returned: "Return lines",
  lines_net: "Lines",
  distinct_order: "Different orders",
  distinct_customer: "Different customers",
  distinct_product: "Different products",
};

/** A dimension's name as people read it. */
export function dimensionName(name: string): string {
  return name.replaceAll("_", " ");
}

export function measureName(name: string): string {
  return MEASURES[name] ?? dimensionName(name);
}

export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

export function count(number: number, one: string, many = `${one}s`): string {
  return `${whole(number)} ${number === 1 ? one : many}`;
}

/** A level of the rows or across as people read it. */
export function levelName(level: RowLevel): string {
  return typeof level === "string" ? dimensionName(level) : GRAINS[level.time];
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
      return `last ${count(window.count, GRAINS[window.grain])} ${window.ending === "as_of" ? "to" : "completed by"} ${day}`;
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
      return `the days ${count(Math.abs(base.back), GRAINS[base.unit])} ${base.back < 0 ? "later" : "earlier"}${aligning(base)}`;
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

/** What a figure runs along, in words. */
export function alongWords(along: Along): string {
  if (along.kind === "running")
    return along.reset ? `running total, from each ${GRAINS[along.reset]}'s start` : "running total";
  return `${along.of === "mean" ? "mean" : "sum"} of the last ${along.periods}${along.as_many ? " or fewer" : ""}`;
}

/** The same of a column's name for it. */
export function alongHeading(along: string): string {
  if (along === "running") return "running";
  const reset = /^running_(.*)$/.exec(along)?.[1];
  if (reset) return `running in the ${GRAINS[reset as Grain] ?? reset}`;
  const moving = /^moving_(sum|mean)_(\d+)/.exec(along);
  return moving ? `${moving[1]} of ${moving[2]}` : "";
}

/** Short heading of a window's columns. */
export function windowHeading(answer: Answer, at: number, statement: Statement): string {
  const window = answer.windows[at];
  if (answer.periods.length) return at ? shortBase(statement.bases[at - 1]) : "Figure";
  if (at === 0) {
    const asked = statement.window;
    if (asked.kind === "to_date") return asked.grain === "year" ? "This year" : `This ${GRAINS[asked.grain]}`;
    return window?.key ? periodName(window.key) : "Current";
  }
  if (window?.key) return periodName(window.key);
  return window?.asked ? rangeText(window.asked.first, window.asked.last) : "No such period";
}

function shortBase(base: Base | undefined): string {
  if (!base) return "";
  if (base.kind === "period") {
    const unit = base.unit === "period" ? "period" : GRAINS[base.unit];
    if (Math.abs(base.back) === 1) return `${capital(unit)} ${base.back > 0 ? "before" : "after"}`;
    return `${count(Math.abs(base.back), unit)} ${base.back > 0 ? "back" : "ahead"}`;
  }
  if (base.kind === "shifted")
    return `${count(Math.abs(base.back), GRAINS[base.unit])} ${base.back > 0 ? "back" : "ahead"}`;
  if (base.kind === "ledger") return base.ledger;
  return base.kind === "fixed" ? periodName(base.period) : "Given";
}

/** A period's sortable name as people read it: 2026-Q1 is Q1 2026, 2026-03 is Mar 2026, 2026-W07 is Week 7 2026. */
export function periodName(key: string): string {
  if (/^\d{4}-\d{2}-\d{2}$/.test(key)) return dayText(key);
  const [year = "", part] = key.split("-");
  if (!part) return year;
  if (part.startsWith("P")) return `Month ${Number(part.slice(1))} ${year}`;
  if (part.startsWith("W")) return `Week ${Number(part.slice(1))} ${year}`;
  return /^\d/.test(part) ? `${MONTH_NAMES[Number(part) - 1]} ${year}` : `${part} ${year}`;
}

/** More than one of a dimension's members. */
export function many(name: string): string {
  const word = dimensionName(name);
  return /[^aeiou]y$/.test(word)
    ? `${word.slice(0, -1)}ies`
    : /(s|x|ch|sh)$/.test(word)
      ? `${word}es`
      : `${word}s`;
}

const MONTH_NAMES = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

/** What a measure of one's own is counted in. */
export const UNITS: Record<DefinedMeasure["unit"], string> = {
  currency: "money",
  currency_per_unit: "money a unit",
  percent: "percent",
  count: "a count",
  units: "units",
  number: "a plain number",
};

export const POLARITIES: Record<DefinedMeasure["polarity"], string> = {
  more_is_favourable: "favourable",
  more_is_adverse: "adverse",
  neutral: "neither",
};

/** A metric in words: its measure, and what it runs along. */
export function metricWords(shown: ShownMeasure): string {
  const name = measureName(shown.measure);
  const { along } = shown;
  if (along?.kind === "running" && along.reset)
    return `running total of ${name} from each ${GRAINS[along.reset]}'s start`;
  return shown.along ? `${alongWords(shown.along)} of ${name}` : name;
}

/** What a share is a part of. */
export function scopeWords(scope: ShareScope): string {
  const kept = scope.keep.map((each) => dimensionName(each)).join(" and ");
  const period = { own: "", range: " of the whole range", ever: " of all that is posted" }[scope.period];
  const of = scope.time ? ` of its ${GRAINS[scope.time]}` : period;
  return `${kept ? `share within ${kept}` : of ? "share" : "share of all"}${of}`;
}

/** A column in words: whose, what, against which window. */
export function columnWords(column: AnsweredColumn, answer: Answer, statement: Statement): string {
  const name = column.name || measureName(column.measure);
  const kind =
    column.kind === "value" ? "" : (STEPS[column.step] ?? HEADINGS[column.kind] ?? column.kind).toLowerCase();
  const several = answer.windows.length > 1;
  const window = several ? windowHeading(answer, column.window, statement).toLowerCase() : "";
  return [name, alongHeading(column.along), kind, window && `(${window})`].filter(Boolean).join(" ");
}

/** A goal in words: at least 100% of the same dates last year. */
export function goalWords(goal: Goal, statement: Statement, year: number): string {
  const shown = statement.measures.find((each) => metricId(each) === goal.metric);
  const name = shown ? metricWords(shown) : goal.metric;
  const way = goal.direction ? `${goal.direction.replace("_", " ")} ` : "";
  if (goal.of === "figure") return `${name} ${way}${goal.target}`;
  const base = statement.bases[goal.base - 1];
  const of = base ? baseName(base, statement.window, year) : `base ${goal.base}`;
  return `${name} ${way}${goal.target}% of ${of}`;
}

/** How a pasted figure compares with the table's. */
export const VERDICTS: Record<"equal" | "different" | "absent", string> = {
  equal: "equal",
  different: "different",
  absent: "absent",
};

/** Parts of a statement as people call them. */
export const PART_NAMES: Record<string, string> = {
  measures: "measures",
  rows: "rows",
  across: "across",
  window: "window",
  as_of: "as-of date",
  bases: "what it is compared with",
  filters: "what is counted",
  sort: "order",
  limits: "rows shown",
  goals: "goals",
  layout: "layout",
  opened: "open rows",
  defined: "own measures",
  cut: "where periods are cut",
  readings: "reading",
};

/** What a choice would come to: 1 Jan – 17 Oct 2025, 290 days, equal days. at: of the base with this number, 0 the window itself. */
export function previewWords(preview: StatementPreview | undefined, at: number): string {
  const window = preview?.windows[at];
  if (!window) return "";
  if (!window.first || !window.last) return SHORT_REASONS[window.reason ?? ""] ?? "each period its own";
  if (window.reason)
    return `${rangeText(window.first, window.last)}: ${SHORT_REASONS[window.reason] ?? REASONS[window.reason] ?? window.reason}`;
  const fair = window.fairness ? `, ${FAIRNESS[window.fairness]}` : "";
  return `${rangeText(window.first, window.last)}, ${count(window.counted_days, "day")}${fair}`;
}
