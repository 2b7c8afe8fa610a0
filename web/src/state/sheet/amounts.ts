/** What each member of a dimension comes to in the current window: beside the members that a filter can take. */
import { isCancelledError } from "@tanstack/query-core";
import type { Cell, MemberKey } from "@/contract";
import { metric, whole, type Question } from "@/model/statement";
import { answer } from "@/server/figures";
import { Refusal } from "@/server/http";

/** Members that are told with their figures: the largest. */
const MOST = 200;

/** By member: the figure of the statement's first measure, the dimension's own filter left aside. */
export async function amountsOf(
  { ledger, statement }: Question,
  version: number,
  dimension: string,
  leaving: AbortSignal,
): Promise<Map<MemberKey, Cell>> {
  const [first] = statement.measures;
  if (!first) return new Map();
  const { window, as_of, levels, returns, refunds, defined } = statement;
  const asked = whole({
    measures: [metric(first.measure)],
    rows: [dimension],
    window,
    as_of,
    levels,
    returns,
    refunds,
    defined,
    filters: statement.filters.filter((each) => each.dimension !== dimension),
    limits: [
      {
        kind: "top",
        count: MOST,
        column: `${first.measure}.0.value`,
        level: null,
        bottom: false,
        rest: false,
        size: false,
      },
    ],
  });
  try {
    const found = await answer(
      { ledger, statement: asked, opened: { depth: 1, paths: [] } },
      version,
      leaving,
    );
    return new Map(found.rows.flatMap((row) => (row.cells[0] ? [[row.path[0] ?? null, row.cells[0]]] : [])));
  } catch (error) {
    // Without figures the members can be chosen all the same.
    if (error instanceof Refusal || isCancelledError(error) || leaving.aborted) return new Map();
    throw error;
  }
}
