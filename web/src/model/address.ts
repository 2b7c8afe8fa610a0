/** The whole state of the Figures page as address text, so that a view is shared by its link. */
import { PLAIN } from "@/contract/vocabulary";
import type { Layout, MemberKey } from "@/contract";
import { layoutParts, wholeLayout } from "./layout";
import { whole, type Question } from "./statement";

export interface View {
  question: Question;
  selected: { path: MemberKey[]; column: string; rest?: boolean } | null;
  layout: Layout;
}

export function toAddress(view: View): Record<string, string> {
  const query: Record<string, string> = {
    ledger: view.question.ledger,
    show: JSON.stringify(view.question.statement),
    open: JSON.stringify(view.question.opened),
  };
  const look = layoutParts(view.layout);
  if (Object.keys(look).length) query.look = JSON.stringify(look);
  if (view.selected) query.at = JSON.stringify(view.selected);
  return query;
}

/** Null where the address holds no view, or one that cannot be read. */
export function fromAddress(query: Record<string, unknown>): View | null {
  const { ledger, show, open, at, look } = query;
  if (typeof ledger !== "string" || typeof show !== "string") return null;
  try {
    const opened = typeof open === "string" ? JSON.parse(open) : { depth: 1, paths: [] };
    return {
      question: { ledger, statement: whole(JSON.parse(show)), opened },
      selected: typeof at === "string" ? JSON.parse(at) : null,
      layout: typeof look === "string" ? wholeLayout(JSON.parse(look)) : PLAIN,
    };
  } catch {
    return null;
  }
}

/** Where the last view of a ledger is remembered between visits. */
export function memoryOf(ledger: string): string {
  return `lofty-abacus/last-view/${ledger}`;
}
