/** Levels that are the periods of a day of the lines. */
import type { Grain, LedgerDescription, Statement } from "@/contract";
import { GRAINS } from "@/contract/vocabulary";

/** The day and the grain of a level of the periods of one of the lines' days: delivery.month; null for any other name. */
export function periodLevel(name: string): { day: string; grain: Grain } | null {
  const [day = "", grain = ""] = name.split(".");
  return grain in GRAINS ? { day, grain: grain as Grain } : null;
}

type Offered = LedgerDescription["dimensions"][number];

/** The dimensions that a statement can go by; the periods of the day that it counts by are its levels of time. */
export function dimensionsFor(ledger: LedgerDescription, { day }: Pick<Statement, "day">): Offered[] {
  return ledger.dimensions.filter(({ name }) => periodLevel(name)?.day !== (day || "day"));
}
