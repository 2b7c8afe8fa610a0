/** What the checks before a posting say. */
import { dimensionName } from "./names";
import type { Numbers } from "@/model/numbers";
import type { ColumnUse, Finding, LedgerSettings, Mapping, Staging } from "@/contract";

/** A finding as a heading: what was found, how much of it. */
export function findingWords(finding: Finding, { count, whole }: Numbers): string {
  const { code, count: many, about } = finding;
  switch (code) {
    case "unreadable":
      return `${count(many, "value")} cannot be read`;
    case "line_ids_repeated":
      return `${count(many, "line")} ${many === 1 ? "repeats" : "repeat"} a line id`;
    case "line_ids_posted":
      return `${count(many, "line id")} posted already`;
    case "rows_identical":
      return `${count(many, "row")} the same as a row before`;
    case "set_aside":
      return `${count(many, "row")} of totals or headings left out`;
    case "days_without_lines":
      return `${count(many, "day")} without lines`;
    case "weeks_without_lines":
      return `${count(many, "stretch", "stretches")} of a week or more without lines`;
    case "after_today":
      return `${count(many, "line")} dated after today`;
    case "outside_coverage":
      return `${count(many, "line")} outside the days that the files are complete for`;
    case "outlying_amounts":
      return `${count(many, "amount")} far from the others`;
    case "outlying_quantities":
      return `${count(many, "quantity", "quantities")} far from the others`;
    case "new_members":
      return `${count(many, "new member")} of ${dimensionName(about)}`;
    case "near_members":
      return `${count(many, "member")} of ${dimensionName(about)} nearly like another`;
    case "not_mapped":
      return `${count(many, "member")} of ${dimensionName(about)} that no lookup knows`;
    case "returns_sign":
      return `${count(many, "return")}`;
    case "returns_unmatched":
      return `${count(many, "return")} without a known order`;
    case "returns_early":
      return `${count(many, "return")} dated before the sale`;
    case "returns_large":
      return `${count(many, "return")} larger than what was sold`;
    case "lookup_conflicts":
      return `${count(many, "key")} with two different values`;
    case "lookup_changes":
      return `${count(many, "key")} with another ${dimensionName(about)} than before`;
    case "lookup_leaves_out":
      return `${count(many, "posted member")} without a ${dimensionName(about)}`;
    case "lookup_maps_nothing":
      return `None of ${count(finding.of, "key")} is a known ${dimensionName(about)}`;
    case "lookup_keys_unknown":
      return `${count(many, "key")} of ${whole(finding.of)} that no line has`;
    case "name_taken":
      return `“${dimensionName(about)}” is the name of something else already`;
    case "line_ids_useless":
      return `${count(many, "line")} repeat what was taken for a line id`;
    case "other_currencies":
      return `${count(many, "line")} in another currency than ${about}`;
  }
}

/** The rule behind a finding, or what it means for the figures. */
export const FINDING_NOTES: Partial<Record<Finding["code"], string>> = {
  line_ids_posted:
    "They can be posted only in the place of what they came with: replace that batch or those days.",
  rows_identical: "Every field is the same. Without a line id nobody can tell a repeat from a second sale.",
  set_aside: "They are no lines and are never posted.",
  after_today: "They are posted, and count nowhere until their day.",
  outlying_amounts:
    "Further from zero than 20 times the 99th percentile of the file's amounts. They are posted like all others.",
  outlying_quantities:
    "Further from zero than 20 times the 99th percentile of the file's quantities. They are posted like all others.",
  not_mapped: "They are posted, and stand under “not mapped” until a lookup knows them.",
  returns_unmatched: "They stay on their own day, whatever the statement says.",
  returns_early: "They stay on their own day, whatever the statement says.",
  returns_large: "They stay on their own day, whatever the statement says.",
  lookup_changes: "For all days, those of the past too. Let the lookup hold from a day on to keep history.",
  lookup_leaves_out: "They stand under “not mapped”.",
  lookup_maps_nothing:
    "This lookup maps no line. Choose what its keys belong to, or keep it for lines to come.",
  lookup_keys_unknown: "They map lines that are posted later.",
  name_taken: "No two dimensions of a ledger are called alike.",
  line_ids_useless: "A number within its order repeats from order to order: it tells no line from another.",
  other_currencies:
    "Amounts of unlike currencies never add. The rate is kept with the batch and stands in every proof.",
};

/** How returns are written, and what that makes of the total. */
export function signWords(mapping: Mapping): string {
  if (mapping.kind !== "returns" && !mapping.columns.some((use) => use.role === "marker"))
    return "negative lines";
  return mapping.returns_are === "negative" ? "written as negative figures" : "written as positive figures";
}

export const ARRIVALS: Record<Staging["arrival"], string> = {
  drop: "dropped",
  inbox: "from the inbox",
  database: "from a database",
};

export const LINE_GRAINS: Record<LedgerSettings["line_grain"], string> = {
  day: "by its day",
  week: "by its week",
  month: "by its month",
  quarter: "by its quarter",
  year: "by its year",
};

export const ENCODING_NAMES: Record<string, string> = {
  "utf-8": "UTF-8",
  "utf-16-le": "UTF-16 (little-endian)",
  "utf-16-be": "UTF-16 (big-endian)",
  cp1252: "Windows-1252 (Western)",
  "iso8859-15": "ISO 8859-15 (Western)",
  cp1250: "Windows-1250 (Central European)",
  "mac-roman": "Mac Roman",
  cp850: "Code page 850",
};

export const SEPARATOR_NAMES: Record<string, string> = {
  ",": "comma",
  ";": "semicolon",
  "\t": "tab",
  "|": "bar |",
  "^": "caret ^",
  "~": "tilde ~",
  "\u001f": "unit separator",
};

export const QUOTE_NAMES: Record<string, string> = { '"': 'double "', "'": "single '", "": "none" };

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
  unit_cost: "unit cost",
  price: "unit price",
  discount: "discount",
  discount_rate: "rate of discount",
  currency: "currency",
  rate: "rate",
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
  year_quarter: "year, quarter (no day)",
  year: "year (no day)",
};

export const DECIMAL_MARKS: Record<string, string> = { point: "decimal point", comma: "decimal comma" };

export const KINDS: Record<string, string> = {
  sales: "sales lines",
  returns: "returns",
  lookup: "lookup",
  rates: "rates of currencies",
};
