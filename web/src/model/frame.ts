/** Where things lie on the frame: beads are aligned by position, the as-of marker stands in the current rod's own days. */
import type { AnsweredWindow } from "@/contract";
import { dayNumber, dayOf } from "./days";

/** Beads that a frame has room for side by side: the longest rod decides. */
export function slots(windows: AnsweredWindow[]): number {
  return Math.max(1, ...windows.map((window) => window.beads.length));
}

/** Position (in slots) just after the end of a day on a rod; before the rod 0, after it its number of beads. */
export function positionAfter(window: AnsweredWindow, iso: string): number {
  const day = dayNumber(iso);
  for (const [at, bead] of window.beads.entries()) {
    const first = dayNumber(bead.first);
    if (day < first) return at;
    if (day < first + bead.days) return at + (day - first + 1) / bead.days;
  }
  return window.beads.length;
}

/** The day of a rod whose end lies nearest to a position in slots. */
export function dayAt(window: AnsweredWindow, position: number): string | null {
  const last = window.beads.length - 1;
  const at = Math.min(Math.max(Math.floor(position), 0), last);
  const bead = window.beads[at];
  if (!bead) return null;
  const within = Math.round((position - at) * bead.days);
  return dayOf(dayNumber(bead.first) + Math.min(Math.max(within, 1), bead.days) - 1);
}
