/** Limits, goals, measures of one's own, scopes of shares and headings: the parts of a statement beside its windows. */
import type { Goal, Limit, DefinedMeasure, ShareScope, Statement } from "@/contract";
import { metric, metricId } from "./statement";

/** A limit in place of the one at a position, or one more. */
export function setLimit(statement: Statement, at: number | null, limit: Limit): Statement {
  const limits = [...statement.limits];
  if (at === null) limits.push(limit);
  else limits[at] = limit;
  return { ...statement, limits };
}

export function removeLimit(statement: Statement, at: number): Statement {
  return { ...statement, limits: statement.limits.filter((_, other) => other !== at) };
}

/** A metric has one goal at most. */
export function setGoal(statement: Statement, goal: Goal): Statement {
  const others = statement.goals.filter((each) => each.metric !== goal.metric);
  return { ...statement, goals: [...others, goal] };
}

export function removeGoal(statement: Statement, of: string): Statement {
  return { ...statement, goals: statement.goals.filter((each) => each.metric !== of) };
}

/** What a metric is called for its reader; its definition stays what it is. */
export function setName(statement: Statement, at: number, name: string): Statement {
  const measures = statement.measures.map((each, other) =>
    other === at ? { ...each, name: name.trim() } : each,
  );
  return { ...statement, measures };
}

/** The bases that a metric is compared with, by their numbers from 1; null: all of them. */
export function setMeasureBases(statement: Statement, at: number, bases: number[] | null): Statement {
  const measures = statement.measures.map((each, other) => (other === at ? { ...each, bases } : each));
  return { ...statement, measures, sort: null };
}

/** The scopes that a metric is shown as a share of. */
export function setShares(statement: Statement, at: number, shares: ShareScope[]): Statement {
  const measures = statement.measures.map((each, other) => (other === at ? { ...each, shares } : each));
  return { ...statement, measures };
}

/** A measure of one's own, new or changed, shown from now on. */
export function defineMeasure(statement: Statement, defined: DefinedMeasure): Statement {
  const others = statement.defined.filter((each) => each.name !== defined.name);
  const shown = statement.measures.some((each) => each.measure === defined.name);
  const measures = shown ? statement.measures : [...statement.measures, metric(defined.name)];
  return { ...statement, defined: [...others, defined], measures };
}

/** Not defined any more, and not shown; refused (null) where it is the only measure, or another one is made of it. */
export function undefine(statement: Statement, name: string): Statement | null {
  const measures = statement.measures.filter((each) => each.measure !== name);
  const word = new RegExp(`\\b${name}\\b`);
  const needed = statement.defined.some((each) => each.name !== name && word.test(each.expression));
  if (!measures.length || needed) return null;
  const ids = measures.map(metricId);
  return {
    ...statement,
    measures,
    defined: statement.defined.filter((each) => each.name !== name),
    goals: statement.goals.filter((goal) => ids.includes(goal.metric)),
    sort: null,
  };
}

/** An item taken out of its place and put into another one. */
export function moved<Item>(items: Item[], from: number, to: number): Item[] {
  const next = [...items];
  const [one] = next.splice(from, 1);
  if (one !== undefined) next.splice(Math.min(Math.max(to, 0), next.length), 0, one);
  return next;
}

/** Measures in another order. */
export function moveMeasure(statement: Statement, from: number, to: number): Statement {
  return { ...statement, measures: moved(statement.measures, from, to) };
}

/** Bases in another order; what names one by its number follows it. */
export function moveBase(statement: Statement, from: number, to: number): Statement {
  const order = moved(
    statement.bases.map((_, at) => at + 1),
    from,
    to,
  );
  const now = (base: number): number => order.indexOf(base) + 1;
  return {
    ...statement,
    bases: moved(statement.bases, from, to),
    measures: statement.measures.map((each) => (each.bases ? { ...each, bases: each.bases.map(now) } : each)),
    goals: statement.goals.map((goal) => ({ ...goal, base: now(goal.base) })),
    limits: statement.limits.map((limit) =>
      limit.kind === "status" ? { ...limit, base: now(limit.base) } : limit,
    ),
    sort: null,
  };
}

/** The filter with one member only, moved to the next or the one before; null where there is none to move to. */
export function stepMember(
  members: (string | null)[],
  chosen: (string | null)[],
  by: number,
): string | null | undefined {
  const at = chosen.length === 1 ? members.indexOf(chosen[0] ?? null) : by > 0 ? -1 : members.length;
  return members[at + by];
}

/** The base's days as the window, and the window's as the base: the comparison the other way round. */
export function swapBase(
  statement: Statement,
  at: number,
  windows: { asked: { first: string; last: string } | null }[],
): Statement | null {
  const now = windows[0]?.asked;
  const then = windows[at + 1]?.asked;
  if (!now || !then) return null;
  const days = ({ first, last }: { first: string; last: string }) =>
    ({ kind: "dates", first, last }) as const;
  const bases = statement.bases.map((each, other) =>
    other === at ? ({ kind: "given", window: days(now) } as const) : each,
  );
  return { ...statement, window: days(then), bases, sort: null };
}
