/** Every step from a view to another one: each is an address, so that it can be undone and shared. */
import type { Layout, MemberKey, Opened, Row, SavedStatement, Statement } from "@/contract";
import { memoryOf, toAddress, type View } from "@/model/address";
import { openedBy } from "@/model/going";
import { wholeLayout } from "@/model/layout";
import { usualView, viewIn, viewOn } from "@/model/opening";
import { toggleRow, whole, type Question } from "@/model/statement";
import { useLedgers } from "@/state/ledgers";
import { useStatements } from "@/state/statements";
import type { AddressBar } from "./address";
import type { Sheet } from "./sheet";

export type Steps = ReturnType<typeof useSteps>;

/** The steps of a sheet. bar: where its views are written; remembered: whether the last one is found again at the next visit. */
export function useSteps(sheet: Sheet, bar: AddressBar, remembers = false) {
  const ledgers = useLedgers();
  const statements = useStatements();

  /** A view as address text, the ledger by its number. */
  function addressed(view: View): Record<string, string> {
    return { ...toAddress(view), ledger: ledgers.addressOf(view.question.ledger) };
  }

  /** The kept statement that an address names by its number. */
  async function keptView(ledger: string, number: string): Promise<View> {
    await statements.refresh(ledger);
    const saved = statements.found.saved.find((each) => String(each.id) === number);
    if (!saved)
      throw new Error(
        `${ledger} keeps no statement of the number ${number}: it was forgotten, or is another ledger's.`,
      );
    return viewOf(ledger, saved);
  }

  function viewOf(ledger: string, saved: Pick<SavedStatement, "statement" | "opened" | "layout">): View {
    return {
      question: { ledger, statement: whole(saved.statement), opened: saved.opened },
      selected: null,
      layout: wholeLayout(saved.layout ?? {}),
    };
  }

  /** Take what the address asks; the view of the last visit, or the ledger's first, where it asks nothing. */
  async function take(): Promise<void> {
    const query = bar.query();
    const asked = query.ledger ?? null;
    // Where no ledger is named, the one that is open stays.
    if (!ledgers.open || (asked && ledgers.named(asked)?.name !== ledgers.open.name))
      await ledgers.choose(asked);
    const page = bar.page() as View["layout"]["page"];
    const found = viewIn(query, ledgers.list);
    const view = found && viewOn(page, found);
    const { open } = ledgers;
    if (query.show !== undefined && !view)
      throw new Error(
        "The statement in this address cannot be read: part of it is missing. Ask for the link again.",
      );
    if (!open || open.lines === 0) return;
    if (view && view.question.ledger === open.name) {
      bar.stepped();
      if (remembers) remember(view);
      await sheet.show(view, open.version);
    } else if (query.kept !== undefined) await go(await keptView(open.name, query.kept), true);
    else await go(viewOn(page, usualView(ledgers.list, open, remembers)), true);
  }

  function remember(view: View): void {
    try {
      localStorage.setItem(
        memoryOf(ledgers.addressOf(view.question.ledger)),
        JSON.stringify(addressed(view)),
      );
    } catch {
      // A browser that keeps nothing forgets the last view, and no more than that.
    }
  }

  /** Shown at once, while the address is being written: what the address then asks for is what stands there. */
  async function go(view: View, replace = false): Promise<void> {
    const { open } = ledgers;
    if (bar.isHere() && open?.name === view.question.ledger) void sheet.show(view, open.version);
    await bar.write(addressed(view), replace, view.layout.page);
  }

  /** The view on screen with some parts changed. */
  function step(parts: Partial<View>, replace = false): void {
    const { question, selected, layout } = sheet;
    if (question) void go({ question, selected, layout, ...parts }, replace);
  }

  function ask(next: Partial<Question>, keepSelected: boolean): void {
    const { question } = sheet;
    if (question) step({ question: { ...question, ...next }, ...(keepSelected ? {} : { selected: null }) });
  }

  function change(statement: Statement | null): void {
    const { question } = sheet;
    if (!question || !statement) return;
    const depth = Math.min(question.opened.depth, Math.max(statement.rows.length, 1));
    const sameRows = JSON.stringify(statement.rows) === JSON.stringify(question.statement.rows);
    ask({ statement, opened: sameRows ? question.opened : { depth, paths: [] } }, sameRows);
  }

  function unfold(opened: Opened): void {
    ask({ opened }, true);
  }

  function toggle(row: Row): void {
    const { question, answer } = sheet;
    if (!question || !answer) return;
    const openNow = answer.rows.filter((each) => each.is_open).map((each) => each.path);
    unfold(toggleRow(question.opened, row.path, row.is_open, openNow));
  }

  function deeper(by: number): void {
    const { question } = sheet;
    if (question) unfold(openedBy(question.opened, by, question.statement.rows.length));
  }

  /** Selecting is no step of its own: it is not undone. */
  function select(path: MemberKey[], column: string, rest: boolean): void {
    step({ selected: rest ? { path, column, rest } : { path, column } }, true);
  }

  function unselect(): void {
    step({ selected: null }, true);
  }

  /** A layout is changed in place of the one before where it is dragged, else as a step. */
  function lay(layout: Layout, dragged = false): void {
    step({ layout }, dragged);
  }

  /** A kept statement, or a common question, in place of the one on screen; undo leads back. */
  function open(saved: Pick<SavedStatement, "statement" | "opened" | "layout">): void {
    const { question } = sheet;
    if (question) void go(viewOf(question.ledger, saved));
  }

  return {
    take,
    change,
    unfold,
    toggle,
    deeper,
    select,
    unselect,
    lay,
    open,
    undo: () => bar.canUndo.value && bar.undo(),
    redo: () => bar.canRedo.value && bar.redo(),
    switchLedger: (name: string) => bar.write({ ledger: ledgers.addressOf(name) }, false),
  };
}
