/** What is asked, opened, selected and how it is laid out: every change is an address, so that it can be undone and shared. */
import { defineStore, storeToRefs } from "pinia";
import { computed, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { Layout, MemberKey, Opened, Row, SavedStatement, Statement } from "@/contract";
import { fromAddress, memoryOf, toAddress, type View } from "@/model/address";
import { openedBy } from "@/model/going";
import { PLAIN, wholeLayout } from "@/model/layout";
import { localMarks, writeWith } from "@/model/numbers";
import { firstStatement, toggleRow, whole, type Question } from "@/model/statement";
import { useFigures } from "@/state/figures";
import { useLedgers } from "@/state/ledgers";
import { useStatements } from "@/state/statements";

export const useView = defineStore("view", () => {
  const route = useRoute();
  const router = useRouter();
  const figures = useFigures();
  const ledgers = useLedgers();
  const statements = useStatements();
  const { question, selected, answer } = storeToRefs(figures);
  const layout = ref<Layout>(PLAIN);
  const here = localMarks();
  writeWith(() => (layout.value.marks === "locale" ? here : layout.value.marks));
  /** Goes up with every step, so that what can be undone is known anew. */
  const steps = ref(0);

  const canUndo = computed(() => steps.value >= 0 && isOurs(history.state?.back));
  const canRedo = computed(() => steps.value >= 0 && isOurs(history.state?.forward));

  function isOurs(address: unknown): boolean {
    return typeof address === "string" && address.startsWith("/figures?");
  }

  async function go(view: View, replace = false): Promise<void> {
    // Who has gone to another page meanwhile is not called back.
    if (route.path !== "/figures") return;
    await router[replace ? "replace" : "push"]({ path: "/figures", query: addressed(view) });
    steps.value += 1;
  }

  /** A view as address text, the ledger by its number. */
  function addressed(view: View): Record<string, string> {
    return { ...toAddress(view), ledger: ledgers.addressOf(view.question.ledger) };
  }

  /** A view by its address text, the ledger by its name. */
  function viewed(query: Record<string, unknown>): View | null {
    const view = fromAddress(query);
    const ledger = view && ledgers.named(view.question.ledger);
    return view && ledger ? { ...view, question: { ...view.question, ledger: ledger.name } } : view;
  }

  /** The kept statement that an address names by its number. */
  async function keptView(ledger: string, number: string): Promise<View> {
    await statements.refresh(ledger);
    const saved = statements.found.saved.find((each) => String(each.id) === number);
    if (!saved)
      throw new Error(
        `${ledger} keeps no statement of the number ${number}: it was forgotten, or is another ledger's.`,
      );
    return {
      question: { ledger, statement: whole(saved.statement), opened: saved.opened },
      selected: null,
      layout: wholeLayout(saved.layout ?? {}),
    };
  }

  /** Take what an address asks; the one of the last visit, or the first question of the ledger, where it asks nothing. */
  async function take(): Promise<void> {
    const asked = typeof route.query.ledger === "string" ? route.query.ledger : null;
    if (!ledgers.open || !asked || ledgers.named(asked)?.name !== ledgers.open.name)
      await ledgers.choose(asked);
    const view = viewed(route.query);
    const { open } = ledgers;
    if (typeof route.query.show === "string" && !view)
      throw new Error(
        "The statement in this address cannot be read: part of it is missing. Ask for the link again.",
      );
    if (!open || open.lines === 0) return;
    if (view && view.question.ledger === open.name) {
      layout.value = view.layout;
      steps.value += 1;
      remember(view);
      await figures.ask(view, open.version);
    } else if (typeof route.query.kept === "string")
      await go(await keptView(open.name, route.query.kept), true);
    else if (question.value?.ledger === open.name && figures.view)
      await router.replace({ query: addressed({ ...figures.view, layout: layout.value }) });
    else await go(remembered(open.name) ?? firstView(open.name), true);
  }

  function firstView(ledger: string): View {
    if (!ledgers.open) throw new Error("no ledger is open");
    const statement = firstStatement(ledgers.open);
    const opened = { depth: Math.max(statement.rows.length, 1), paths: [] };
    return { question: { ledger, statement, opened }, selected: null, layout: PLAIN };
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

  function remembered(ledger: string): View | null {
    try {
      const text = localStorage.getItem(memoryOf(ledgers.addressOf(ledger)));
      const view = text ? viewed(JSON.parse(text)) : null;
      return view?.question.ledger === ledger ? view : null;
    } catch {
      return null;
    }
  }

  function ask(next: Partial<Question>, keepSelected: boolean): void {
    if (!question.value) return;
    void go({
      question: { ...question.value, ...next },
      selected: keepSelected ? selected.value : null,
      layout: layout.value,
    });
  }

  function change(statement: Statement | null): void {
    if (!question.value || !statement) return;
    const depth = Math.min(question.value.opened.depth, Math.max(statement.rows.length, 1));
    const sameRows = JSON.stringify(statement.rows) === JSON.stringify(question.value.statement.rows);
    ask({ statement, opened: sameRows ? question.value.opened : { depth, paths: [] } }, sameRows);
  }

  function unfold(opened: Opened): void {
    ask({ opened }, true);
  }

  function toggle(row: Row): void {
    if (!question.value || !answer.value) return;
    const openNow = answer.value.rows.filter((each) => each.is_open).map((each) => each.path);
    unfold(toggleRow(question.value.opened, row.path, row.is_open, openNow));
  }

  function deeper(by: number): void {
    if (question.value) unfold(openedBy(question.value.opened, by, question.value.statement.rows.length));
  }

  /** Selecting is no step of its own: it is not undone. */
  function select(path: MemberKey[], column: string, rest: boolean): void {
    if (!question.value) return;
    const spot = rest ? { path, column, rest } : { path, column };
    void go({ question: question.value, selected: spot, layout: layout.value }, true);
  }

  function unselect(): void {
    if (question.value) void go({ question: question.value, selected: null, layout: layout.value }, true);
  }

  /** A layout is changed in place of the one before where it is dragged, else as a step. */
  function lay(next: Layout, dragged = false): void {
    if (question.value)
      void go({ question: question.value, selected: selected.value, layout: next }, dragged);
  }

  /** A kept statement, or a common question, in place of the one on screen; undo leads back. */
  function open(saved: Pick<SavedStatement, "statement" | "opened" | "layout">): void {
    if (!question.value) return;
    const { ledger } = question.value;
    void go({
      question: { ledger, statement: whole(saved.statement), opened: saved.opened },
      selected: null,
      layout: wholeLayout(saved.layout ?? {}),
    });
  }

  function undo(): void {
    if (canUndo.value) router.back();
  }

  function redo(): void {
    if (canRedo.value) router.forward();
  }

  function switchLedger(name: string): void {
    void router.push({ path: "/figures", query: { ledger: ledgers.addressOf(name) } });
  }

  return {
    layout,
    canUndo,
    canRedo,
    take,
    change,
    unfold,
    toggle,
    deeper,
    select,
    unselect,
    lay,
    open,
    undo,
    redo,
    switchLedger,
  };
});
