/** Words of the calendar. */
import type { LedgerSettings } from "@/contract";

export const WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

export const MONTHS = [
  "January",
  "February",
  "March",
  "April",
  "May",
  "June",
  "July",
  "August",
  "September",
  "October",
  "November",
  "December",
];

export const PATTERNS = ["4-4-5", "4-5-4", "5-4-4"] as const;

/** What an as-of date follows by itself. */
export const POLICIES: { words: string; policy: LedgerSettings["as_of"] }[] = [
  { words: "the last posted day", policy: { kind: "last_posted" } },
  { words: "today", policy: { kind: "today" } },
  { words: "the last completed day", policy: { kind: "last_completed", grain: "day" } },
  { words: "the last completed week", policy: { kind: "last_completed", grain: "week" } },
  { words: "the last completed month", policy: { kind: "last_completed", grain: "month" } },
  { words: "the last completed quarter", policy: { kind: "last_completed", grain: "quarter" } },
];
