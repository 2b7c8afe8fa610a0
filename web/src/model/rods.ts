/** The rods of the frame: each window with what is told beside it. */
import type { AnsweredWindow } from "@/contract";

/** A window on its rod. at: among the windows, 0 the current one; unfair: it is no equal of the current one, or not whole. */
export interface Rod {
  window: AnsweredWindow;
  at: number;
  name: string;
  days: string;
  note: string;
  why: string | undefined;
  value: Total | null;
  change: Total | null;
  percent: Total | null;
  unfair: boolean;
}

/** A total in words, and whether it is good news. */
export interface Total {
  text: string;
  favour: number;
}

/** Pixels: of a rod with its beads, of what stands over the rods; units of the picture's width. */
export const ROD = 38;
export const TOP = 32;
export const WIDTH = 1000;
