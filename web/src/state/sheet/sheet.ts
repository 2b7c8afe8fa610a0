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
import { answerFile, type AskedNumber, type FileKind } from "@/server/figures";
import type { SentFile } from "@/server/http";
import { amountsOf } from "./amounts";
import { useAnswering } from "./answering";
import { useMoving } from "./moving";
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
  const moving = useMoving();
  const proving = useProving();
  const telling = useTold();
  let mustAsk = false;

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
    question.value = next.question;
    selected.value = next.selected;
    layout.value = next.layout;
    const looked = moving.look(next.question, next.layout, version);
    if (!same) {
      const told = telling.tell(next.question, version);
      await answering.ask(next.question, version, { anew, after: told });
    }
    await looked;
    // How the table is laid out changes no proof.
    if (!proven) await proving.prove(number());
  }

  /** The number that is selected, where there is such a column. */
  function number(): AskedNumber | null {
    const [spot, asked] = [selected.value, question.value];
    if (!spot || !asked) return null;
    const { ledger } = asked;
    if (layout.value.page === "movers") {
      // Movers are the figures of a statement of their own, which the server makes of this one.
      const statement = moving.moved.value?.statement;
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
    const found = layout.value.page === "movers" ? moving.moved.value : null;
    if (!question.value || !found) return question.value;
    const opened = { depth: found.table.rows.length, paths: [] };
    return { ledger: question.value.ledger, statement: found.table, opened };
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
    moved: moving.moved,
    movedFailure: moving.movedFailure,
    moving: moving.moving,
    /** Whether what is shown answers an earlier question than the one that is asked. */
    outdated: computed(() => !!failure.value && !!answer.value),
    proof,
    lines,
    operand,
    wanted,
    linesRefused,
    show,
    again,
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
