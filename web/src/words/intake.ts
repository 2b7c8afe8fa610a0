/** Labels of what stands on the intake page; what its checks find is said by the server. */
import type { ColumnUse, LedgerSettings, Staging } from "@/contract";

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
  further_amount: "further amount",
  further_quantity: "further quantity",
  further_day: "further day",
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

/** Whether more of a figure is good: it decides which way is favourable. */
export const POLARITIES: Record<ColumnUse["polarity"], string> = {
  neutral: "more is neutral",
  more_is_favourable: "more is good",
  more_is_adverse: "more is bad",
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
