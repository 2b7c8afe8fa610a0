/** Conditions on the lines that are counted, and the day by which they are. */
import type { Condition, LedgerDescription, Statement } from "@/contract";

/** A statement counted by another of the lines' days; '' for the usual one. Returns then lie on their own day. */
export function setDay(statement: Statement, day: string): Statement {
  return { ...statement, day, ...(day ? { returns: "own_day" as const } : {}) };
}

/** A statement with a condition in a place; at the end where null. */
export function setCondition(statement: Statement, at: number | null, condition: Condition): Statement {
  const others = statement.conditions;
  const same = others.some((each) => JSON.stringify(each) === JSON.stringify(condition));
  if (same) return statement;
  const next =
    at === null ? [...others, condition] : others.map((each, other) => (other === at ? condition : each));
  return { ...statement, conditions: next };
}

export function withoutCondition(statement: Statement, at: number): Statement {
  return { ...statement, conditions: statement.conditions.filter((_, other) => other !== at) };
}

/** What a condition can be about: a figure, a day or a text of the line. */
export type About = "figure" | "day" | "text";
export interface Subject {
  about: About;
  name: string;
}

/** Everything on a ledger's lines that a condition can be about. */
export function subjects(ledger: LedgerDescription): Subject[] {
  return [
    ...ledger.figures.map(({ name }) => ({ about: "figure" as const, name })),
    ...(ledger.days.length ? ["day", ...ledger.days.map(({ name }) => name)] : []).map((name) => ({
      about: "day" as const,
      name,
    })),
    ...ledger.dimensions
      .filter(({ name }) => !name.includes("."))
      .map(({ name }) => ({ about: "text" as const, name })),
  ];
}

export function subjectOf(condition: Condition, ledger: LedgerDescription): Subject {
  switch (condition.kind) {
    case "figure":
      return { about: "figure", name: condition.figure };
    case "within":
    case "compared":
      return { about: "day", name: condition.day };
    case "text":
      return { about: "text", name: condition.dimension };
    default:
      return (
        subjects(ledger).find(({ name }) => name === condition.of) ?? { about: "text", name: condition.of }
      );
  }
}

/** A figure as it is typed (1,234.50) as plain decimal text; null for none, undefined for what is no number. */
export function figureOf(text: string): string | null | undefined {
  const plain = text.replace(/[\s,'_]/g, "").replace("−", "-");
  if (!plain) return null;
  return /^-?\d+(\.\d+)?$/.test(plain) ? plain : undefined;
}
