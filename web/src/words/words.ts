/** All text shown to people that is not put together from data. */
import type { Answer, ColumnUse, Grain, Show } from "@/contract";

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
  share_of_all: "share of all",
  share_of_parent: "share of parent",
};

export const HEADINGS: Record<string, string> = {
  difference: "Change",
  percent_change: "% change",
  attainment: "% of base",
  share_of_all: "Share",
  share_of_parent: "Of parent",
};

export const GRAINS: Record<Grain, string> = {
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
  whole_periods: "whole periods",
  same_dates: "same dates",
  unequal: "unequal",
};

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

export const ROLES: Record<ColumnUse["role"], string> = {
  date: "date",
  date_year: "year of the date",
  date_month: "month of the date",
  date_day: "day of the date",
  order: "order id",
  line: "line id",
  rep: "rep",
  region: "region",
  product: "product",
  customer: "customer",
  channel: "channel",
  dimension: "other dimension",
  quantity: "quantity",
  amount: "amount",
  cost: "cost",
  price: "unit price",
  discount: "discount",
  marker: "sale or return",
  key: "key",
  key_name: "name of the key",
  level: "level",
  level_name: "name of a level",
  valid_from: "holds from this day",
  not_used: "not used",
};

export const DATE_FORMATS: Record<string, string> = {
  year_month_day: "year, month, day",
  day_month_year: "day, month, year",
  month_day_year: "month, day, year",
  spreadsheet_serial: "serial numbers of days",
  year_month: "year, month (no day)",
  month_year: "month, year (no day)",
  year_week: "year, week (no day)",
};

export const DECIMAL_MARKS: Record<string, string> = { point: "decimal point", comma: "decimal comma" };

export const KINDS: Record<string, string> = { sales: "sales lines", returns: "returns", lookup: "lookup" };

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
  return `${number.toLocaleString("en")} ${number === 1 ? one : many}`;
}

/** What a base is called in the statement: the same dates last year, the quarter before, two years back. */
export function baseName(back: number, unit: Grain, grain: Grain, currentYear: number): string {
  const years = unit === "year";
  if (back === 1) return years ? "the same dates last year" : `the same days of the ${GRAINS[unit]} before`;
  if (back === -1) return years ? "the same dates next year" : `the same days of the ${GRAINS[unit]} after`;
  if (years && grain === "year") return `the same dates of ${currentYear - back}`;
  const many = back < 0 ? "ahead" : "back";
  return `the same dates ${Math.abs(back)} ${GRAINS[unit]}s ${many}`;
}

/** Short heading of a window's columns. */
export function windowHeading(answer: Answer, at: number, grain: Grain): string {
  const window = answer.windows[at];
  if (at === 0) return grain === "year" ? "This year" : `This ${GRAINS[grain]}`;
  return window?.key ? periodName(window.key) : "No such period";
}

/** A period's sortable name as people read it: 2026-Q1 is Q1 2026, 2026-03 is Mar 2026, 2026-W07 is Week 7 2026. */
export function periodName(key: string): string {
  const [year = "", part] = key.split("-");
  if (!part) return year;
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
