/** Words by code, defaults and rules that are the server's: `vocabulary.json` is printed by it. */
import type { Along, Base, Chart, ColumnUse, Grain, Layout, Show, ShownMeasure, Statement } from "./index";
import vocabulary from "./vocabulary.json";

type Words = Record<string, string>;
type Role = ColumnUse["role"];

/** What a column of a role is: the files that have it, how it is written, what it is called, whether it is told. */
export interface RoleRule {
  kinds: string[];
  written: "date" | "number" | "text";
  named: "itself" | "role" | "nothing";
  told: boolean;
}

export const MEASURES: Words = vocabulary.measures;
export const DEFINITIONS: Words = vocabulary.definitions;
export const SHOWS = vocabulary.shows as Record<Show, string>;
/** What each of them means. */
export const SHOW_NOTES = vocabulary.show_notes as Record<Show, string>;
export const HEADINGS: Words = vocabulary.headings;
export const STEPS: Words = vocabulary.steps;
export const ALIGNMENTS: Words = vocabulary.alignments;
export const GRAINS = vocabulary.grains as Record<Grain, string>;
export const REASONS: Words = vocabulary.reasons;
export const SHORT_REASONS: Words = vocabulary.short_reasons;
export const FAIRNESS: Words = vocabulary.fairness;
/** What kinds of bases there are, for whoever points at one. */
export const BASES = vocabulary.bases as Record<Base["kind"], string>;
export const STATUS: Words = vocabulary.status;
export const TERMS: Words = vocabulary.terms;
export const SPREADS: Words = vocabulary.spreads;
export const UNITS = vocabulary.units as Record<Statement["defined"][number]["unit"], string>;
export const POLARITIES = vocabulary.polarities as Record<Statement["defined"][number]["polarity"], string>;
export const PART_NAMES: Words = vocabulary.parts;
export const CUTS = vocabulary.cuts as Record<Statement["cut"], string>;
export const MONTHS: string[] = vocabulary.months;

/** What figures can run along, as it is offered. */
export const ALONGS = vocabulary.alongs as { along: Along; words: string }[];
/** In which ways a base of a kind can be matched with the current window. */
export const ALIGNMENTS_OF = vocabulary.alignments_of as Record<Base["kind"], string[]>;
/** What compares with a base, and what is said of a row among others. */
export const AGAINST = vocabulary.against_a_base as Show[];
export const OF_ROWS = vocabulary.of_rows as Show[];
export const ROLE_RULES = vocabulary.roles as Record<Role, RoleRule>;

/** What each part takes where nothing is said. */
export const PLAIN_STATEMENT = vocabulary.defaults.statement as unknown as Omit<Statement, "measures">;
export const PLAIN_MEASURE = vocabulary.defaults.measure as unknown as Omit<ShownMeasure, "measure">;
export const PLAIN: Layout = vocabulary.defaults.layout as unknown as Layout;
export const PLAIN_CHART: Chart = vocabulary.defaults.chart as unknown as Chart;
