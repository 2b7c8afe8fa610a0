/** Changes to a statement: each takes one and gives a new one that is still whole. */
import type {
  Along,
  Base,
  CurrentWindow,
  Grain,
  LedgerDescription,
  MemberKey,
  Opened,
  RowLevel,
  Show,
  ShownMeasure,
  Statement,
} from "@/contract";

import { AGAINST, OF_ROWS, PLAIN_MEASURE, PLAIN_STATEMENT } from "@/contract/vocabulary";

export interface Question {
  ledger: string;
  statement: Statement;
  opened: Opened;
}

const SHARES: Show[] = ["share_of_all", "share_of_parent"];

export function isShare(show: Show): boolean {
  return SHARES.includes(show);
}

/** A statement with every part, those that are left out as the server takes them. */
export function whole(parts: Partial<Statement>): Statement {
  const bases = (parts.bases ?? []).map((base): Base => {
    // A link may leave out what goes without saying.
    const kind = base.kind ?? "period";
    return kind === "period" || kind === "shifted" ? ({ align: "same_dates", ...base, kind } as Base) : base;
  });
  const measures = (parts.measures ?? []).map((each) => ({
    ...metric(each.measure),
    ...each,
    along:
      each.along?.kind === "moving"
        ? { by: null, ...each.along, of: each.along.of ?? "mean", as_many: each.along.as_many ?? false }
        : each.along
          ? { by: null, ...each.along }
          : null,
  }));
  return {
    ...PLAIN_STATEMENT,
    ...parts,
    bases,
    measures,
  };
}

export function metric(measure: string, show: Show[] = []): ShownMeasure {
  return { ...PLAIN_MEASURE, measure, show };
}

/** How a metric is told in the ids of columns: its measure, and what it runs along. */
export function metricId(shown: ShownMeasure): string {
  return shown.along ? `${shown.measure}~${alongName(shown.along)}` : shown.measure;
}

export function alongName(along: Along): string {
  if (along.kind === "running") return along.reset ? `running_${along.reset}` : "running";
  return `moving_${along.of}_${along.periods}${along.as_many ? "_or_fewer" : ""}`;
}

/** The levels of time in rows and across. */
export function grains(statement: Statement): Grain[] {
  return [...statement.rows, ...statement.across].flatMap((each) =>
    typeof each === "string" ? [] : [each.time],
  );
}

export function levelKey(level: RowLevel): string {
  return typeof level === "string" ? level : `time:${level.time}`;
}

export function levelOf(key: string): RowLevel {
  return key.startsWith("time:") ? { time: key.slice(5) as Grain } : key;
}

/** The step of the window to the one before it, where it is a period. */
export function grainOf(window: CurrentWindow): Grain | null {
  if (window.kind === "to_date" || window.kind === "running") return window.grain;
  if (window.kind !== "period") return null;
  const part = window.period.slice(5);
  if (!part) return "year";
  if (/^[HQPW]/.test(part))
    return { H: "half_year", Q: "quarter", P: "month", W: "week" }[part[0] ?? ""] as Grain;
  return part.length > 2 ? "day" : "month";
}

/** Whether a measure's figures add up over periods and members; one of the statement's own does not. */
export function isAdditive(measure: string, ledger: LedgerDescription): boolean {
  return ledger.measures.some((each) => each.name === measure && each.kind === "additive");
}

/** Another measure, compared by its % change where there is something to compare with. */
export function addMeasure(statement: Statement, measure: string): Statement {
  const show: Show[] = statement.bases.length ? ["percent_change"] : [];
  // A measure that is there already comes again as what it runs to.
  const again = statement.measures.some((each) => each.measure === measure && !each.along);
  const shown = {
    ...metric(measure, show),
    along: again ? ({ kind: "running", reset: "year", by: null } as const) : null,
  };
  return { ...statement, measures: [...statement.measures, shown] };
}

/** The last measure stays: a statement shows something. */
export function removeMeasure(statement: Statement, at: number): Statement {
  if (statement.measures.length < 2) return statement;
  return settled({ ...statement, measures: statement.measures.filter((_, other) => other !== at) });
}

export function replaceMeasure(statement: Statement, at: number, by: string, derived: boolean): Statement {
  return changeMeasure(statement, at, (each) => ({
    ...each,
    measure: by,
    show: derived ? each.show.filter((show) => !isShare(show)) : each.show,
    shares: derived ? [] : each.shares,
  }));
}

/** What stands beside a measure; without a share nothing that is said of one. */
export function setShow(statement: Statement, at: number, show: Show[]): Statement {
  const shares = show.some(isShare);
  return changeMeasure(statement, at, (each) => ({
    ...each,
    show:
      shares || each.shares.length ? show : show.filter((one) => one !== "scope" && one !== "share_change"),
  }));
}

/** What a measure's figures run along: nothing, the periods so far, or the last few. */
export function setAlong(statement: Statement, at: number, along: Along | null): Statement {
  return changeMeasure(statement, at, (each) => ({ ...each, along: along && { by: null, ...along } }));
}

function changeMeasure(
  statement: Statement,
  at: number,
  change: (shown: ShownMeasure) => ShownMeasure,
): Statement {
  const measures = statement.measures.map((each, other) => (other === at ? change(each) : each));
  return settled({ ...statement, measures });
}

