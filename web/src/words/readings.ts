/** How a statement is read beside what it shows: each choice with its words, said in the sentence where it is not the usual one. */
import type { LedgerDescription, Statement } from "@/contract";
import { isShare } from "@/model/statement";
import { dimensionName } from "./words";

export interface ReadingChoice {
  key: string;
  label: string;
  note: string;
  /** How the sentence says it; '' for what goes without saying. */
  said: string;
  change: Partial<Statement>;
}

export interface Reading {
  name: string;
  title: string;
  choices: ReadingChoice[];
  /** Whether a statement of a ledger has it at all. */
  fits: (statement: Statement, ledger: LedgerDescription) => boolean;
}

function shows(statement: Statement, show: string): boolean {
  return statement.measures.some((each) => each.show.some((one) => one === show));
}

const READINGS: Reading[] = [
  {
    name: "returns",
    title: "Returns count on",
    fits: (_, ledger) => ledger.dimensions.some((each) => each.role === "order"),
    choices: [
      {
        key: "own_day",
        label: "their own day",
        note: "The day on which the goods came back.",
        said: "",
        change: { returns: "own_day", refunds: "divided", returns_within: "as_of" },
      },
      {
        key: "divided",
        label: "the day of their sale",
        note: "A refund known by order only is divided over the order's lines.",
        said: "returns on the day of their sale",
        change: { returns: "sale_day", refunds: "divided" },
      },
      {
        key: "not_allocated",
        label: "the day of their sale, order refunds not allocated",
        note: "A refund known by order only stands under “not allocated”.",
        said: "returns on the day of their sale, order refunds not allocated",
        change: { returns: "sale_day", refunds: "not_allocated" },
      },
    ],
  },
  {
    name: "within",
    title: "They count if they came back",
    fits: (statement) => statement.returns === "sale_day",
    choices: [
      {
        key: "as_of",
        label: "by the as-of date",
        note: "A base had longer for its returns, and is marked so.",
        said: "",
        change: { returns_within: "as_of" },
      },
      {
        key: "same_time",
        label: "in the same time",
        note: "In a base, only returns that came back in the time that the current window had.",
        said: "returns that came back in the same time",
        change: { returns_within: "same_time" },
      },
    ],
  },
  {
    name: "levels",
    title: "Where a lookup changed, levels stand",
    fits: (_, ledger) => ledger.dimensions.some((each) => each.of),
    choices: [
      {
        key: "as_it_was",
        label: "as they were",
        note: "A line takes the level valid on its day.",
        said: "",
        change: { levels: "as_it_was" },
      },
      {
        key: "as_it_is_now",
        label: "as they are now",
        note: "All lines take the level valid on the as-of date.",
        said: "levels as they are now",
        change: { levels: "as_it_is_now" },
      },
    ],
  },
  {
    name: "feeds",
    title: "Feeds that end on different days are counted",
    fits: (_, ledger) => ledger.feeds.length > 1,
    choices: [
      {
        key: "each",
        label: "each to its own end",
        note: "Cells that read them are marked.",
        said: "",
        change: { feeds_end: "each" },
      },
      {
        key: "earliest",
        label: "all to the earliest end",
        note: "Every window is cut where the first of them ends.",
        said: "all feeds cut at the earliest end",
        change: { feeds_end: "earliest" },
      },
    ],
  },
  {
    name: "negative",
    title: "Against a base below 0, % change and % of base are",
    fits: (statement) => statement.bases.length > 0,
    choices: [
      {
        key: "undefined",
        label: "left out",
        note: "They would mislead; the change stands.",
        said: "",
        change: { negative_bases: "undefined" },
      },
      {
        key: "divided",
        label: "divided as they are",
        note: "From −100 to 50 is then −150%.",
        said: "negative bases divided as they are",
        change: { negative_bases: "divided" },
      },
    ],
  },
  {
    name: "members",
    title: "Rows are those of",
    fits: (statement) => [...statement.rows, ...statement.across].some((each) => typeof each === "string"),
    choices: [
      {
        key: "counted",
        label: "members with a line",
        note: "In any of the windows.",
        said: "",
        change: { all_members: false },
      },
      {
        key: "all",
        label: "every known member",
        note: "With 0 where it has no line.",
        said: "every known member",
        change: { all_members: true },
      },
    ],
  },
  {
    name: "shares",
    title: "Shown shares of a complete list are",
    fits: (statement) => statement.measures.some((each) => each.show.some(isShare) || each.shares.length > 0),
    choices: [
      {
        key: "each",
        label: "rounded each by itself",
        note: "They may add up to 99.9% or 100.1%.",
        said: "",
        change: { shares_add_up: false },
      },
      {
        key: "add_up",
        label: "rounded so that they add up",
        note: "The largest remainders are rounded up.",
        said: "shown shares add up",
        change: { shares_add_up: true },
      },
    ],
  },
];

/** What price, volume and mix are formed over, and within what their quantities are counted, from the ledger's dimensions. */
function splitReadings(ledger: LedgerDescription): Reading[] {
  const names = ledger.dimensions.filter((each) => each.role !== "order").map((each) => each.name);
  const fits = (statement: Statement): boolean => shows(statement, "price_volume_mix");
  return [
    {
      name: "items",
      title: "Price, volume and mix are formed over",
      fits,
      choices: [
        {
          key: "",
          label: "products",
          note: "Unless a level below them is named.",
          said: "",
          change: { items: [] },
        },
        ...names
          .filter((name) => name !== "product")
          .map((name) => ({
            key: name,
            label: `each ${dimensionName(name)}`,
            note: "The same in every row.",
            said: `price, volume and mix over each ${dimensionName(name)}`,
            change: { items: [name] },
          })),
      ],
    },
    {
      name: "unit",
      title: "Quantities are counted in",
      fits,
      choices: [
        {
          key: "",
          label: "one unit",
          note: "All quantities can be added.",
          said: "",
          change: { unit_of_measure: null },
        },
        ...names.map((name) => ({
          key: name,
          label: `what ${dimensionName(name)} says`,
          note: "Volume and mix are formed within each, then added.",
          said: `volume and mix within each ${dimensionName(name)}`,
          change: { unit_of_measure: name },
        })),
      ],
    },
  ];
}

/** The readings that a statement of a ledger can have. */
export function readingsOf(statement: Statement, ledger: LedgerDescription): Reading[] {
  return [...READINGS, ...splitReadings(ledger)].filter((each) => each.fits(statement, ledger));
}

/** Which choice of a reading a statement has made. */
export function chosenIn(reading: Reading, statement: Statement): ReadingChoice | undefined {
  return [...reading.choices].reverse().find((choice) =>
    Object.entries(choice.change).every(([part, value]) => {
      const own = statement[part as keyof Statement] ?? null;
      // In which time returns came back is a reading of its own: it only goes where they do.
      return (
        ("returns" in choice.change && part === "returns_within") ||
        JSON.stringify(own) === JSON.stringify(value)
      );
    }),
  );
}

/** What the sentence says of how a statement is read, without its ledger. */
export function readingWords(statement: Statement): string[] {
  const said = READINGS.flatMap((each) => chosenIn(each, statement)?.said ?? []);
  if (statement.items.length)
    said.push(`price, volume and mix over each ${statement.items.map(dimensionName).join(" and ")}`);
  if (statement.unit_of_measure)
    said.push(`volume and mix within each ${dimensionName(statement.unit_of_measure)}`);
  return said.filter(Boolean);
}
