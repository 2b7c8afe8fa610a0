/** What the first page shows, asked for before that page is there: it finds it given, or under way. */
import { FIRST_ROWS } from "@/model/filling";
import { FIRST_PAGE, ledgerToOpen, STATEMENT_PAGES, usualView, viewIn } from "@/model/opening";
import { answer, telling } from "./figures";
import { describeLedger, JUST_NOW, listLedgers } from "./ledgers";

/** Ask for the ledgers and, where an address opens a view of a statement, for its ledger, words and figures. Raises Refusal. */
export async function askFirst({ pathname, search }: Pick<Location, "pathname" | "search">): Promise<void> {
  // Every page wants to know which ledgers there are.
  const list = await listLedgers(JUST_NOW);
  const path = pathname === "/" ? (localStorage.getItem(FIRST_PAGE.key) ?? FIRST_PAGE.usual) : pathname;
  if (!STATEMENT_PAGES.some((each) => path === `/${each}`)) return;
  const query = Object.fromEntries(new URLSearchParams(search));
  const listed = ledgerToOpen(list, query.ledger ?? null);
  if (!listed) return;
  const ledger = await describeLedger(listed.name, JUST_NOW);
  const asked = viewIn(query, list);
  // A kept statement is found by the page, which knows all of them; what cannot be read is told there.
  if (ledger.lines === 0 || (!asked && (query.show ?? query.kept) !== undefined)) return;
  const { question } = asked ?? usualView(list, ledger, true);
  if (question.ledger !== ledger.name) return;
  const { signal } = new AbortController();
  await Promise.all([
    telling(question.ledger, question.statement, ledger.version, signal),
    answer({ ...question, fill: FIRST_ROWS }, ledger.version, signal),
  ]);
}
