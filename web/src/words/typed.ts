/** Phrases made of what is typed: any day, period, number of units, figure, name or formula. */
import { GRAINS } from "@/contract/vocabulary";
import { measureName, periodName } from "./names";
import { typedConditions } from "./typedConditions";
import { periodIn } from "./typedPeriod";
import { baseName, few } from "./typing";
import type { Answer, Base, CurrentWindow, Grain, PeriodBase, Statement } from "@/contract";
import { defineMeasure, setGoal, setLimit, setName } from "@/model/limits";
import * as edit from "@/model/statement";
import { yearOf, type Around, type Phrase } from "./phrases";
import { wordsOf } from "./told";

const MOST_UNITS = 400;
const UNIT_WORDS: Record<string, Grain> = {
  day: "day",
  week: "week",
  month: "month",
  quarter: "quarter",
  "half-year": "half_year",
  half: "half_year",
  year: "year",
};

/** All phrases that what is typed leads to. */
export function typedPhrases(statement: Statement, around: Around, text: string): Phrase[] {
  return [
    ...dayPhrases(statement, text),
    ...periodPhrases(statement, text),
    ...numberPhrases(statement, around, text),
    ...figurePhrases(statement, around, text),
    ...typedConditions(statement, around, text),
    ...goalPhrases(statement, around, text),
    ...namePhrases(statement, around, text),
  ];
}

/** Days: as of one, for and against those from one to another. */
function dayPhrases(statement: Statement, text: string): Phrase[] {
  const [first, last] = text.match(/\d{4}-\d{2}-\d{2}/g) ?? [];
  if (!first) return [];
  const window = { kind: "dates", first, last: last ?? null } as const;
  const base = { kind: "given", window } as const;
  return [
    ...(last ? [] : [{ words: `as of ${first}`, statement: edit.setAsOf(statement, first) }]),
    { words: `for ${first} to ${last ?? "the as-of date"}`, statement: edit.setWindow(statement, window) },
    ...(last
      ? [
          {
            words: `against ${first} to ${last}`,
            statement: edit.setBases(statement, [...statement.bases, base]),
          },
        ]
      : []),
  ];
}

/** A period by its name, sortable (2026-Q3) or as people say it (Q3 2026, March 2026, week 12 2026). */
function periodPhrases(statement: Statement, text: string): Phrase[] {
  const key = periodIn(text);
  if (!key) return [];
  const window: CurrentWindow = { kind: "period", period: key };
  const against = (base: Base): Statement => edit.setBases(statement, [...statement.bases, base]);
  return named(key).flatMap((words) => [
    { words: `for ${words}`, statement: edit.setWindow(statement, window) },
    { words: `against ${words}`, statement: against({ kind: "given", window }) },
    {
      words: `against the same period of ${words}`,
      statement: against({ kind: "fixed", period: key, align: "same_dates" }),
    },
  ]);
}

function named(key: string): string[] {
  return [...new Set([key, periodName(key)])];
}

/** So many units: the last ones, a base back or ahead, a moving figure, the top or bottom. */
function numberPhrases(statement: Statement, around: Around, text: string): Phrase[] {
  const { ledger, said } = around;
  const year = yearOf(around);
  const n = Number(/(?<![\d.-])(\d{1,3})(?![\d.%-])/.exec(text)?.[1]);
  if (!(n >= 1 && n <= MOST_UNITS)) return [];
  const grains = Object.entries(UNIT_WORDS).filter(([word]) => new RegExp(`\\b${word}s?\\b`, "i").test(text));
  const timed = edit.grains(statement).length > 0;
  const own = edit.grainOf(statement.window);
  const found: Phrase[] = [];
  for (const grain of new Set(grains.map(([, grain]) => grain))) {
    const units = few(n, GRAINS[grain]);
    const last = { kind: "last", count: n, grain } as const;
    found.push(
      {
        words: `for last ${units} completed`,
        statement: edit.setWindow(statement, { ...last, ending: "completed" }),
      },
      {
        words: `for last ${units} to the as-of date`,
        statement: edit.setWindow(statement, { ...last, ending: "as_of" }),
      },
      {
        words: `for the ${GRAINS[grain]} ${n} before the running one`,
        statement: edit.setWindow(statement, { kind: "running", grain, back: n }),
      },
    );
    if (!timed && grain !== own && grain !== "year")
      for (const back of [n, -n])
        found.push(baseOf(statement, { kind: "shifted", back, unit: grain, align: "same_dates" }, year));
  }
  const units: PeriodBase["unit"][] = [
    "year",
    ...(timed || !own ? ["period" as const] : own === "year" ? [] : [own]),
  ];
  for (const unit of units)
    for (const back of [n, -n])
      found.push(baseOf(statement, { kind: "period", back, unit, align: "same_dates" }, year));
  for (const [at, shown] of statement.measures.entries()) {
    if (timed && n > 1)
      for (const of of edit.isAdditive(shown.measure, ledger)
        ? (["mean", "sum"] as const)
        : (["sum"] as const))
        found.push({
          words: `${of} of the last ${n} of ${measureName(shown.measure)}`,
          statement: edit.setAlong(statement, at, { kind: "moving", periods: n, of, as_many: false }),
        });
    if (statement.rows.length)
      for (const bottom of [false, true])
        found.push({
          words: `showing the ${bottom ? "bottom" : "top"} ${n} by ${said.of("measures", at)}`,
          statement: setLimit(statement, null, {
            kind: "top",
            count: n,
            column: `${edit.metricId(shown)}.0.value`,
            level: statement.rows.filter((each) => typeof each === "string").at(-1) ?? null,
            bottom,
            rest: true,
            size: false,
          }),
        });
  }
  return found;
}

