/** What stands over, before and behind the cells of the table, in words. */
import type {
  Answer,
  AnsweredColumn,
  AnsweredWindow,
  Cell,
  Layout,
  Row,
  RowLevel,
  Statement,
} from "@/contract";
import { dayText, rangeText, type Days } from "@/model/days";
import { decimal, type Numbers } from "@/model/numbers";
import type { Line } from "@/model/lines";
import { periodLevel } from "@/model/periodLevel";
import { samePath } from "@/model/statement";
import type { MeasureGroup } from "@/model/table";
import { cutWords, markOf, windowsOf } from "./marks";
import { wordsOf } from "./told";
import { GRAINS, REASONS } from "@/contract/vocabulary";
import { capital, dimensionName, levelName, many, measureName, periodName } from "./names";

/** What a table's words are made of. */
export interface Told {
  answer: Answer;
  statement: Statement;
  layout: Layout;
  /** What the ledger says of its measures and dimensions. */
  said: Record<string, string>;
  /** How its numbers are written. */
  numbers: Numbers;
  /** How its periods are, where they are written as the reader writes days. */
  days: Days;
}

export function rowHeading({ answer }: Told): string {
  return answer.told.rows;
}

function allOf(level: RowLevel | undefined): string {
  if (level === undefined) return "";
  return typeof level === "string" ? `All ${many(level)}` : `All ${GRAINS[level.time]}s`;
}

/** The name of a period or, of a level inside it (day 5 of each month), what it is called there. */
function timeLabel(label: string, level: RowLevel | undefined, { layout, days }: Told): string {
  if (!level || (typeof level === "string" && !(periodLevel(level) && label))) return label;
  if (typeof level !== "string" && label.length <= 2)
    return `${capital(GRAINS[level.time])} ${Number(label)}`;
  if (layout.periods === "keys") return label;
  return (layout.periods === "locale" && days.period(label)) || periodName(label);
}

export function acrossHeading(labels: string[], told: Told): string {
  const { answer, statement } = told;
  if (!labels.length) return allOf(statement.across[0]);
  return labels
    .map((label, at) => {
      const level = statement.across[at];
      const named = timeLabel(label, level, told);
      // Keys of periods are their labels; where one is cut, its name says to which day.
      const period =
        typeof level === "object" ? answer.periods.find((each) => each.across.at(-1) === label) : undefined;
      const cut = period?.windows[0] && at === labels.length - 1 ? cutWords(period.windows[0]) : "";
      return cut ? `${named}, ${cut}` : named;
    })
    .join(" › ");
}

export function labelOf(row: Row, told: Told): string {
  if (!row.path.length) return told.answer.told.total;
  if (typeof row.rest === "number") return row.label;
  const level = told.statement.rows[row.path.length - 1];
  const label = timeLabel(row.label, level, told);
  const period = typeof row.slot === "number" ? told.answer.periods[row.slot] : undefined;
  const cut = typeof level === "object" && period?.windows[0] ? cutWords(period.windows[0]) : "";
  return cut ? `${label}, ${cut}` : label;
}

/** What stands over a group of columns: the member or period across, the measure, its currency. */
export function groupHeading({ across, columns }: MeasureGroup, told: Told): string {
  const under = told.statement.across.length ? acrossHeading(across, told) : "";
  const measure =
    told.layout.measures === "beside" && columns[0] ? metricHeading(columns[0].column, told) : "";
  // Measures below each other are named by their lines.
  return [under, measure].filter(Boolean).join(" · ") || `As of ${dayText(told.answer.as_of)}`;
}

/** What a measure is called over its columns or beside its lines, with its currency; there a renamed one has its own name. */
export function metricHeading(column: AnsweredColumn, { answer, layout }: Told): string {
  const own = wordsOf(column, answer).metric;
  const renamed = layout.measures === "below" ? layout.headings[column.id] : "";
  const name = column.name || capital(measureName(column.measure));
  return renamed ? own.replace(name, renamed) : own;
}

/** A column's heading: as it is renamed, else what it shows. What is unfair is marked at the cells that it concerns. */
export function heading(column: AnsweredColumn, told: Told): string {
  const renamed = told.layout.measures === "beside" ? told.layout.headings[column.id] : "";
  return renamed || wordsOf(column, told.answer).heading;
}

/** The base that a column compares with, under its heading: "on 2025". */
export function headingBase(column: AnsweredColumn, { answer }: Told): string {
  return wordsOf(column, answer).base;
}

