/** Changes to a brief: each takes one and gives a new one. */
import type { Block, BlockKind, Brief, FigureBlock, Handing, Layout, Statement } from "@/contract";
import { PLAIN } from "@/contract/vocabulary";
import type { Question } from "./statement";

/** A brief with nothing on it yet. */
export function emptyBrief(name: string): Brief {
  return {
    name,
    title: "{month} in figures",
    lead: "",
    masthead: "",
    logo: "",
    paper: "A4",
    as_of: { kind: "last_completed", grain: "month" },
    filters: [],
    copies: "",
    blocks: [],
  };
}

export const NO_HANDING: Handing = {
  people: [],
  subject: "{title}: {headline}",
  message: "",
  schedule: { kind: "none", weekdays: [0], time: "07:00", day: 1, feed: "" },
  folder: false,
  paused: false,
};

export function isFigures(block: Block): block is FigureBlock {
  return "statement" in block;
}

/** A block of a statement. kept: the number of a kept one that it follows. */
export function figureBlock(
  kind: BlockKind,
  question: Pick<Question, "statement" | "opened">,
  layout: Layout = PLAIN,
  title = "",
  kept = 0,
): FigureBlock {
  const { statement, opened } = question;
  return { kind, statement, opened, layout, title, width: usualWidth(kind), as_of: null, kept };
}

/** How wide a block of a kind is put down. */
export function usualWidth(kind: BlockKind): FigureBlock["width"] {
  return kind === "table" || kind === "words" ? "full" : "half";
}

/** Which kinds a statement can be put down as, and why not the others. */
export function kindRefusal(kind: BlockKind, statement: Statement): string | null {
  if ((kind === "movers" || kind === "bridge") && !statement.bases.length) return "It compares with nothing.";
  if ((kind === "movers" || kind === "bridge") && !statement.rows.some((each) => typeof each === "string"))
    return "It has no rows of members.";
  if (kind === "scorecard" && !statement.goals.length) return "It has no goals.";
  if (kind === "words" && !statement.goals.length && !statement.bases.length)
    return "It has neither a base nor a goal.";
  if (kind === "chart" && !statement.rows.length) return "It has no rows.";
  return null;
}

/** A block put in at a place; at the end where none is given. */
export function withBlock(brief: Brief, block: Block, at = brief.blocks.length): Brief {
  return { ...brief, blocks: [...brief.blocks.slice(0, at), block, ...brief.blocks.slice(at)] };
}

export function withoutBlock(brief: Brief, at: number): Brief {
  return { ...brief, blocks: brief.blocks.filter((_, place) => place !== at) };
}

export function changedBlock(brief: Brief, at: number, block: Block): Brief {
  return { ...brief, blocks: brief.blocks.map((each, place) => (place === at ? block : each)) };
}

/** A block moved to another place; beyond the ends it stays. */
export function movedBlock(brief: Brief, from: number, to: number): Brief {
  const block = brief.blocks[from];
  if (!block || to < 0 || to >= brief.blocks.length || from === to) return brief;
  return withBlock(withoutBlock(brief, from), block, to);
}

/** The place among the blocks of figures of a block of the brief; -1 for one that is none. */
export function figureNumber(blocks: Block[], at: number): number {
  const block = blocks[at];
  return block && isFigures(block) ? blocks.slice(0, at).filter(isFigures).length : -1;
}
