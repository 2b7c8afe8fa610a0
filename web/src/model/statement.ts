/** Changes to a statement: each takes one and gives a new one that is still whole. */
import type { Grain, LedgerDescription, MemberKey, Opened, PeriodBase, Show, Statement } from "@/contract";

export interface Question {
  ledger: string;
  statement: Statement;
  opened: Opened;
}

const SHARES: Show[] = ["share_of_all", "share_of_parent"];

export function isShare(show: Show): boolean {
  return SHARES.includes(show);
}

/** The statement that a ledger opens with: its year to date against the same dates last year, by region and rep. */
export function firstStatement(ledger: LedgerDescription): Statement {
  const names = ledger.dimensions.map((each) => each.name);
  const wanted = ["region", "rep", "channel", "customer", "product"].filter((name) => names.includes(name));
  const others = ledger.dimensions.filter((each) => each.role !== "order").map((each) => each.name);
  const rows = (wanted.length ? wanted : others).slice(0, 2);
  const orders = ledger.measures.find((each) => each.name === "orders" && !each.unavailable);
  const measures: Statement["measures"] = [
    { measure: "net_sales", show: ["difference", "percent_change", "share_of_all"] },
  ];
  if (orders) measures.push({ measure: "orders", show: ["percent_change"] });
  return {
    measures,
    rows,
    window: { grain: "year", kind: "to_date" },
    as_of: ledger.as_of,
    bases: [{ back: 1, unit: "year", align: "same_dates", kind: "period" }],
    filters: [],
    sort: null,
    levels: "as_it_was",
    returns: "own_day",
    refunds: "divided",
  };
}

export function addMeasure(statement: Statement, measure: string): Statement {
  const show: Show[] = statement.bases.length ? ["percent_change"] : [];
  return { ...statement, measures: [...statement.measures, { measure, show }] };
}

/** The last measure stays: a statement shows something. */
export function removeMeasure(statement: Statement, measure: string): Statement {
  if (statement.measures.length < 2) return statement;
  return unsorted({ ...statement, measures: statement.measures.filter((each) => each.measure !== measure) });
}

export function replaceMeasure(
  statement: Statement,
  measure: string,
  by: string,
  derived: boolean,
): Statement {
  const measures = statement.measures.map((each) =>
    each.measure === measure
      ? { measure: by, show: derived ? each.show.filter((show) => !isShare(show)) : each.show }
      : each,
  );
  return unsorted({ ...statement, measures });
}

export function setShow(statement: Statement, measure: string, show: Show[]): Statement {
  return unsorted({
    ...statement,
    measures: statement.measures.map((each) => (each.measure === measure ? { ...each, show } : each)),
  });
}

/** Rows in a new order or number; without rows no share of a parent is left. */
export function setRows(statement: Statement, rows: string[]): Statement {
  const measures = rows.length
    ? statement.measures
    : statement.measures.map((each) => ({
        ...each,
        show: each.show.filter((show) => show !== "share_of_parent"),
      }));
  return unsorted({ ...statement, rows, measures });
}

/** A window of another grain; bases that stepped by the old grain step by the new one. */
export function setGrain(statement: Statement, grain: Grain): Statement {
  const before = statement.window.grain;
  const bases = statement.bases.map((base) =>
    base.unit === before && base.unit !== "year" ? { ...base, unit: grain } : base,
  );
  return unsorted({ ...statement, window: { ...statement.window, grain }, bases: unique(bases) });
}

/** Bases; where none is left, what compares goes with them. */
export function setBases(statement: Statement, bases: PeriodBase[]): Statement {
  const measures = bases.length
    ? statement.measures
    : statement.measures.map((each) => ({ ...each, show: each.show.filter(isShare) }));
  return unsorted({ ...statement, bases: unique(bases), measures });
}

export function setAsOf(statement: Statement, day: string): Statement {
  return { ...statement, as_of: { kind: "pinned", day } };
}

/** Only these members are counted; none: the filter goes. */
export function setFilter(
  statement: Statement,
  dimension: string,
  members: MemberKey[],
  exclude: boolean,
): Statement {
  const others = statement.filters.filter((each) => each.dimension !== dimension);
  return { ...statement, filters: members.length ? [...others, { dimension, members, exclude }] : others };
}

/** Descending, then ascending, then by name again. */
export function turnSort(statement: Statement, column: string): Statement {
  const sort = statement.sort;
  if (sort?.column !== column) return { ...statement, sort: { column, descending: true } };
  return { ...statement, sort: sort.descending ? { column, descending: false } : null };
}

export function samePath(one: MemberKey[], other: MemberKey[]): boolean {
  return one.length === other.length && one.every((key, at) => key === other[at]);
}

/** Open or close one row; a row that its depth holds open is closed by naming its open siblings instead. */
export function toggleRow(
  opened: Opened,
  path: MemberKey[],
  isOpen: boolean,
  openNow: MemberKey[][],
): Opened {
  if (!isOpen) return { ...opened, paths: [...opened.paths, path] };
  if (opened.depth > path.length) {
    return {
      depth: path.length,
      paths: openNow.filter((each) => !samePath(each, path) && each.length >= path.length),
    };
  }
  return { ...opened, paths: opened.paths.filter((each) => !samePath(each, path)) };
}

function unsorted(statement: Statement): Statement {
  return { ...statement, sort: null };
}

function unique(bases: PeriodBase[]): PeriodBase[] {
  return bases.filter(
    (base, at) => bases.findIndex((each) => each.back === base.back && each.unit === base.unit) === at,
  );
}
