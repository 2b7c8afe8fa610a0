/** What stands over, before and behind the cells of the table, in words. */
import type { Answer, AnsweredColumn, Cell, Layout, Row, RowLevel, Statement } from "@/contract";
import { dayText, localPeriod, rangeText } from "@/model/days";
import { grouped } from "@/model/numbers";
import type { Line } from "@/model/lines";
import { AGAINST } from "@/model/statement";
import type { MeasureGroup } from "@/model/table";
import {
  alongHeading,
  capital,
  DEFINITIONS,
  dimensionName,
  FAIRNESS,
  GRAINS,
  HEADINGS,
  levelName,
  many,
  measureName,
  periodName,
  REASONS,
  scopeWords,
  STEPS,
  unequalWords,
  windowHeading,
} from "./words";

const COMPARES = ["difference", "percent_change", "attainment", "index", "contribution", "goal"];

/** What a table's words are made of. */
export interface Told {
  answer: Answer;
  statement: Statement;
  layout: Layout;
  /** What the ledger says of its measures and dimensions. */
  said: Record<string, string>;
}

export function rowHeading({ statement }: Told): string {
  return capital(statement.rows.map(levelName).join(" › ")) || "All";
}

export function totalName({ statement }: Told): string {
  return allOf(statement.rows[0]) || "All lines";
}

function allOf(level: RowLevel | undefined): string {
  if (level === undefined) return "";
  return typeof level === "string" ? `All ${many(level)}` : `All ${GRAINS[level.time]}s`;
}

/** The name of a period or, of a level inside it (day 5 of each month), what it is called there. */
function timeLabel(label: string, level: RowLevel | undefined, layout: Layout): string {
  if (!level || typeof level === "string") return label;
  if (label.length <= 2) return `${capital(GRAINS[level.time])} ${Number(label)}`;
  if (layout.periods === "keys") return label;
  return (layout.periods === "locale" && localPeriod(label)) || periodName(label);
}

export function acrossHeading(labels: string[], { statement, layout }: Told): string {
  if (!labels.length) return allOf(statement.across[0]);
  return labels.map((label, at) => timeLabel(label, statement.across[at], layout)).join(" › ");
}

export function labelOf(row: Row, told: Told): string {
  if (!row.path.length) return totalName(told);
  if (typeof row.rest === "number") return row.label;
  return timeLabel(row.label, told.statement.rows[row.path.length - 1], told.layout);
}

/** What stands over a group of columns: the member or period across, the measure, its currency. */
export function groupHeading({ across, columns }: MeasureGroup, told: Told): string {
  const under = told.statement.across.length ? acrossHeading(across, told) : "";
  const measure =
    told.layout.measures === "beside" && columns[0] ? metricHeading(columns[0].column, told) : "";
  // Measures below each other are named by their lines.
  return [under, measure].filter(Boolean).join(" · ") || `As of ${dayText(told.answer.as_of)}`;
}

/** What a measure is called over its columns or beside its lines, with its currency. */
export function metricHeading({ name, measure, along, unit }: AnsweredColumn, { answer }: Told): string {
  const running = along ? `, ${alongHeading(along)}` : "";
  const currency = unit.startsWith("currency") ? `, ${answer.currency}` : "";
  return `${name || capital(measureName(measure))}${running}${currency}`;
}

/** A column's heading: as it is renamed, else what it shows; an unfair comparison is marked in either case. */
export function heading(column: AnsweredColumn, told: Told): string {
  const unfair =
    COMPARES.includes(column.kind) && told.answer.windows[column.window]?.fairness === "unequal" ? " !" : "";
  return (told.layout.headings[column.id] || ownHeading(column, told)) + unfair;
}

function ownHeading(column: AnsweredColumn, { answer, statement }: Told): string {
  if (column.kind === "value") return windowHeading(answer, column.window, statement);
  if (column.step) return STEPS[column.step] ?? column.step;
  if (column.kind === "share" && column.scope) return capital(scopeWords(column.scope));
  return HEADINGS[column.kind] ?? column.kind;
}

/** The base that a column compares with, under its heading: "on 2025". */
export function headingBase(column: AnsweredColumn, { answer, statement }: Told): string {
  const compares = column.step || column.kind === "goal" || AGAINST.some((each) => each === column.kind);
  if (!column.window || !compares) return "";
  const base = windowHeading(answer, column.window, statement);
  // A period has its capital, words have none within a line.
  return `on ${/\d/.test(base) ? base : base.charAt(0).toLowerCase() + base.slice(1)}`;
}

