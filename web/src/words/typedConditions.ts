/** Conditions on the lines, typed: amount at least 100, delivery before the as-of date, product begins with P. */
import type { Condition, CurrentWindow, LedgerDescription, Statement } from "@/contract";
import { figureOf, setCondition, subjects } from "@/model/conditions";
import { RELATIONS } from "./conditions";
import { dayName, dimensionName } from "./names";
import { offeredWindows, yearOf, type Around, type Phrase } from "./phrases";
import { wholeWindowName } from "./typing";
import { periodIn } from "./typedPeriod";

/** What is typed, as conditions on what it names of the line; a day's are offered as soon as it is named. */
export function typedConditions(statement: Statement, around: Around, text: string): Phrase[] {
  const typed = text.trim().replace(/^only lines with\s+/i, "");
  const found = subjects(around.ledger).find(({ name }) =>
    `${typed.toLowerCase()} `.startsWith(`${calledOf(name).toLowerCase()} `),
  );
  if (!found) return [];
  const called = calledOf(found.name);
  const rest = typed.slice(called.length).trim();
  const phrase = (words: string, condition: Condition): Phrase => ({
    words: `only lines with ${called} ${words}`,
    statement: setCondition(statement, null, condition),
  });
  if (found.about === "day")
    return [
      ...compared(found.name, around.ledger).map(([words, condition]) => phrase(words, condition)),
      ...windowsIn(rest, yearOf(around)).map((window) =>
        phrase(`within ${wholeWindowName(window)}`, { kind: "within", day: found.name, window }),
      ),
    ];
  const condition = found.about === "figure" ? between(found.name, rest) : like(found.name, rest);
  return condition ? [phrase(rest, condition)] : [];
}

function calledOf(name: string): string {
  return name === "day" ? dayName(name) : dimensionName(name);
}

/** A day before, on or after each other day and the as-of date; told as the server tells it. */
function compared(day: string, ledger: LedgerDescription): [string, Condition][] {
  const others = ["as_of", "day", ...ledger.days.map(({ name }) => name)].filter((each) => each !== day);
  const relations = Object.keys(RELATIONS) as (keyof typeof RELATIONS)[];
  return relations.flatMap((relation) =>
    others.flatMap((other) =>
      [false, true].map((or_blank): [string, Condition] => [
        `${relation} the ${other === "as_of" ? "as-of date" : dayName(other)}${or_blank ? ", or none" : ""}`,
        { kind: "compared", day, relation, other, or_blank },
      ]),
    ),
  );
}

/** The windows that are offered, those that are typed first: a period by its name, from a day to another. */
function windowsIn(rest: string, year: number): CurrentWindow[] {
  const [first, last] = rest.match(/\d{4}-\d{2}-\d{2}/g) ?? [];
  const period = periodIn(rest);
  return [
    ...(first ? [{ kind: "dates", first, last: last ?? null } as const] : []),
    ...(period ? [{ kind: "period", period } as const] : []),
    ...offeredWindows(year),
  ];
}

function between(figure: string, rest: string): Condition | null {
  const number = "(-?[\\d.,]+)";
  const [, low, high] = new RegExp(`^from ${number} to ${number}$`, "i").exec(rest) ?? [];
  const least = low ?? new RegExp(`^at least ${number}$`, "i").exec(rest)?.[1];
  const most = high ?? new RegExp(`^at most ${number}$`, "i").exec(rest)?.[1];
  const [at_least, at_most] = [figureOf(least ?? ""), figureOf(most ?? "")];
  if (at_least === undefined || at_most === undefined || (at_least === null && at_most === null)) return null;
  return { kind: "figure", figure, at_least, at_most };
}

function like(dimension: string, rest: string): Condition | null {
  const [, way = "", text = ""] = /^(begins with|contains|equals)\s+(.+)$/i.exec(rest) ?? [];
  if (!text) return null;
  const relation = way.toLowerCase().startsWith("begins")
    ? "begins"
    : (way.toLowerCase() as "contains" | "equals");
  return { kind: "text", dimension, relation, text, exclude: false };
}
