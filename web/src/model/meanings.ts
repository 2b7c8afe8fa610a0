/** What a ledger says of its columns: dimensions, figures and days, by name. */
import type { LedgerDescription } from "@/contract";
import { periodLevel } from "./periodLevel";

/** The descriptions as they stand, '' where nothing is said yet. Periods of a day have that of their day. */
export function meaningsOf(ledger: LedgerDescription): Record<string, string> {
  const dimensions = ledger.dimensions.filter((each) => !periodLevel(each.name));
  return Object.fromEntries(
    [...dimensions, ...ledger.figures, ...ledger.days].map((each) => [each.name, each.description ?? ""]),
  );
}