function baseOf(statement: Statement, base: Base, year: number): Phrase {
  return {
    words: `against ${baseName(base, statement, year)}`,
    statement: edit.setBases(statement, [...statement.bases, base]),
  };
}

/** Rows whose figure is at least, or at most, so much. */
function figurePhrases(statement: Statement, { said }: Around, text: string): Phrase[] {
  const figure = /(?:from|over|least|to|under|most)\s+(-?\d+(?:\.\d+)?)\s*$/.exec(text)?.[1];
  if (!figure || !statement.rows.length) return [];
  return statement.measures.flatMap((shown, at) => {
    const limit = { kind: "value", column: `${edit.metricId(shown)}.0.value`, level: null } as const;
    return [
      {
        words: `showing ${said.of("measures", at)} from ${figure}`,
        statement: setLimit(statement, null, { ...limit, at_least: figure, at_most: null }),
      },
      {
        words: `showing ${said.of("measures", at)} up to ${figure}`,
        statement: setLimit(statement, null, { ...limit, at_least: null, at_most: figure }),
      },
    ];
  });
}

/** A goal of each metric: a figure, or so many percent of each base. */
function goalPhrases(statement: Statement, { said }: Around, text: string): Phrase[] {
  const [, target, percent] = /\bgoal\b.*?(-?\d+(?:\.\d+)?)\s*(%)?/.exec(text) ?? [];
  if (!target) return [];
  return statement.measures.flatMap((shown, place): Phrase[] => {
    const goal = { metric: edit.metricId(shown), target, base: 1, direction: null, own: [] };
    const words = `with the goal ${said.of("measures", place)} ${target}`;
    if (!percent) return [{ words, statement: setGoal(statement, { ...goal, of: "figure" }) }];
    return statement.bases.map((_, at) => ({
      words: `${words}% of ${said.of("bases", at)}`,
      statement: setGoal(statement, { ...goal, of: "base", base: at + 1 }),
    }));
  });
}

/** A metric by another name, and a measure of one's own: "call net sales Turnover", "show margin = net_sales - cost". */
function namePhrases(statement: Statement, { ledger, said }: Around, text: string): Phrase[] {
  const called = /^call\s+(.+)$/i.exec(text.trim())?.[1] ?? "";
  const names = statement.measures.flatMap((_, at): Phrase[] => {
    const metric = said.of("measures", at);
    const name = called.toLowerCase().startsWith(`${metric} `) ? called.slice(metric.length + 1).trim() : "";
    return name ? [{ words: `call ${metric} ${name}`, statement: setName(statement, at, name) }] : [];
  });
  const [, own, expression] = /^(?:show\s+)?([a-z][\w ]*?)\s*=\s*(.+)$/i.exec(text.trim()) ?? [];
  const name = own?.trim().toLowerCase().replaceAll(" ", "_") ?? "";
  if (!name || !expression || ledger.measures.some((each) => each.name === name)) return names;
  const defined = { name, expression, unit: "number", decimals: 2, polarity: "more_is_favourable" } as const;
  return [
    ...names,
    { words: `show ${own?.trim()} = ${expression}`, statement: defineMeasure(statement, defined) },
  ];
}

/** Rows in the order of a column. */
export function sortPhrases(statement: Statement, columns: { id: string; words: string }[]): Phrase[] {
  return [
    ...columns.flatMap(({ id, words }) =>
      [true, false].map((descending) => ({
        words: `sorted by ${words}, ${descending ? "the largest first" : "the smallest first"}`,
        statement: { ...statement, sort: { column: id, descending } },
      })),
    ),
    ...(statement.sort ? [{ words: "sorted by name", statement: { ...statement, sort: null } }] : []),
  ];
}

/** Columns that rows can be sorted by, in words. */
export function sortable(answer: Answer | null): { id: string; words: string }[] {
  if (!answer) return [];
  return answer.columns
    .filter((each) => !each.across.length)
    .map((each) => ({ id: each.id, words: wordsOf(each, answer).named }));
}
