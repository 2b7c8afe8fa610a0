/** Every step from a statement to another one, in words: what can be typed and completed. */
import { ALIGNMENTS, ALIGNMENTS_OF, CUTS, GRAINS, SHOWS } from "@/contract/vocabulary";
import { dimensionName, levelName, measureName } from "./names";
import { baseName, windowName } from "./typing";
import { soughtIn } from "./synonyms";
import type {
  Base,
  CurrentWindow,
  LedgerDescription,
  MemberListed,
  PeriodBase,
  RowLevel,
  Show,
  Statement,
  StatementTold,
} from "@/contract";
import { goDown, goUp } from "@/model/going";
import { setCondition, setDay, withoutCondition } from "@/model/conditions";
import { removeGoal, removeLimit, setLimit } from "@/model/limits";
import { dimensionsFor } from "@/model/periodLevel";
import * as edit from "@/model/statement";
import { POLICIES } from "./calendar";
import type { Pieces } from "./told";

export interface Phrase {
  words: string;
  /** What it leads to; null where it only begins a longer phrase. */
  statement: Statement | null;
}

const TO_DATE = ["week", "month", "quarter", "half_year", "year"] as const;

/** Phrases that begin a search for members: where region is …, showing only region … */
export function memberPhrase(
  text: string,
  ledger: LedgerDescription,
): { dimension: string; search: string } | null {
  const found = /^(?:where|showing only)\s+(.+)$/i.exec(text.trim());
  if (!found) return null;
  const rest = found[1]?.toLowerCase() ?? "";
  for (const { name } of ledger.dimensions) {
    const called = dimensionName(name);
    if (rest === called || rest.startsWith(`${called} `))
      return { dimension: name, search: rest.slice(called.length).replace(/^\s*(is\s*)?(not\s*)?/, "") };
  }
  return null;
}

/** Phrases for members that were found for what is typed. */
export function wherePhrases(statement: Statement, dimension: string, members: MemberListed[]): Phrase[] {
  const isRow = statement.rows.includes(dimension);
  const counted = statement.filters.find((each) => each.dimension === dimension);
  return members.slice(0, 12).flatMap(({ key, label }) => [
    ...[false, true].map((exclude) => ({
      words: `where ${dimensionName(dimension)} is ${exclude ? "not " : ""}${label}`,
      statement: edit.setFilter(statement, dimension, [key], exclude),
    })),
    ...(counted && !counted.members.includes(key)
      ? [
          {
            words: `where ${dimensionName(dimension)} is also ${label}`,
            statement: edit.setFilter(statement, dimension, [...counted.members, key], !!counted.exclude),
          },
        ]
      : []),
    ...(isRow
      ? [
          {
            words: `showing only ${dimensionName(dimension)} ${label}`,
            statement: setLimit(statement, null, { kind: "members", dimension, members: [key] }),
          },
        ]
      : []),
  ]);
}

/** What phrases are made of beside the statement: its ledger, what is said of it by now, the as-of date. */
export interface Around {
  ledger: LedgerDescription;
  said: Pieces;
  told: StatementTold | null;
  asOf: string;
}

export function yearOf({ asOf }: Around): number {
  return Number(asOf.slice(0, 4));
}

/** All phrases that fit a statement. */
export function phrases(statement: Statement, around: Around): Phrase[] {
  return [
    ...measurePhrases(statement, around),
    ...levelPhrases(statement, around.ledger),
    ...windowPhrases(statement, yearOf(around)),
    ...basePhrases(statement, around),
    ...restPhrases(statement, around),
    ...conditionPhrases(statement, around),
    ...conventionPhrases(statement, around),
  ];
}

