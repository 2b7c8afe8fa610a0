/**
 * Small lines through a row's periods. Periods that are not whole are left out: a part of one beside whole ones would look like a
 * fall (semantics, section 6).
 */
import type { Answer, Grain, MemberKey, Statement } from "@/contract";
import { daysBetween } from "./days";
import { grains, type Question } from "./statement";
import type { ShownColumn } from "./table";

/** What the lines of a table are drawn from: values by row, and which periods they are of. */
export interface Trends {
  grain: Grain;
  measure: string;
  values: Map<string, (number | null)[]>;
}

/** Days up to which a trend goes by this grain. */
const STEPS: [number, Grain][] = [
  [45, "day"],
  [140, "week"],
  [1200, "month"],
];

/** The question that the trends of a table of windows are drawn from: its first measure by the periods of its current window. */
export function trendQuestion(
  question: Question,
  answer: Answer,
): { question: Question; grain: Grain } | null {
  const { statement } = question;
  const asked = answer.windows[0]?.asked;
  const [first] = statement.measures;
  if (!asked || !first || statement.across.length || grains(statement).length) return null;
  const days = daysBetween(asked.first, asked.last);
  const grain = STEPS.find(([most]) => days <= most)?.[1] ?? "quarter";
  return {
    grain,
    question: {
      ...question,
      statement: {
        ...statement,
        measures: [{ measure: first.measure, show: [], along: null, shares: [], bases: null, name: "" }],
        across: [{ time: grain }],
        bases: [],
        goals: [],
        sort: null,
        // Rows of other limits have no trend; their figures do not change by them.
        limits: statement.limits.filter((each) => each.kind === "members"),
      },
    },
  };
}

/** Rows are found again by what they stand for. */
export function trendKey(path: MemberKey[]): string {
  return JSON.stringify(path);
}

/** The trends that an answer to such a question holds. */
export function trendsOf(answer: Answer, grain: Grain): Trends {
  const measure = answer.columns[0]?.measure ?? "";
  const positions = valuesAcross(answer, measure, "");
  const values = [...answer.rows, answer.total].map((row): [string, (number | null)[]] => [
    trendKey(row.path),
    positions.map((at) => numberAt(row.cells[at]?.value)),
  ]);
  return { grain, values: new Map(values), measure };
}

export function numberAt(value: string | null | undefined): number | null {
  return value == null ? null : Number(value);
}

/** Positions of a metric's figures of whole periods, in the order of time. */
function valuesAcross(answer: Answer, measure: string, along: string): number[] {
  const found = answer.columns.flatMap((each, at) =>
    each.kind === "value" &&
    !each.window &&
    each.across.length === 1 &&
    each.measure === measure &&
    each.along === along &&
    isWhole(answer, each.across[0] ?? "")
      ? [at]
      : [],
  );
  return found.length > 2 ? found : [];
}

function isWhole(answer: Answer, key: string): boolean {
  const window = answer.periods.find((each) => !each.down.length && each.across.at(-1) === key)?.windows[0];
  const period = window?.period;
  return !period || daysBetween(period.first, period.last) === window.counted_days;
}

/** Positions of the cells that a line's trend is drawn from: a metric's own figures, where time alone stands across. */
export function trendOf(answer: Answer, statement: Statement, metric: ShownColumn | null): number[] {
  if (statement.across.length !== 1 || typeof statement.across[0] === "string") return [];
  const first = metric?.column ?? answer.columns.find((each) => each.kind === "value");
  return first ? valuesAcross(answer, first.measure, first.along) : [];
}
