/** What a page opens with: which ledger, and which view of it. */
import { PLAIN } from "@/contract/vocabulary";
import type { LedgerDescription, LedgerListed } from "@/contract";
import { fromAddress, memoryOf, type View } from "./address";
import { whole } from "./statement";

/** The pages that are views of a statement. */
export const STATEMENT_PAGES = ["figures", "movers", "scorecard"] as const;

/** Where the page is kept that the bare address opens, and which one it is where none is. */
export const FIRST_PAGE = { key: "lofty-first-page", usual: "/figures" };

/** The ledgers that are not set aside. */
export function activeLedgers(list: LedgerListed[]): LedgerListed[] {
  return list.filter((each) => !each.archived_at);
}

/** A ledger by its name or, as addresses have it, its number. */
export function ledgerNamed(list: LedgerListed[], text: string | null): LedgerListed | undefined {
  return list.find((each) => each.name === text) ?? list.find((each) => String(each.id) === text);
}

/** The ledger that an address asks for; the first one where it names none. */
export function ledgerToOpen(list: LedgerListed[], asked: string | null): LedgerListed | undefined {
  return asked ? ledgerNamed(list, asked) : activeLedgers(list)[0];
}

/** A view by its address text, the ledger by its name; null where there is none, or none that can be read. */
export function viewIn(query: Record<string, unknown>, list: LedgerListed[]): View | null {
  const view = fromAddress(query);
  const ledger = view && ledgerNamed(list, view.question.ledger);
  return view && ledger ? { ...view, question: { ...view.question, ledger: ledger.name } } : view;
}

/** A view on a page; what was selected on another one is not there. */
export function viewOn(page: View["layout"]["page"], view: View): View {
  if (view.layout.page === page) return view;
  return { ...view, selected: null, layout: { ...view.layout, page } };
}

/** The view of the last visit to a ledger; null where there was none, or nothing is kept in this browser. */
function rememberedView(list: LedgerListed[], ledger: LedgerDescription): View | null {
  try {
    const text = localStorage.getItem(memoryOf(String(ledger.id)));
    const view = text ? viewIn(JSON.parse(text), list) : null;
    return view?.question.ledger === ledger.name ? view : null;
  } catch {
    return null;
  }
}

/** The view that a ledger is seen with where none is asked for: that of the last visit, if one is remembered, else its first. */
export function usualView(list: LedgerListed[], ledger: LedgerDescription, remembers: boolean): View {
  const remembered = remembers ? rememberedView(list, ledger) : null;
  if (remembered) return remembered;
  const statement = whole(ledger.first);
  const opened = { depth: Math.max(statement.rows.length, 1), paths: [] };
  return { question: { ledger: ledger.name, statement, opened }, selected: null, layout: PLAIN };
}
