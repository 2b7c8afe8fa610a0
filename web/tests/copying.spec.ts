import { describe, expect, it } from "vitest";
import type { Row } from "@/contract";
import { exactFigures, plainTable } from "@/model/copying";
import { PLAIN } from "@/contract/vocabulary";
import { linesOf, slotsOf, type Line } from "@/model/lines";
import { shownColumns } from "@/model/table";
import { answer, column } from "./answers";

const cell = (value: string | null): Row["cells"][number] => ({
  value,
  numerator: null,
  denominator: null,
  reason: null,
});
const row = (path: string[], label: string, ...values: (string | null)[]): Row => ({
  path,
  label,
  status: null,
  can_open: false,
  is_open: false,
  cells: values.map(cell),
  slot: 0,
});

describe("a table copied as plain text", () => {
  it("has exact figures, empty cells where there is none, and nothing that runs", () => {
    const rows = [
      row(["North"], "North", "10.50", null),
      row(["North", "=A1"], "=A1", "-3.00", "2"),
      row([], "", "7.50", "2"),
    ];
    const columns = shownColumns(
      answer([column("net_sales.0.value"), column("orders.0.value")], [], row([], "")),
    );
    const lines = linesOf(rows, slotsOf(columns, PLAIN), PLAIN);
    const names = ({ row: { path } }: Line): string[] =>
      path.length ? [...path.map(String), ""].slice(0, 2) : ["All", ""];
    expect(plainTable(lines, ["region", "rep"], ["net\tsales", "orders"], names).split("\n")).toEqual([
      "region\trep\tnet sales\torders",
      "North\t\t10.50\t",
      "North\t'=A1\t-3.00\t2",
      "All\t\t7.50\t2",
    ]);
    expect(lines.map((line) => exactFigures(line, 1, 1))).toEqual([[""], ["2"], ["2"]]);
  });
});