/** The definition of a column, whatever its heading was renamed to. */
export function definition(column: AnsweredColumn, { answer }: Told): string {
  return wordsOf(column, answer).definition;
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

/** The exact figure of a cell and what it is made of, with the figures of the table; or why there is none. */
export function exactly(row: Row, column: AnsweredColumn, { answer, statement, numbers }: Told): string {
  const cell = row.cells[answer.columns.indexOf(column)];
  if (!cell) return "";
  if (cell.value === null) return REASONS[cell.reason ?? ""] ?? "";
  const unit = column.unit === "currency" ? ` ${answer.currency}` : "";
  const of = cell.of ? ` of ${numbers.count(cell.of, "period")}` : "";
  const mark = markOf(answer, row, column, numbers);
  const marked = mark ? `\n! ${capital(mark)}` : "";
  if (column.kind === "goal") return goalWords(row, column, answer, statement, numbers) + marked;
  const made = madeOf(row, column, answer, numbers);
  return `${made ? `${cell.value} = ${made}` : `${numbers.grouped(cell.value)}${unit}`}${of}${marked}`;
}

/** The value of a column's measure in a window, where the table has it as a plain figure. */
function plainValue(row: Row, like: AnsweredColumn, window: number, answer: Answer): string | null {
  const at = answer.columns.findIndex(
    (each) =>
      each.kind === "value" &&
      each.window === window &&
      each.measure === like.measure &&
      each.along === like.along &&
      JSON.stringify(each.across) === JSON.stringify(like.across),
  );
  const cell = row.cells[at];
  return cell && !cell.numerator ? cell.value : null;
}

/** A ratio by the figures of the table: (current − base) ÷ base, not reduced. */
function madeOf(row: Row, column: AnsweredColumn, answer: Answer, numbers: Numbers): string {
  const { grouped } = numbers;
  const now = plainValue(row, column, 0, answer);
  const then = plainValue(row, column, column.window, answer);
  switch (column.kind) {
    case "percent_change":
      return now !== null && then !== null ? `${minus(now, then, numbers)} ÷ ${grouped(then)}` : "";
    case "attainment":
      return now !== null && then !== null ? `${grouped(now)} ÷ ${grouped(then)}` : "";
    case "index":
      return now !== null && then !== null ? `100 × ${grouped(now)} ÷ ${grouped(then)}` : "";
    case "share_of_all": {
      const all = plainValue(answer.total, column, column.window, answer);
      return then !== null && all !== null ? `${grouped(then)} ÷ ${grouped(all)}` : "";
    }
    case "share_of_parent": {
      const above = answer.rows.find(
        (each) => samePath(each.path, row.path.slice(0, -1)) && each.rest == null,
      );
      const all = plainValue(
        row.path.length > 1 && above ? above : answer.total,
        column,
        column.window,
        answer,
      );
      return then !== null && all !== null ? `${grouped(then)} ÷ ${grouped(all)}` : "";
    }
    default:
      return "";
  }
}

function minus(now: string, then: string, { rounded }: Numbers): string {
  const [a, b] = [decimal(now), decimal(then)];
  const places = Math.max(...[now, then].map((each) => each.split(".")[1]?.length ?? 0));
  return rounded({ top: a.top * b.bottom - b.top * a.bottom, bottom: a.bottom * b.bottom }, places);
}

/** What a goal is judged by: both periods, both values and the target. */
function goalWords(
  row: Row,
  column: AnsweredColumn,
  answer: Answer,
  statement: Statement,
  { grouped, rounded }: Numbers,
): string {
  const now = plainValue(row, column, 0, answer);
  const windows = windowsOf(answer, row, column);
  const days = (window: AnsweredWindow | undefined): string =>
    window?.asked ? rangeText(window.asked.first, window.asked.last) : "no such period";
  const goal = statement.goals.find(
    (each) => each.metric === column.measure || each.metric.startsWith(`${column.measure}~`),
  );
  const cell = row.cells[answer.columns.indexOf(column)];
  const verdict = cell?.met == null ? "" : cell.met ? "Met. " : "Missed. ";
  const current = now === null ? "" : `${capital(days(windows[0]))}: ${grouped(now)}.`;
  if (!goal) return `${verdict}${current}`.trim();
  if (goal.of === "figure") return `${verdict}${current} Target: ${grouped(goal.target)}.`;
  const then = plainValue(row, column, goal.base, answer);
  if (then === null) return `${verdict}${current} Target: ${goal.target}% of ${days(windows[goal.base])}.`;
  const [base, percent] = [decimal(then), decimal(goal.target)];
  const target = { top: base.top * percent.top, bottom: base.bottom * percent.bottom * 100n };
  const places = (then.split(".")[1] ?? "").length;
  return `${verdict}${current} ${days(windows[goal.base])}: ${grouped(then)}. Target: ${goal.target}% of that, ${rounded(target, places)}.`;
}

/** A cell as it is read aloud: its row, its column with the window, its value or the reason that there is none. */
export function spoken(row: Row, column: AnsweredColumn, text: string, told: Told): string {
  const cell = row.cells[told.answer.columns.indexOf(column)];
  const mark = markOf(told.answer, row, column, told.numbers);
  const value =
    cell?.value === null ? `none. ${REASONS[cell.reason ?? ""] ?? ""}` : mark ? `${text}, ${mark}` : text;
  const across = column.across.length ? `${acrossHeading(column.across_labels, told)}, ` : "";
  const name = column.name || measureName(column.measure);
  const what = [name, heading(column, told), headingBase(column, told)].filter(Boolean).join(" ");
  return `${labelOf(row, told)}, ${across}${what}: ${value}`;
}

/** The headings of columns in one line each, as a plain table has them: what the reader calls one comes first. */
export function plainHeadings(columns: AnsweredColumn[], { answer, layout }: Told): string[] {
  return columns.map((column) => {
    const { plain, short } = wordsOf(column, answer);
    const { [column.id]: renamed } = layout.headings;
    return `${renamed ? `${renamed}: ` : ""}${layout.measures === "beside" ? plain : short}`;
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
