/** The question on screen, its answer, the check of its totals, and the number under proof. */
import { defineStore } from "pinia";
import { computed, ref, shallowRef } from "vue";
import type {
  Answer,
  Failure,
  Layout,
  LinesPage,
  MemberKey,
  Opened,
  OperandDays,
  Proof,
  Row,
  Statement,
  StatementPreview,
  TableCheck,
} from "@/contract";
import type { View } from "@/model/address";
import { emptyPlaces, filledWith, FIRST_ROWS, MOST_AT_ONCE, placesOf, MOST_FILLED } from "@/model/filling";
import { marksNow } from "@/model/numbers";
import { trendQuestion, trendsOf, type Trends } from "@/model/trends";
import type { Question } from "@/model/statement";
import * as server from "@/server/figures";
import { Refusal, type SentFile } from "@/server/http";

export interface Spot {
  path: MemberKey[];
  column: string;
  rest?: boolean;
}

/** Milliseconds between an answer and its check against the posted lines. */
const PAUSE = 150;

export const useFigures = defineStore("figures", () => {
  const question = ref<Question | null>(null);
  const selected = ref<Spot | null>(null);
  const answer = shallowRef<Answer | null>(null);
  const answered = shallowRef<Statement | null>(null);
  const trends = shallowRef<Trends | null>(null);
  const check = shallowRef<TableCheck | null>(null);
  /** Why the answer could not be checked. */
  const checkRefused = ref("");
  const proof = shallowRef<Proof | null>(null);
  const lines = shallowRef<LinesPage | null>(null);
  const operand = ref(0);
  const wanted = ref<server.LinesWanted>({
    operand: 0,
    offset: 0,
    search: "",
    sort: "day",
    descending: true,
  });
  const linesRefused = ref("");
  const loading = ref(false);
  const failure = ref<Failure | null>(null);
  let mustAsk = false;
  /** Of a large answer: where its rows stand, what fills them, and those that are seen and wait for it. */
  let places = new Map<string, number>();
  let filling: (asked: { version: number; places: number[] }) => Promise<Row[]> = () => Promise.resolve([]);
  let inView: Row[] = [];
  let isFilling = false;
  let asking = new AbortController();
  let proving = new AbortController();

  const view = computed<Omit<View, "layout"> | null>(() =>
    question.value ? { question: question.value, selected: selected.value } : null,
  );

  /**
   * Ask what a view asks of a ledger's version; the old answer stays readable until the new one is there, and a superseded
   * question is dropped.
   */
  async function ask(next: Omit<View, "layout">, version: number): Promise<void> {
    const same =
      !mustAsk &&
      JSON.stringify(question.value) === JSON.stringify(next.question) &&
      answer.value?.version === version;
    mustAsk = false;
    const proven = same && !!proof.value && JSON.stringify(selected.value) === JSON.stringify(next.selected);
    question.value = next.question;
    selected.value = next.selected;
    if (!same) {
      asking.abort();
      asking = new AbortController();
      loading.value = true;
      const mine = asking;
      try {
        answer.value = await server.answer({ ...next.question, fill: FIRST_ROWS }, mine.signal);
        answered.value = next.question.statement;
        inView = [];
        places = answer.value.partial ? placesOf(answer.value) : new Map();
        filling = (asked) => server.rows({ ...next.question, ...asked }, mine.signal);
        failure.value = null;
        void compare({ ...next.question, version: answer.value.version }, mine.signal);
      } catch (error) {
        if (!(error instanceof Refusal)) return;
        failure.value = error.failure;
        check.value = null;
      } finally {
        if (mine === asking) loading.value = false;
      }
    }
    // How the table is laid out changes no proof.
    if (!proven) await prove();
  }

  /** Fill the rows that are seen now; those that were seen before and are gone wait no longer. */
  async function see(rows: Row[]): Promise<void> {
    inView = rows;
    if (isFilling) return;
    isFilling = true;
    try {
      while (inView.length) {
        const next = inView;
        inView = [];
        await fill(next);
      }
    } finally {
      isFilling = false;
    }
  }

  /** Have the cells of some rows; an answer that is superseded meanwhile is left as it is. */
  async function fill(rows: Row[]): Promise<void> {
    const { value: current } = answer;
    const ask = filling;
    if (!current?.partial) return;
    const empty = emptyPlaces(current, places, rows);
    for (let at = 0; at < empty.length; at += MOST_AT_ONCE) {
      const some = empty.slice(at, at + MOST_AT_ONCE);
      try {
        const found = await ask({ version: current.version, places: some });
        if (ask !== filling || !answer.value) return;
        answer.value = filledWith(answer.value, some, found) ?? answer.value;
      } catch (error) {
        if (error instanceof Refusal && ask === filling) failure.value = error.failure;
        return;
      }
    }
  }

  /** Have every cell of the answer, to copy or to check it; false for a table that is too large for that. */
  async function fillAll(): Promise<boolean> {
    const { value: current } = answer;
    if (!current?.partial) return true;
    if (current.rows.length * current.columns.length > MOST_FILLED) return false;
    await fill(current.rows);
    return true;
  }

  /** The trends of what is shown, where they are wanted and it has none of its own; none for a table too large for them. */
  async function drawTrends(wanted: boolean): Promise<void> {
    const [shown, statement] = [answer.value, answered.value];
    trends.value = null;
    if (!wanted || !question.value || !shown || !statement || shown.partial) return;
    const asked = trendQuestion({ ...question.value, statement }, shown);
    if (!asked) return;
    try {
      const found = await server.answer(
        { ...asked.question, version: shown.version, fill: 0 },
        asking.signal,
      );
      if (answer.value?.windows === shown.windows && !found.partial)
        trends.value = trendsOf(found, asked.grain);
    } catch (error) {
      // Lines that are known by month have no trend by day: the table stands without.
      if (!(error instanceof Refusal)) return;
    }
  }

  async function compare(asked: Question & { version: number }, signal: AbortSignal): Promise<void> {
    check.value = null;
    checkRefused.value = "";
    // Who steps on at once is not slowed down by the check of what is gone already.
    await new Promise((resolve) => setTimeout(resolve, PAUSE));
    if (signal.aborted) return;
    try {
      check.value = await server.check(asked, signal);
    } catch (error) {
      // Figures that could not be checked are still those of the question: it is told where the check stands.
      if (error instanceof Refusal) checkRefused.value = error.failure.message;
    }
  }

  async function prove(): Promise<void> {
    proving.abort();
    proving = new AbortController();
    const spot = selected.value;
    const column = spot && answer.value?.columns.find((each) => each.id === spot.column);
    if (!spot || !column || !question.value || failure.value) {
      proof.value = null;
      lines.value = null;
      return;
    }
    const asked = { ...question.value, ...spot };
    try {
      proof.value = await server.prove(number(asked), proving.signal);
      await showLines({ ...wanted.value, operand: 0, offset: 0 });
    } catch (error) {
      if (!(error instanceof Refusal)) return;
      proof.value = null;
      lines.value = null;
    }
  }

  /** The next question is asked even if it is the last one again. */
  function again(): void {
    mustAsk = true;
  }

  function askedNumber(): server.AskedNumber | null {
    const spot = selected.value;
    return spot && question.value ? number({ ...question.value, ...spot }) : null;
  }

  /** Other lines of the number under proof; more than can be sorted or searched are refused in words. */
  async function showLines(next: server.LinesWanted): Promise<void> {
    const asked = askedNumber();
    if (!asked) return;
    linesRefused.value = "";
    wanted.value = next;
    operand.value = next.operand;
    try {
      lines.value = await server.lines(asked, next, proving.signal);
    } catch (error) {
      if (!(error instanceof Refusal)) return;
      linesRefused.value = error.failure.message;
    }
  }

  async function linesFile(): Promise<Blob> {
    const asked = askedNumber();
    return asked ? server.linesFile(asked, operand.value) : new Blob();
  }

  async function days(): Promise<OperandDays[]> {
    const asked = askedNumber();
    return asked ? server.days(asked) : [];
  }

  /** What windows some statements would come to; none where it cannot be told now. */
  async function previews(statements: Statement[]): Promise<StatementPreview[]> {
    if (!question.value || !statements.length) return [];
    try {
      return await server.previews(question.value.ledger, statements);
    } catch (error) {
      if (error instanceof Refusal) return [];
      throw error;
    }
  }

  /** The figures as a file, laid out as they are seen, with the marks of this reader. */
  async function asFile(
    kind: server.FileKind,
    layout: Layout,
    how: { formatted: boolean; title: string; words: Record<string, string> },
  ): Promise<SentFile> {
    return question.value
      ? server.answerFile(question.value, kind, { ...layout, marks: marksNow() }, how)
      : { name: "", content: new Blob() };
  }

  return {
    question,
    selected,
    answer,
    answered,
    check,
    checkRefused,
    /** Whether what is shown answers an earlier question than the one that is asked. */
    outdated: computed(() => !!failure.value && !!answer.value),
    proof,
    lines,
    operand,
    loading,
    failure,
    view,
    ask,
    wanted,
    linesRefused,
    showLines,
    linesFile,
    days,
    asFile,
    see,
    trends,
    drawTrends,
    fill,
    fillAll,
    previews,
    again,
  };
});

function number(asked: Question & Spot & { opened?: Opened }): server.AskedNumber {
  return {
    ledger: asked.ledger,
    statement: asked.statement,
    path: asked.path,
    column: asked.column,
    rest: !!asked.rest,
  };
}
