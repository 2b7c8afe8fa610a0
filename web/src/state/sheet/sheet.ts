/**
 * A sheet: one question with its view, its words, its answer and its proof. A page has as many as it needs; each is asked, filled
 * and dropped by itself, and none knows of another.
 */
import { PLAIN } from "@/contract/vocabulary";
import { computed, inject, onScopeDispose, provide, reactive, ref, type InjectionKey } from "vue";
import type { Cell, Layout, MemberKey, Statement, StatementPreview } from "@/contract";
import type { View } from "@/model/address";
import { localMarks, type Marks } from "@/model/numbers";
import type { Question } from "@/model/statement";
import * as server from "@/server/figures";
import { answerFile, type AskedNumber, type FileKind } from "@/server/figures";
import type { SentFile } from "@/server/http";
import { amountsOf } from "./amounts";
import type { Lead } from "./ahead";
import { useAnswering } from "./answering";
import { usePage } from "./paging";
import { useProving } from "./proving";
import { useTold } from "./telling";

export interface Spot {
  path: MemberKey[];
  column: string;
  rest?: boolean;
}

export type Sheet = ReturnType<typeof createSheet>;

/** A sheet; it begins with a view, or is empty until one is shown. It asks nothing any more once its page is gone. */
export function createSheet(view: View | null = null, here: () => Marks = localMarks) {
  const question = ref<Question | null>(view?.question ?? null);
  const selected = ref<Spot | null>(view?.selected ?? null);
  const layout = ref<Layout>(view?.layout ?? PLAIN);
  const answering = useAnswering();
  const moving = usePage(
    "movers",
    ({ ledger, statement }, { movers, search }) => ({ ledger, statement, asked: { ...movers, search } }),
    server.movers,
  );
  const scoring = usePage(
    "scorecard",
    ({ ledger, statement }, { card }) => ({ ledger, statement, asked: card }),
    server.scorecard,
  );
  const proving = useProving();
  const telling = useTold();
  let mustAsk = false;
  /** Where a question leads, for somebody who goes on step by step; of: that question, none before it is shown. */
  let leading: { to: Lead; of: string | null } | null = null;
  /** The page that is seen, where it is not that of the figures, and what it shows. */
  const seenPage = computed(() => ({ figures: null, movers: moving, scorecard: scoring })[layout.value.page]);
  const paged = computed(() => seenPage.value?.found.value ?? null);

  /** Show a view of a ledger's version: its words at once, its figures as soon as they are there, and the proof of its number. */
  async function show(next: View, version: number): Promise<void> {
    const { answer, answered, failure } = answering;
    const asked = failure.value ? question.value : answered.value;
    const same =
      !mustAsk &&
      JSON.stringify(question.value) === JSON.stringify(next.question) &&
      (failure.value !== null || JSON.stringify(asked) === JSON.stringify(next.question)) &&
      answer.value?.version === version;
    const proven =
      same && !!proving.proof.value && JSON.stringify(selected.value) === JSON.stringify(next.selected);
    const anew = mustAsk;
    mustAsk = false;
    // A step is shown at once, and once more when its address is written.
    const asks = JSON.stringify(next.question);
    leading = leading && (leading.of ?? asks) === asks ? { ...leading, of: asks } : null;
    // Asked before anything of it is drawn, which takes longer than a question takes to leave.
    const coming = [moving, scoring].map((page) => page.look(next.question, next.layout, version));
    if (!same) {
      const after = telling.tell(next.question, version);
      coming.push(answering.ask(next.question, version, { anew, after, lead: leading?.to ?? null }));
    }
    question.value = next.question;
    selected.value = next.selected;
    layout.value = next.layout;
    await Promise.all(coming);
    // How the table is laid out changes no proof.
    if (!proven) await proving.prove(number());
  }

  /** The number that is selected, where there is such a column. */
  function number(): AskedNumber | null {
    const [spot, asked] = [selected.value, question.value];
    if (!spot || !asked) return null;
    const { ledger } = asked;
    if (layout.value.page !== "figures") {
      // Movers and verdicts are the figures of a statement of their own, which the server makes of this one.
      const statement = paged.value?.statement;
      return statement ? { ledger, statement, path: spot.path, column: spot.column, rest: false } : null;
    }
    const known = answering.answer.value?.columns.some((each) => each.id === spot.column);
    if (!known || answering.failure.value) return null;
    const { statement } = asked;
    return { ledger, statement, path: spot.path, column: spot.column, rest: !!spot.rest };
  }

  /** The next question is asked even if it is the last one again. */
  function again(): void {
    mustAsk = true;
  }

  /** The next question is one of several steps that lead on. */
  function lead(to: Lead): void {
    leading = { to, of: null };
  }

  /** What windows some statements of this sheet's ledger would come to. */
  async function previews(statements: Statement[]): Promise<StatementPreview[]> {
    return question.value ? telling.previews(question.value.ledger, statements) : [];
  }

  const counting = new AbortController();
  /** What each member of a dimension comes to by now. */
  async function amounts(dimension: string): Promise<Map<MemberKey, Cell>> {
    const found = answering.answer.value;
    if (!question.value || !found) return new Map();
    return amountsOf(question.value, found.version, dimension, counting.signal);
  }

  /** The marks that its numbers are written with: those of its layout, or of the reader's language. */
  function marks(): Marks {
    const { marks: chosen } = layout.value;
    return !chosen || chosen === "locale" ? here() : chosen;
  }

  /** What is handed out: the question itself, or that whose table the movers are. */
  function asTable(): Question | null {
    const found = paged.value;
    if (!question.value || !found) return question.value;
    const statement = "table" in found ? found.table : found.statement;
    const opened = { depth: Math.max(statement.rows.length, 1), paths: [] };
    return { ledger: question.value.ledger, statement, opened };
  }

  /** The figures as a file, laid out as they are seen, with the marks of this reader. */
  async function asFile(kind: FileKind, how: { formatted: boolean; title: string }): Promise<SentFile> {
    const asked = asTable();
    return asked
      ? answerFile(asked, kind, { ...layout.value, marks: marks() }, how)
      : { name: "", content: new Blob() };
  }

  function leave(): void {
    answering.leave();
    moving.leave();
    scoring.leave();
    proving.leave();
    telling.leave();
    counting.abort();
  }
  onScopeDispose(leave, true);

  const { answer, answered, trends, check, checkRefused, loading, failure, see, fill, fillAll, drawTrends } =
    answering;
  const { proof, lines, operand, wanted, linesRefused, showLines, linesFile, days } = proving;
  return reactive({
    question,
    selected,
    layout,
    marks,
    told: telling.told,
    answer,
    /** The statement that the answer is to. */
    answered: computed(() => answered.value?.statement ?? null),
    trends,
    check,
    checkRefused,
    loading,
    failure,
    moved: moving.found,
    scored: scoring.found,
    /** Why the page that is seen, if it is not that of the figures, could not be answered. */
    pageFailure: computed(() => seenPage.value?.failure.value ?? null),
    pageLoading: computed(() => !!seenPage.value?.loading.value),
    /** Whether what is shown answers an earlier question than the one that is asked. */
    outdated: computed(() => !!failure.value && !!answer.value),
    proof,
    lines,
    operand,
    wanted,
    linesRefused,
    show,
    again,
    lead,
    previews,
    amounts,
    asFile,
    asTable,
    see,
    fill,
    fillAll,
    drawTrends,
    showLines,
    linesFile,
    days,
    leave,
  });
}

const SHEET: InjectionKey<Sheet> = Symbol("sheet");

/** Let what stands on a page, or on a part of it, find its sheet. */
export function provideSheet(sheet: Sheet): Sheet {
  provide(SHEET, sheet);
  return sheet;
}

/** The sheet that this stands on. */
export function useSheet(): Sheet {
  const sheet = inject(SHEET);
  if (!sheet) throw new Error("no sheet is provided here");
  return sheet;
}