function measurePhrases(statement: Statement, { ledger, said, told }: Around): Phrase[] {
  const offered = ledger.measures.filter((each) => !each.unavailable);
  const shown = statement.measures;
  const added = offered
    .filter((each) => !shown.some((one) => one.measure === each.name))
    .map((each) => ({
      words: `show ${measureName(each.name)}`,
      statement: edit.addMeasure(statement, each.name),
    }));
  const removed =
    shown.length > 1
      ? shown.map((_, at) => ({
          words: `without ${said.of("measures", at)}`,
          statement: edit.removeMeasure(statement, at),
        }))
      : [];
  const beside = shown.flatMap((each, at) =>
    (Object.keys(SHOWS) as Show[])
      .filter((show) => !told?.refusals[at]?.[show])
      .map((show) => {
        const has = each.show.includes(show);
        const next = has ? each.show.filter((one) => one !== show) : [...each.show, show];
        return {
          words: `${said.of("measures", at)} ${has ? "without" : "with"} ${SHOWS[show]}`,
          statement: edit.setShow(statement, at, next),
        };
      }),
  );
  const along = edit.grains(statement).length
    ? shown.flatMap((each, at) =>
        each.along
          ? [
              {
                words: `${said.of("measures", at)}: the period's own figure`,
                statement: edit.setAlong(statement, at, null),
              },
            ]
          : [
              {
                words: `running total of ${measureName(each.measure)} from each year's start`,
                statement: edit.setAlong(statement, at, { kind: "running", reset: "year" }),
              },
              ...(edit.isAdditive(each.measure, ledger)
                ? [
                    {
                      words: `mean of the last 3 of ${measureName(each.measure)}`,
                      statement: edit.setAlong(statement, at, {
                        kind: "moving",
                        periods: 3,
                        of: "mean",
                        as_many: false,
                      }),
                    },
                  ]
                : []),
            ],
      )
    : [];
  return [...added, ...removed, ...beside, ...along];
}

function levelPhrases(statement: Statement, ledger: LedgerDescription): Phrase[] {
  const times: RowLevel[] = (Object.keys(GRAINS) as (keyof typeof GRAINS)[]).map((time) => ({ time }));
  const levels: RowLevel[] = [...dimensionsFor(ledger, statement).map((each) => each.name), ...times];
  const taken = [...statement.rows, ...statement.across].map(edit.levelKey);
  const free = levels.filter((each) => !taken.includes(edit.levelKey(each)));
  const found: Phrase[] = [];
  for (const each of free) {
    found.push({
      words: `by ${levelName(each)}`,
      statement: edit.setLevels(statement, "rows", [...statement.rows, each]),
    });
    found.push({
      words: `across ${levelName(each)}`,
      statement: edit.setLevels(statement, "across", [...statement.across, each]),
    });
  }
  const across = statement.across.map(edit.levelKey);
  const only = levels.filter((each) => !across.includes(edit.levelKey(each)));
  for (const each of only)
    if (statement.rows.length !== 1 || edit.levelKey(each) !== edit.levelKey(statement.rows[0] ?? ""))
      found.push({
        words: `only by ${levelName(each)}`,
        statement: edit.setLevels(statement, "rows", [each]),
      });
  for (const way of ["rows", "across"] as const)
    for (const each of statement[way])
      found.push({
        words: `not ${way === "rows" ? "by" : "across"} ${levelName(each)}`,
        statement: edit.setLevels(
          statement,
          way,
          statement[way].filter((one) => one !== each),
        ),
      });
  const down = goDown(statement);
  const up = goUp(statement);
  if (down) found.push({ words: "down in time", statement: down });
  if (up) found.push({ words: "up in time", statement: up });
  return found;
}

/** The months of a year and the two before it, the newest first. */
function monthsOf(year: number): string[] {
  const years = [year, year - 1, year - 2];
  return years.flatMap((each) =>
    Array.from({ length: 12 }, (_, at) => `${each}-${String(12 - at).padStart(2, "0")}`),
  );
}

