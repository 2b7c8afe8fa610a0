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
  PeriodBase,
} from "@/contract";

export interface Question {
  ledger: string;
  statement: Statement;
  opened: Opened;
}

const SHARES: Show[] = ["share_of_all", "share_of_parent"];

export function isShare(show: Show): boolean {
  return SHARES.includes(show);
}

/** The statement that a ledger opens with: its year to date against the same dates last year, by region and rep. */
export function firstStatement(ledger: LedgerDescription): Statement {
  const names = ledger.dimensions.map((each) => each.name);
  const wanted = ["region", "rep", "channel", "customer", "product"].filter((name) => names.includes(name));
  const others = ledger.dimensions.filter((each) => each.role !== "order").map((each) => each.name);
  const rows = (wanted.length ? wanted : others).slice(0, 2);
  const orders = ledger.measures.find((each) => each.name === "orders" && !each.unavailable);
  const measures = [metric("net_sales", ["difference", "percent_change", "share_of_all"])];
  if (orders) measures.push(metric("orders", ["percent_change"]));
  return whole({
    measures,
    rows,
    as_of: ledger.as_of,
    bases: [{ back: 1, unit: "year", align: "same_dates", kind: "period" }],
  });
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
        ? { ...each.along, of: each.along.of ?? "mean", as_many: each.along.as_many ?? false }
        : (each.along ?? null),
  }));
  return {
    rows: [],
    window: { grain: "year", kind: "to_date" },
    as_of: { kind: "last_posted" },
    filters: [],
    sort: null,
    levels: "as_it_was",
    returns: "own_day",
    refunds: "divided",
    returns_within: "as_of",
    across: [],
    cut: "as_of",
    defined: [],
    limits: [],
    goals: [],
    items: [],
    negative_bases: "undefined",
    all_members: false,
    feeds_end: "each",
    shares_add_up: false,
    unit_of_measure: null,
    ...parts,
    bases,
    measures,
  };
}

export function metric(measure: string, show: Show[] = []): ShownMeasure {
  return { measure, show, shares: [], name: "" };
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
    along: again ? ({ kind: "running", reset: "year" } as const) : null,
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
  return changeMeasure(statement, at, (each) => ({ ...each, along }));
}

function changeMeasure(
  statement: Statement,
  at: number,
  change: (shown: ShownMeasure) => ShownMeasure,
): Statement {
  const measures = statement.measures.map((each, other) => (other === at ? change(each) : each));
  return settled({ ...statement, measures });
}

/** Levels of one side in a new order or number. */
export function setLevels(statement: Statement, side: "rows" | "across", levels: RowLevel[]): Statement {
  return settled({ ...statement, [side]: levels });
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
const UNITS: PeriodBase["unit"][] = ["year", "quarter", "month"];

/** The first base stepped by the next unit: a year, a quarter, a month before. Null where it is no period before. */
export function turnBaseUnit(statement: Statement): Statement | null {
  const at = statement.bases.findIndex((each) => each.kind === "period");
  const base = statement.bases[at];
  if (base?.kind !== "period") return null;
  // In a series a month before is the period before of months: it is told by its own unit all the same.
  const next = UNITS[(UNITS.indexOf(base.unit) + 1) % UNITS.length] ?? "year";
  const bases = statement.bases.map((each, place) => (place === at ? { ...base, unit: next } : each));
  return setBases(statement, bases);
}

/** Bases; where none is left, what compares goes with them. */
export function setBases(statement: Statement, bases: Base[]): Statement {
  return settled({ ...statement, bases: unique(bases) });
}

export const AGAINST: Show[] = [
  "difference",
  "percent_change",
  "attainment",
  "index",
  "contribution",
  "share_change",
  "bridge",
  "price_volume_mix",
];

/** Why a measure cannot show something in a statement; null where it can. */
export function showRefusal(
  statement: Statement,
  shown: ShownMeasure,
  derived: boolean,
  kind: string,
  show: Show,
): string | null {
  if (AGAINST.includes(show) && !statement.bases.length) return "Needs something to compare with.";
  if (
    derived &&
    ["share_of_all", "share_of_parent", "contribution", "cumulative", "cumulative_share"].includes(show)
  )
    return "A share of a ratio means nothing.";
  if (["share_of_parent", "rank", "cumulative", "cumulative_share"].includes(show) && !statement.rows.length)
    return "Needs rows.";
  if (["share_change", "scope"].includes(show) && !shown.show.some(isShare) && !shown.shares.length)
    return "Needs a share.";
  if (show === "bridge" && kind !== "additive") return "Its change is no sum of its rows' changes.";
  if (show === "price_volume_mix" && !["net_sales", "gross_sales"].includes(shown.measure))
    return "Only sales have a price.";
  const plain = ["bridge", "price_volume_mix", "cumulative", "cumulative_share"];
  return shown.along && plain.includes(show) ? "Formed of periods' own figures." : null;
}

/** Without order, and without what no longer has a ground: comparisons without bases, figures that run along no periods. */
function settled(statement: Statement): Statement {
  const timed = grains(statement).length > 0;
  const measures = statement.measures.map((each) => ({
    ...each,
    along: timed ? (each.along ?? null) : null,
    show: each.show.filter(
      (show) =>
        (statement.bases.length || !AGAINST.includes(show)) &&
        (statement.rows.length ||
          !["share_of_parent", "rank", "cumulative", "cumulative_share"].includes(show)),
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
