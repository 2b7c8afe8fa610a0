import { dimensionName } from "./names";

/** How a day or a text of a line is held against something. */
export const RELATIONS = { before: "lies before", on: "is the same as", after: "lies after" } as const;
export const LIKE = { begins: "begins with", contains: "contains", equals: "equals" } as const;

/** What of a line a condition is about, as it is called. */
export function subjectName(name: string): string {
  return name === "day" ? "usual day" : dimensionName(name);
}
