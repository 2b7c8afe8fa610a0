/** A scorecard for the eye: its rows in order, where its beads stand, what its targets come to, and how they are changed. */
import type {
  Answer,
  Card,
  CardAsked,
  Cell,
  Goal,
  JudgedPeriod,
  MemberKey,
  Row,
  ScoredMetric,
  Statement,
} from "@/contract";
import { removeGoal, setGoal } from "./limits";
import { decimal, fractionOf, type Fraction } from "./numbers";

/** How wide the rod of a goal is on each side of it, in parts of the goal. */
const REACH = 0.5;

export function cellOf(answer: Answer, row: Row, column: string): Cell | null {
  return row.cells[answer.columns.findIndex((each) => each.id === column)] ?? null;
}

/** Where a bead stands on its rod, from 0 to 1: the goal is in the middle. */
export function placeOf(cell: Cell, goalOf: "base" | "figure"): number | null {
  const value = fractionOf(cell);
  if (!value || !cell.target) return null;
  const reached = Number(value.top) / Number(value.bottom);
  const target = goalOf === "base" ? Number(cell.target) / 100 : 1;
  if (!Number.isFinite(reached / target)) return null;
  return Math.min(Math.max(0.5 + ((reached / target - 1) / REACH) * 0.5, 0.06), 0.94);
}

/** What a target comes to, in units of its measure: a figure as it is, or so many percent of the base; null without a base. */
export function targetOf(cell: Cell, goalOf: "base" | "figure", base: Cell | null): Fraction | null {
  if (!cell.target) return null;
  const target = decimal(cell.target);
  if (goalOf === "figure") return target;
  const of = base && fractionOf(base);
  return of ? { top: of.top * target.top, bottom: of.bottom * target.bottom * 100n } : null;
}

/** How far a figure is from its target: above 0 where it is above. */
export function gapOf(current: Cell | null, target: Fraction | null): Fraction | null {
  const value = current && fractionOf(current);
  if (!value || !target) return null;
  return { top: value.top * target.bottom - target.top * value.bottom, bottom: value.bottom * target.bottom };
}

/** How much of its goals a row meets: all, some or none of them, or null where none can be told. */
export type Whole = "all" | "some" | "none" | null;

export function wholeOf(met: readonly (boolean | null)[]): Whole {
  const told = met.filter((each) => each !== null);
  if (!told.length) return null;
  const reached = told.filter(Boolean).length;
  return reached === told.length ? "all" : reached ? "some" : "none";
}

/** The verdicts of a row now, goal by goal. */
export function verdictsOf(answer: Answer, row: Row): (boolean | null)[] {
  return answer.columns.flatMap((column, at) => (column.kind === "goal" ? [row.cells[at]?.met ?? null] : []));
}

/** The verdicts of a row in earlier periods and now, the earliest first. */
export function historyOf(card: Card, row: Row): (boolean | null)[][] {
  const key = JSON.stringify(row.path);
  const then = (period: JudgedPeriod): (boolean | null)[] => {
    if (!row.path.length) return period.total.met;
    return period.rows.find((each) => JSON.stringify(each.path) === key)?.met ?? [];
  };
  return [...[...card.history].reverse().map(then), verdictsOf(card.answer, row)];
}

/** The share of its goals that a row meets, those without a verdict last. */
function shareOf(row: Row): number {
  return row.goals?.defined ? row.goals.met / row.goals.defined : 2;
}

/** The rows of a card in the order that is asked, each parent before its own. */
export function orderedRows(rows: Row[], order: CardAsked["order"]): Row[] {
  const by = { misses: (row: Row) => shareOf(row), name: () => 0, met: (row: Row) => -(shareOf(row) % 2) };
  const below = (parent: MemberKey[]): Row[] =>
    rows
      .filter(
        ({ path }) =>
          path.length === parent.length + 1 && JSON.stringify(path.slice(0, -1)) === JSON.stringify(parent),
      )
      .map((row, at) => ({ row, at }))
      .sort((one, other) => by[order](one.row) - by[order](other.row) || one.at - other.at)
      .flatMap(({ row }) => [row, ...below(row.path)]);
  return below([]);
}

/** A target set: for all rows, for a row, for a period, or for a row in a period; "" takes it away. */
export function withTarget(
  statement: Statement,
  metric: ScoredMetric,
  target: string,
  path: MemberKey[] | null,
  period: string,
): Statement {
  const goal = statement.goals.find((each) => each.metric === metric.id) ?? {
    metric: metric.id,
    target: "",
    of: statement.bases.length ? ("base" as const) : ("figure" as const),
    base: 1,
    direction: null,
    own: [],
  };
  const set = (next: Goal): Statement =>
    next.target || next.own.length ? setGoal(statement, next) : removeGoal(statement, metric.id);
  if (path === null && !period) return set({ ...goal, target });
  const others = goal.own.filter(
    (each) => JSON.stringify(each.path) !== JSON.stringify(path) || each.period !== period,
  );
  return set({ ...goal, own: target ? [...others, { target, path, period }] : others });
}

/** A goal of all of the first base for every metric that has none. */
export function withGoals(statement: Statement, metrics: ScoredMetric[]): Statement {
  const without = metrics.filter((each) => !statement.goals.some((goal) => goal.metric === each.id));
  return without.reduce((found, metric) => withTarget(found, metric, "100", null, ""), statement);
}