/** The windows that phrases offer before anything is typed of them. */
export function offeredWindows(year: number): CurrentWindow[] {
  const years = [year, year - 1, year - 2].map(String);
  const quarters = years.flatMap((each) => [4, 3, 2, 1].map((quarter) => `${each}-Q${quarter}`));
  return [
    ...TO_DATE.map((grain) => ({ kind: "to_date", grain }) as const),
    ...(["day", "week", "month", "quarter", "year"] as const).map(
      (grain) => ({ kind: "running", grain, back: 1 }) as const,
    ),
    ...[...years, ...quarters, ...monthsOf(year)].map((period) => ({ kind: "period", period }) as const),
    ...[3, 6, 12, 24].map((count) => ({ kind: "last", count, grain: "month", ending: "completed" }) as const),
    ...[7, 30, 90].map((count) => ({ kind: "last", count, grain: "day", ending: "as_of" }) as const),
  ];
}

function windowPhrases(statement: Statement, year: number): Phrase[] {
  return [
    ...offeredWindows(year).map((window) => ({
      words: `for ${windowName(window)}${window.kind === "last" && window.ending === "completed" ? " completed" : ""}`,
      statement: edit.setWindow(statement, window),
    })),
    ...POLICIES.map(({ words, policy }) => ({
      words: `as of ${words}`,
      statement: { ...statement, as_of: policy },
    })),
    ...monthsOf(year)
      .map(lastDay)
      .map((day) => ({
        words: `as of ${day}`,
        statement: edit.setAsOf(statement, day),
      })),
  ];
}

function lastDay(month: string): string {
  const [year = 1970, number = 1] = month.split("-").map(Number);
  return new Date(Date.UTC(year, number, 0)).toISOString().slice(0, 10);
}

function basePhrases(statement: Statement, around: Around): Phrase[] {
  const year = yearOf(around);
  const timed = edit.grains(statement).length > 0;
  const grain = edit.grainOf(statement.window);
  const own: PeriodBase["unit"] = timed || !grain ? "period" : grain;
  const step = (back: number, unit: PeriodBase["unit"]): Base => ({
    kind: "period",
    back,
    unit,
    align: "same_dates",
  });
  const offered: Base[] = [
    ...(own === "year" ? [] : [step(1, own), step(2, own), step(-1, own)]),
    ...[1, 2, 3, -1].map((back) => step(back, "year")),
    ...(timed
      ? []
      : (["month", "quarter"] as const)
          .filter((unit) => unit !== own)
          .map((unit): Base => ({ kind: "shifted", back: 1, unit, align: "same_dates" }))),
    ...[year - 1, year - 2].map((each): Base => ({
      kind: "fixed",
      period: String(each),
      align: "same_dates",
    })),
  ];
  return [
    ...offered
      .filter((each) => !statement.bases.some((known) => edit.sameBase(known, each)))
      .map((each) => ({
        words: `against ${baseName(each, statement, year)}`,
        statement: edit.setBases(statement, [...statement.bases, each]),
      })),
    ...statement.bases.map((_, at) => ({
      words: `not against ${around.said.of("bases", at)}`,
      statement: edit.setBases(
        statement,
        statement.bases.filter((_, other) => other !== at),
      ),
    })),
  ];
}

