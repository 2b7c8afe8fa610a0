/** Movers for the eye: their columns, where their rods begin and end, and the level that is looked at. */
import type { AnsweredColumn, Cell, MemberKey, Mover, Movers, MoversAsked, Step } from "@/contract";
import { lengthOf } from "./numbers";

/** What a mover shows, beside its name. */
export type Shown = "value" | "base" | "difference" | "percent_change" | "contribution" | "share_change";

/** A column of the statement that movers are the figures of, as a table has it. */
export function columnOf(movers: Movers, shown: Shown): AnsweredColumn {
  const measure = movers.statement.measures[0]?.measure ?? "";
  const kind = shown === "base" ? "value" : shown;
  const own = { percent_change: "percent", contribution: "percent", share_change: "points" } as const;
  const unit =
    own[shown as keyof typeof own] ??
    (shown === "difference" && movers.unit === "percent" ? "points" : movers.unit);
  return {
    id: `${measure}.${shown === "value" ? 0 : movers.base}.${kind}`,
    measure,
    kind,
    window: shown === "value" ? 0 : movers.base,
    unit,
    decimals: unit === movers.unit ? movers.decimals : 1,
    polarity: movers.polarity,
    measure_kind: movers.adds_up === null ? "derived" : "additive",
    parts_overlap: false,
    name: "",
    along: "",
    scope: null,
    step: "",
    across: [],
    across_labels: [],
  };
}

/** Whole units where the whole has six digits, as in the table of figures. */
export function decimalsOf(movers: Movers): number {
  const { unit, decimals, total } = movers;
  const size = Math.max(...["value", "base"].map((each) => Math.abs(lengthOf(total.shown[each] as Cell))));
  return unit === "currency" && movers.adds_up !== null && size >= 100_000 ? 0 : decimals;
}

/** The largest change of any mover that is listed, for the lengths of rods: never 0. */
export function largestChange(movers: Movers): number {
  const all = [...movers.ups.movers, ...movers.downs.movers].map((each) => sizeOf(each));
  return Math.max(...all, 0) || 1;
}

/** How far a mover moved, for lengths only. */
export function sizeOf(mover: Mover): number {
  const { difference } = mover.shown;
  return difference ? Math.abs(lengthOf(difference)) : 0;
}

/** One more level down, the one above, or that of a path. */
export function opened(asked: MoversAsked, path: MemberKey[]): MoversAsked {
  return { ...asked, path };
}

/** The bases stepped through, one after the other. */
export function nextBase(asked: MoversAsked, bases: number): MoversAsked {
  return { ...asked, base: (asked.base % Math.max(bases, 1)) + 1 };
}

/** Steps of a bridge on an axis: the part of the width where each begins and ends; broken: whether the axis does not begin at 0. */
export interface Placed {
  broken: boolean;
  rods: { step: Step; from: number; to: number }[];
}

/** How much of the width the steps together have at least, before the axis is broken. */
const SEEN = 0.25;

/** Where the rods of a bridge stand. The axis is broken where the steps would be too small to see. */
export function placed(steps: Step[]): Placed {
  const ends = steps.flatMap(({ starts, ends: to }, at) =>
    // The outer rods begin at the edge: only where they end is a place of its own.
    at === 0 || at === steps.length - 1 ? [lengthOf(to)] : [lengthOf(starts), lengthOf(to)],
  );
  const [low, high] = [Math.min(...ends), Math.max(...ends)];
  const whole = Math.max(high, 0) - Math.min(low, 0);
  const broken = low > 0 && high - low < SEEN * whole;
  const from = broken ? low - (high - low || 1) * 0.25 : Math.min(low, 0);
  const to = Math.max(high, broken ? high : 0);
  const at = (value: number): number => (value - from) / (to - from || 1);
  const edge = broken ? 0 : at(0);
  return {
    broken,
    rods: steps.map((step, number) => {
      const outer = number === 0 || number === steps.length - 1;
      const [one, other] = [outer ? edge : at(lengthOf(step.starts)), at(lengthOf(step.ends))];
      return { step, from: Math.min(one, other), to: Math.max(one, other) };
    }),
  };
}
