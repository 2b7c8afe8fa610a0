/** How a table is laid out: which columns in what order, where totals stand, how numbers are written. It changes no figure. */
import type { Answer, AnsweredColumn, Layout, Row } from "@/contract";
import { PLAIN, PLAIN_CHART } from "@/contract/vocabulary";
import { isFilled } from "./filling";

/** A layout with every part; what is left out is plain. */
export function wholeLayout(parts: object): Layout {
  const layout: Layout = { ...PLAIN, ...parts };
  if (!layout.chart) return layout;
  // In addresses of an earlier build the axes of a chart are called its sides.
  const { sides, ...chart } = layout.chart as typeof layout.chart & { sides?: typeof layout.chart.axes };
  return { ...layout, chart: { ...PLAIN_CHART, ...(sides ? { axes: sides } : {}), ...chart } };
}

/** The parts that differ from the plain layout, for an address. */
export function layoutParts(layout: Layout): Partial<Layout> {
  const changed = Object.entries(layout).filter(
    ([name, value]) => JSON.stringify(value) !== JSON.stringify(PLAIN[name as keyof Layout]),
  );
  return Object.fromEntries(changed);
}

/** The dimensions whose filters stand beside the table; their names have no commas. */
export function besideNames(beside: string): string[] {
  return beside.split(",").filter(Boolean);
}

/** One more of them, the newest last. */
export function withBeside(beside: string, dimension: string): string {
  return [...besideNames(beside).filter((each) => each !== dimension), dimension].join(",");
}

/** The answer with its columns in the layout's order, without what it hides; the same rule as that of exports. */
export function laidOut(answer: Answer, layout: Layout): Answer {
  const deepest = Math.max(0, ...answer.columns.map((each) => each.across.length));
  const placeOf = new Map(layout.order.map((id, at) => [id, at]));
  const paths = [...new Set(answer.columns.map((each) => JSON.stringify(each.across)))];
  const across = new Map(
    layout.totals_across === "after" ? totalsAfter(paths).map((path, at) => [path, at]) : [],
  );
  const acrossOf = (column: AnsweredColumn): number => across.get(JSON.stringify(column.across)) ?? 0;
  const kept = answer.columns
    .map((column, at) => ({ column, at }))
    .filter(
      ({ column }) =>
        !layout.hidden.includes(column.id) &&
        (layout.totals_across !== "off" || column.across.length === deepest),
    )
    .sort(
      (one, other) =>
        (placeOf.get(one.column.id) ?? layout.order.length) -
          (placeOf.get(other.column.id) ?? layout.order.length) ||
        acrossOf(one.column) - acrossOf(other.column) ||
        one.at - other.at,
    );
  const isSame =
    kept.length === answer.columns.length &&
    kept.every(({ at }, place) => at === place) &&
    !Object.keys(layout.decimals).length &&
    layout.percent_decimals === null;
  const called = searched(answer.rows, layout.search);
  const rows =
    layout.empty_periods === "shown" ? called : called.filter((row) => !isEmptyPeriod(answer, row));
  if (isSame) return rows === answer.rows ? answer : { ...answer, rows };
  const taken = (row: Row): Row => ({
    ...row,
    cells: kept.flatMap(({ at }) => row.cells[at] ?? []),
  });
  return {
    ...answer,
    columns: kept.map(({ column }) => ({ ...column, decimals: decimalsOf(column, layout) })),
    rows: rows.map(taken),
    total: taken(answer.total),
    told: { ...answer.told, columns: kept.flatMap(({ at }) => answer.told.columns[at] ?? []) },
  };
}

/** By measure where the figure is one of it; of percentages (changes, shares) as the layout says of all of them. */
function decimalsOf(column: AnsweredColumn, layout: Layout): number {
  const isPart = column.unit === "percent" || column.unit === "points";
  const { [column.measure]: own } = layout.decimals;
  if (!isPart) return own ?? column.decimals;
  if (own !== undefined && ["value", "difference", "scope"].includes(column.kind)) return own;
  return layout.percent_decimals ?? column.decimals;
}

/** Rows whose name holds a text, with the rows that they stand under. */
export function searched(rows: Row[], text: string): Row[] {
  const wanted = text.trim().toLowerCase();
  if (!wanted) return rows;
  const kept = new Set<Row>();
  const above: Row[] = [];
  for (const row of rows) {
    while (above.length && (above.at(-1)?.path.length ?? 0) >= row.path.length) above.pop();
    if (row.label.toLowerCase().includes(wanted)) [...above, row].forEach((each) => kept.add(each));
    above.push(row);
  }
  return rows.filter((row) => kept.has(row));
}

