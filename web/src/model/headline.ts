/** The totals of the first measures, as they are shown large: each with its change against every base. */
import type { Answer, AnsweredColumn, Cell } from "@/contract";
import { changeOf, type PeriodChange } from "./chart";

/** Measures that stand large: more of them are a table again. */
const MOST = 4;

export interface Headline {
  column: AnsweredColumn;
  cell: Cell;
  changes: PeriodChange[];
}

export function headlinesOf(answer: Answer): Headline[] {
  const values = answer.columns.filter((each) => each.kind === "value" && !each.across.length);
  const like = (one: AnsweredColumn) => (other: AnsweredColumn) =>
    one.measure === other.measure && one.along === other.along;
  return values
    .filter((each) => !each.window)
    .slice(0, MOST)
    .flatMap((column) => {
      const cell = answer.total.cells[answer.columns.indexOf(column)];
      const bases = values.filter(like(column)).filter((each) => each.window);
      const changes = bases.flatMap((each) => changeOf(answer, answer.total, each) ?? []);
      return cell ? [{ column, cell, changes }] : [];
    });
}