/** The definition of a column, whatever its heading was renamed to. */
export function definition(column: AnsweredColumn, told: Told): string {
  const { answer, statement, said } = told;
  const window = answer.windows[column.window];
  const days = window?.asked ? rangeText(window.asked.first, window.asked.last) : "no such period";
  const own = statement.defined.find((each) => each.name === column.measure);
  const known = own ? `= ${own.expression}` : (DEFINITIONS[column.measure] ?? "");
  const about = `${capital(measureName(column.measure))}: ${known}${said[column.measure] ? ` ${said[column.measure]}.` : ""}`;
  if (answer.periods.length)
    return [about, HEADINGS[column.kind], headingBase(column, told)].filter(Boolean).join(" ");
  if (column.kind === "value") return `${about} ${days}`;
  if (column.kind.startsWith("share"))
    return `${about} ${capital(shareOf(column))}, ${days}${column.parts_overlap ? "; parts overlap" : ""}`;
  const [current] = answer.windows;
  const fair =
    window?.fairness === "unequal" && current
      ? `. ${unequalWords(window, current, answer.as_of)}`
      : window?.fairness
        ? ` (${FAIRNESS[window.fairness]})`
        : "";
  return `${about} ${HEADINGS[column.kind]} against ${days}${fair}`;
}

function shareOf(column: AnsweredColumn): string {
  if (column.kind === "share_of_all") return "share of all rows";
  return column.kind === "share" && column.scope ? scopeWords(column.scope) : "share of the row above";
}

/** What the ledger says of the dimensions in the rows. */
export function rowTitle({ statement, said }: Told): string {
  return described(namesIn(statement.rows), said).join("; ");
}

/** What the ledger says of the measures and dimensions that a statement names. */
export function meanings({ statement, said }: Told): string[] {
  const { measures, rows, across, filters } = statement;
  const names = [
    ...measures.map((each) => each.measure),
    ...namesIn([...rows, ...across]),
    ...filters.map((each) => each.dimension),
  ];
  return described([...new Set(names)], said);
}

function namesIn(levels: RowLevel[]): string[] {
  return levels.filter((level): level is string => typeof level === "string");
}

function described(names: string[], said: Record<string, string>): string[] {
  return names.filter((name) => said[name]).map((name) => `${capital(dimensionName(name))}: ${said[name]}`);
}

/** The currency's sign before a figure, where the layout shows it in cells. */
export function signBefore(cell: Cell | undefined, column: AnsweredColumn, { layout }: Told): string {
  return cell?.value != null && column.unit.startsWith("currency") ? layout.sign : "";
}

/** The exact figure of a cell, or why there is none. */
export function exactly(cell: Cell, column: AnsweredColumn, currency: string): string {
  if (cell.value === null) return REASONS[cell.reason ?? ""] ?? "";
  return cell.numerator
    ? `${cell.value} = ${grouped(cell.numerator)} ÷ ${grouped(cell.denominator ?? "1")}`
    : `${grouped(cell.value)} ${column.unit === "currency" ? currency : ""}`;
}

/** A cell as it is read aloud: its row, its column with the window, its value or the reason that there is none. */
export function spoken(row: Row, column: AnsweredColumn, text: string, told: Told): string {
  const cell = row.cells[told.answer.columns.indexOf(column)];
  const value = cell?.value === null ? `none. ${REASONS[cell.reason ?? ""] ?? ""}` : text;
  const across = column.across.length ? `${acrossHeading(column.across_labels, told)}, ` : "";
  const name = column.name || measureName(column.measure);
  const what = [name, heading(column, told), headingBase(column, told)].filter(Boolean).join(" ");
  return `${labelOf(row, told)}, ${across}${what}: ${value}`;
}

/** The headings of columns in one line each, as a plain table has them. */
export function plainHeadings(columns: AnsweredColumn[], told: Told): string[] {
  const beside = told.layout.measures === "beside";
  return columns.map((column) => {
    const across = column.across_labels.length ? acrossHeading(column.across_labels, told) : "";
    const name = beside ? column.name || measureName(column.measure) : "";
    const kind = column.kind === "value" ? "" : ownHeading(column, told);
    const window = windowHeading(told.answer, column.window, told.statement);
    const own = [across, name, beside ? alongHeading(column.along) : "", kind, window].filter(Boolean);
    const { [column.id]: renamed } = told.layout.headings;
    return `${renamed ? `${renamed}: ` : ""}${own.join(" ")}`;
  });
}

/** The headings of a line's names. */
export function lineHeadings({ statement, layout }: Told): string[] {
  return [...statement.rows.map(levelName), ...(layout.measures === "below" ? ["measure"] : [])];
}

/** A row's names from the outside in. */
export function plainLabels(row: Row, told: Told): string[] {
  if (!row.path.length) return ["All"];
  return [...row.path.slice(0, -1).map((key) => key ?? "(not mapped)"), labelOf(row, told)];
}

/** What stands before a line's figures: the names of its row, and its measure where measures stand below each other. */
export function lineNames({ row, metric }: Line, told: Told): string[] {
  const own = plainLabels(row, told);
  const empty = Array<string>(Math.max(told.statement.rows.length - own.length, 0)).fill("");
  return [...own, ...empty, ...(metric ? [metricHeading(metric.column, told)] : [])];
}