/** Levels down or across in a new order or number. */
export function setLevels(statement: Statement, way: "rows" | "across", levels: RowLevel[]): Statement {
  return settled({ ...statement, [way]: levels });
}

/** Another window; bases that stepped by its own grain step by the new one. */
export function setWindow(statement: Statement, window: CurrentWindow): Statement {
  const before = grainOf(statement.window);
  const after = grainOf(window);
  const bases = statement.bases.map((base): Base => {
    if (base.kind !== "period" || base.unit === "year" || base.unit === "period" || base.unit !== before)
      return base;
    return { ...base, unit: after && after !== "day" ? after : "period" };
  });
  return settled({ ...statement, window, bases: unique(bases) });
}

/** The units that a base steps by, from one to the next and round again. */
const UNITS = ["year", "quarter", "month"] as const;

/**
 * The first base stepped by the next units in turn (a year, a quarter, a month before): of each unit the period before, then the
 * same days that much earlier, since not every window has a period before of every unit. None where there is no such base.
 */
export function turnedBaseUnits(statement: Statement): Statement[] {
  const at = statement.bases.findIndex((each) => each.kind === "period" || each.kind === "shifted");
  const base = statement.bases[at];
  if (base?.kind !== "period" && base?.kind !== "shifted") return [];
  const from = UNITS.findIndex((each) => each === base.unit);
  const next = [1, 2, 3].map((step) => UNITS[(from + step) % UNITS.length] ?? "year");
  return next
    .filter((unit) => unit !== base.unit)
    .flatMap((unit): Base[] => [
      base.kind === "period"
        ? { ...base, unit }
        : { kind: "period", back: base.back, unit, align: "same_dates" },
      { kind: "shifted", back: base.back, unit, align: "same_dates" },
    ])
    .map((turned) =>
      setBases(
        statement,
        statement.bases.map((each, place) => (place === at ? turned : each)),
      ),
    );
}

/** Bases; where none is left, what compares goes with them. */
export function setBases(statement: Statement, bases: Base[]): Statement {
  return settled({ ...statement, bases: unique(bases) });
}

/** Without order, and without what no longer has a ground: comparisons without bases, figures that run along no periods. */
function settled(statement: Statement): Statement {
  const timed = grains(statement).length > 0;
  const measures = statement.measures.map((each) => ({
    ...each,
    along: timed || each.along?.by ? (each.along ?? null) : null,
    show: each.show.filter(
      (show) =>
        (statement.bases.length || !AGAINST.includes(show)) &&
        (statement.rows.length || !OF_ROWS.includes(show)),
    ),
  }));
  const ids = measures.map(metricId);
  return {
    ...statement,
    measures: measures.filter((each, at) => ids.indexOf(metricId(each)) === at),
    cut: timed ? statement.cut : "as_of",
    goals: statement.goals.filter((goal) => ids.includes(goal.metric)),
    sort: null,
  };
}

export function setAsOf(statement: Statement, day: string): Statement {
  return { ...statement, as_of: { kind: "pinned", day } };
}

/** Only these members are counted; none: the filter goes. */
export function setFilter(
  statement: Statement,
  dimension: string,
  members: MemberKey[],
  exclude: boolean,
): Statement {
  const others = statement.filters.filter((each) => each.dimension !== dimension);
  return { ...statement, filters: members.length ? [...others, { dimension, members, exclude }] : others };
}

/** Descending, then ascending, then by name again. */
export function turnSort(statement: Statement, column: string): Statement {
  const sort = statement.sort;
  if (sort?.column !== column) return { ...statement, sort: { column, descending: true } };
  return { ...statement, sort: sort.descending ? { column, descending: false } : null };
}

export function samePath(one: MemberKey[], other: MemberKey[]): boolean {
  return one.length === other.length && one.every((key, at) => key === other[at]);
}

/** Open or close one row; a row that its depth holds open is closed by naming its open siblings instead. */
export function toggleRow(
  opened: Opened,
  path: MemberKey[],
  isOpen: boolean,
  openNow: MemberKey[][],
): Opened {
  if (!isOpen) return { ...opened, paths: [...opened.paths, path] };
  if (opened.depth > path.length) {
    return {
      depth: path.length,
      paths: openNow.filter((each) => !samePath(each, path) && each.length >= path.length),
    };
  }
  return { ...opened, paths: opened.paths.filter((each) => !samePath(each, path)) };
}

/** The parts in which two statements differ. */
export function changedParts(one: Statement, other: Statement): string[] {
  const names = Object.keys(whole({})) as (keyof Statement)[];
  const [before, after] = [whole(one), whole(other)];
  return names.filter((name) => JSON.stringify(before[name]) !== JSON.stringify(after[name]));
}

/** Bases without those that are there already. */
function unique(bases: Base[]): Base[] {
  return bases.filter((base, at) => bases.findIndex((each) => sameBase(each, base)) === at);
}

/** Whether two bases are the same, in whatever order their parts are written and whatever goes without saying in one. */
export function sameBase(one: Base, other: Base): boolean {
  const said = (base: Base): string =>
    JSON.stringify(
      Object.entries({ align: "same_dates", ...base })
        .filter(([, value]) => value !== null && value !== undefined)
        .sort(),
    );
  return said(one) === said(other);
}