/** What stands across (as JSON, totals first), each total after all that it is the total of. */
function totalsAfter(paths: string[]): string[] {
  const found: string[] = [];
  const open: string[] = [];
  const isOf = (path: string, total: string): boolean =>
    total === "[]" || path.startsWith(`${total.slice(0, -1)},`);
  for (const path of paths) {
    let last = open.at(-1);
    while (last !== undefined && !isOf(path, last)) {
      found.push(last);
      open.pop();
      last = open.at(-1);
    }
    open.push(path);
  }
  return [...found, ...open.reverse()];
}

/** Whether a row stands for a period (or within one) and its current figures are all 0 or undefined. */
export function isEmptyPeriod(answer: Answer, row: Row): boolean {
  if (!answer.periods.length || !row.slot || typeof row.rest === "number" || !isFilled(row, answer))
    return false;
  return row.cells.every((cell, at) => {
    const column = answer.columns[at];
    if (column?.kind !== "value" || column.window) return true;
    return cell.value === null || !/[1-9]/.test(cell.value);
  });
}

/** How many rows of empty periods a layout hides. */
export function hiddenPeriods(answer: Answer, layout: Layout): number {
  if (layout.empty_periods === "shown") return 0;
  return answer.rows.filter((row) => isEmptyPeriod(answer, row)).length;
}

/** A column, or all that stand under one heading, moved before or after the neighbour among those that are shown. */
export function moveColumn(layout: Layout, shown: string[][], id: string, by: number): Layout {
  const at = shown.findIndex((each) => each.includes(id));
  const to = at + by;
  if (at < 0 || to < 0 || to >= shown.length) return layout;
  const order = shown.filter((_, place) => place !== at);
  order.splice(to, 0, shown[at] ?? []);
  return { ...layout, order: order.flat() };
}

/** Columns shown no more, or one shown again. */
export function turnColumn(layout: Layout, ...ids: string[]): Layout {
  const hidden = ids.every((id) => layout.hidden.includes(id))
    ? layout.hidden.filter((each) => !ids.includes(each))
    : [...layout.hidden.filter((each) => !ids.includes(each)), ...ids];
  return { ...layout, hidden };
}

/** What columns are called for their reader; '' for what they are. */
export function setHeading(layout: Layout, ids: string[], heading: string): Layout {
  const others = Object.entries(layout.headings).filter(([id]) => !ids.includes(id));
  const own = heading.trim() ? ids.map((id): [string, string] => [id, heading.trim()]) : [];
  return { ...layout, headings: Object.fromEntries([...others, ...own]) };
}

/** Columns that show the same of each member or period across, in the order in which they first stand. */
export function alikeAcross(columns: AnsweredColumn[]): AnsweredColumn[][] {
  const found = new Map<string, AnsweredColumn[]>();
  for (const column of columns) {
    const { measure, along, kind, window, step, scope } = column;
    const shows = JSON.stringify([measure, along, kind, window, step, scope]);
    found.set(shows, [...(found.get(shows) ?? []), column]);
  }
  return [...found.values()];
}

/** Columns that show the same moved before or after their neighbours, under each member or period across alike. */
export function moveAlike(layout: Layout, columns: AnsweredColumn[], id: string, by: number): Layout {
  const groups = alikeAcross(columns);
  const at = groups.findIndex((group) => group.some((each) => each.id === id));
  const to = at + by;
  const [one] = groups.splice(at, 1);
  if (!one || to < 0 || to > groups.length) return layout;
  groups.splice(to, 0, one);
  const place = new Map(groups.flatMap((group, number) => group.map((each) => [each.id, number])));
  const paths = [...new Set(columns.map((each) => JSON.stringify(each.across)))];
  const order = paths.flatMap((path) =>
    columns
      .filter((each) => JSON.stringify(each.across) === path)
      .sort((one, other) => (place.get(one.id) ?? 0) - (place.get(other.id) ?? 0))
      .map((each) => each.id),
  );
  return { ...layout, order };
}

/** Widths of columns on screen stay between what can be read and what fits. */
export function setWidth(layout: Layout, id: string, width: number): Layout {
  return { ...layout, widths: { ...layout.widths, [id]: Math.min(Math.max(Math.round(width), 40), 600) } };
}