function restPhrases(statement: Statement, { ledger, said }: Around): Phrase[] {
  const first = statement.measures[0];
  const column = first ? `${edit.metricId(first)}.0.value` : "";
  const level = statement.rows.filter((each) => typeof each === "string").at(-1) ?? null;
  const found: Phrase[] = [
    ...dimensionsFor(ledger, statement).map((each) => ({
      words: `where ${dimensionName(each.name)} is …`,
      statement: null,
    })),
    ...statement.rows
      .filter((each) => typeof each === "string")
      .map((each) => ({ words: `showing only ${dimensionName(each)} …`, statement: null })),
    ...statement.filters.map((each) => ({
      words: `not where ${dimensionName(each.dimension)}`,
      statement: edit.setFilter(statement, each.dimension, [], false),
    })),
    ...statement.limits.map((each, at) => ({
      words: `show all rows again (${each.kind})`,
      statement: removeLimit(statement, at),
    })),
  ];
  if (statement.rows.length && first)
    for (const count of [5, 10, 20])
      for (const bottom of [false, true])
        found.push({
          words: `showing the ${bottom ? "bottom" : "top"} ${count} by ${said.of("measures")}`,
          statement: setLimit(statement, null, {
            kind: "top",
            count,
            column,
            level,
            bottom,
            rest: true,
            size: false,
          }),
        });
  if (statement.rows.length && statement.bases.length)
    for (const status of ["kept", "new", "lost"] as const)
      found.push({
        words: `showing only ${status}`,
        statement: setLimit(statement, null, { kind: "status", status: [status], level: null, base: 1 }),
      });
  return found;
}

/** By which day lines are counted, and what they have or lack. */
function conditionPhrases(statement: Statement, { ledger, said }: Around): Phrase[] {
  const days = ["", ...ledger.days.map((each) => each.name)].filter((each) => each !== statement.day);
  const things = [...ledger.figures, ...ledger.days]
    .map((each) => each.name)
    .filter((name) => name !== "amount");
  return [
    ...days
      .filter((each) => each || ledger.days.length)
      .map((each) => ({
        words: each ? `counted by ${dimensionName(each)}` : "counted by the usual day",
        statement: setDay(statement, each),
      })),
    ...things.flatMap((of) =>
      [true, false].map((given) => ({
        words: `only lines ${given ? "with" : "without"} a ${dimensionName(of)}`,
        statement: setCondition(statement, null, { kind: "given", of, given }),
      })),
    ),
    ...statement.conditions.map((_, at) => ({
      words: `not only lines with ${said.of("conditions", at)}`,
      statement: withoutCondition(statement, at),
    })),
  ];
}

/** How the statement is read: its conventions, how bases are matched, where periods are cut; and the goals that go. */
function conventionPhrases(statement: Statement, { said, told }: Around): Phrase[] {
  const conventions = (told?.conventions ?? []).flatMap(({ title, choices, chosen }) =>
    choices
      .filter((choice) => choice.key !== chosen)
      .map((choice) => ({
        words: choice.said || `usual reading: ${title.toLowerCase()} ${choice.label}`,
        statement: { ...statement, ...(choice.change as Partial<Statement>) },
      })),
  );
  const matched = statement.bases.flatMap((base, at) =>
    ALIGNMENTS_OF[base.kind]
      .filter((align) => align !== ("align" in base ? (base.align ?? "same_dates") : ""))
      .map((align) => ({
        words: `match ${said.of("bases", at)} by ${ALIGNMENTS[align]}`,
        statement: edit.setBases(
          statement,
          statement.bases.map((each, other) => (other === at ? ({ ...base, align } as Base) : each)),
        ),
      })),
  );
  const other = statement.cut === "as_of" ? "same_point" : "as_of";
  const cuts = edit.grains(statement).length
    ? [{ words: CUTS[other], statement: { ...statement, cut: other } as Statement }]
    : [];
  const goals = statement.goals.map((goal, at) => ({
    words: `without the goal ${said.of("goals", at)}`,
    statement: removeGoal(statement, goal.metric),
  }));
  return [...conventions, ...matched, ...cuts, ...goals];
}

/** Phrases that hold every word that is typed, those that begin with it first. */
export function matching<Item extends { words: string }>(all: Item[], typed: string): Item[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const start = typed.trim().toLowerCase();
  return all
    .filter((each) => words.every((word) => soughtIn(each.words).includes(word)))
    .sort((one, other) => rank(one.words) - rank(other.words));

  function rank(text: string): number {
    const lower = text.toLowerCase();
    return lower === start ? 0 : lower.startsWith(start) ? 1 : 2;
  }
}
