/** The days of a number's windows side by side, aligned by position. */
import type { DayFigure, Operand, OperandDays } from "@/contract";

/** What stands in one column: a sum, or with none named the figure up to and with each day. */
export interface DaysColumn {
  operand: Operand;
  days: DayFigure[];
  /** Its place among the columns of its operand; null: the figure so far. */
  at: number | null;
  name: string;
  /** What its days add up to, or the figure that they come to. */
  sum: OperandDays["columns"][number]["sum"];
}

/** Operands of the same days stand beside one column of days. */
export interface DaysGroup {
  days: DayFigure[];
  columns: DaysColumn[];
}

/** derived: whether the parts of a figure are listed, which come to it but do not add up to it. */
export function daysGroups(operands: Operand[], found: OperandDays[], derived: boolean): DaysGroup[] {
  const groups: DaysGroup[] = [];
  for (const [number, listed] of found.entries()) {
    const operand = operands[number];
    const { days } = listed;
    if (!operand || !days.length) continue;
    let group = groups.find((each) => each.days[0]?.day === days[0]?.day && each.days.length === days.length);
    if (!group) groups.push((group = { days, columns: [] }));
    group.columns.push(...listed.columns.map(({ name, sum }, at) => ({ operand, days, at, name, sum })));
    if (derived) group.columns.push({ operand, days, at: null, name: "", sum: operand.cell });
  }
  return groups;
}

/** A day's figure in a column. */
export function dayCell(column: DaysColumn, row: number): DayFigure["so_far"] | undefined {
  const day = column.days[row];
  return column.at === null ? day?.so_far : day?.cells[column.at];
}
