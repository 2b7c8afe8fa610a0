/** The lines of a table: one a row; or, with measures below each other, one a row and metric. */
import type { Layout, Row } from "@/contract";
import type { ShownColumn } from "./table";

/** What stands under one heading: a column, or with measures below each other that column of every metric that has it. */
export interface Slot {
  /** The first of them: it names the slot, sorts by itself and takes the width. */
  head: ShownColumn;
  columns: ShownColumn[];
}

export interface Line {
  row: Row;
  /** One a slot; null where this line's metric has no such column. */
  columns: (ShownColumn | null)[];
  /** With measures below each other: the metric's first column, and which line of its row this is. */
  metric: ShownColumn | null;
  place: number;
}

function metricOf({ column }: ShownColumn): string {
  return `${column.measure} ${column.along}`;
}

/** What a column says beside its measure. */
function saysOf({ column }: ShownColumn): string {
  const scope = column.scope ? JSON.stringify(column.scope) : "";
  return [column.across.join("\n"), column.kind, column.window, column.step, scope].join("\t");
}

/** What stands under each heading, in the order of the columns. */
export function slotsOf(columns: ShownColumn[], layout: Layout): Slot[] {
  if (layout.measures === "beside") return columns.map((head) => ({ head, columns: [head] }));
  const found = new Map<string, ShownColumn[]>();
  for (const each of columns) {
    const says = saysOf(each);
    const known = found.get(says);
    if (known) known.push(each);
    else found.set(says, [each]);
  }
  return [...found.values()].flatMap((each) => (each[0] ? [{ head: each[0], columns: each }] : []));
}

/** The lines of rows, over slots. */
export function linesOf(rows: Row[], slots: Slot[], layout: Layout): Line[] {
  if (layout.measures === "beside") {
    const columns = slots.map((each) => each.head);
    return rows.map((row) => ({ row, columns, metric: null, place: 0 }));
  }
  const metrics = new Map<string, ShownColumn>();
  for (const each of slots.flatMap((slot) => slot.columns).sort((one, other) => one.at - other.at))
    if (!metrics.has(metricOf(each))) metrics.set(metricOf(each), each);
  const kinds = [...metrics].map(([name, metric]) => ({
    metric,
    columns: slots.map((slot) => slot.columns.find((each) => metricOf(each) === name) ?? null),
  }));
  return rows.flatMap((row) => kinds.map((kind, place) => ({ row, ...kind, place })));
}

/** Rows with the total where the layout puts it. */
export function withTotal(rows: Row[], total: Row, { totals }: Layout): Row[] {
  if (totals === "off") return rows;
  return totals === "above" ? [total, ...rows] : [...rows, total];
}

/** Whether a line holds a column. */
export function holds(line: Line, column: string): boolean {
  return line.columns.some((each) => each?.column.id === column);
}

/** The slot to go to from a place, in a direction (0: there or the nearest before it); null where there is none. */
export function slotFrom(line: Line, at: number, by: number): number | null {
  const step = by > 0 ? 1 : -1;
  let place = Math.min(Math.max(at, 0), line.columns.length - 1);
  while (place >= 0 && place < line.columns.length) {
    if (line.columns[place]) return place;
    place += step;
  }
  const first = line.columns.findIndex(Boolean);
  return first < 0 ? null : first;
}
