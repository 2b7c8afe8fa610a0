import { describe, expect, it } from "vitest";
import type { Answer, Row } from "@/contract";
import { plainTable } from "@/model/copying";

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
    const answer = {
      rows: [row(["North"], "North", "10.50", null), row(["North", "=A1"], "=A1", "-3.00", "2")],
      total: row([], "", "7.50", "2"),
    } as unknown as Answer;
    const labels = (each: Row): string[] => (each.path.length ? each.path.map(String) : ["All"]);
    expect(plainTable(answer, ["region", "rep"], ["net\tsales", "orders"], labels).split("\n")).toEqual([
      "region\trep\tnet sales\torders",
      "North\t\t10.50\t",
      "North\t'=A1\t-3.00\t2",
      "All\t\t7.50\t2",
    ]);
  });
});
