/** An answer to a question: asked, filled as it is seen, checked against the posted lines, with its trends. */
import { ref, shallowRef } from "vue";
import type { Answer, Failure, Row, Statement, TableCheck } from "@/contract";
import { emptyPlaces, filledWith, FIRST_ROWS, MOST_AT_ONCE, MOST_FILLED, placesOf } from "@/model/filling";
import type { Question } from "@/model/statement";
import { trendQuestion, trendsOf, type Trends } from "@/model/trends";
import * as server from "@/server/figures";
import { Refusal } from "@/server/http";
import { useAhead, type Lead } from "./ahead";

/** Milliseconds between an answer and its check against the posted lines: the longer, the more lines are added up for it. */
const PAUSE = { least: 150, most: 1500, linesEach: 10_000 };
/** Milliseconds after which the newest version is asked for again, where it was not ready. */
const NOT_READY = 700;
/** Milliseconds after which it is asked again, where the application is away or still reads the lines. */
const AWAY = 3_000;
/** Milliseconds that an answer waits for its words, which are drawn before it. */
const WORDS_FIRST = 60;

/** Settled as soon as something fails, and never if it does not. */
function failed(coming: Promise<unknown>): Promise<void> {
  return new Promise((resolve) => coming.catch(() => resolve()));
}

export type Answering = ReturnType<typeof useAnswering>;

export function useAnswering() {
  const answer = shallowRef<Answer | null>(null);
  /** What the answer is to. */
  const answered = shallowRef<Question | null>(null);
  const trends = shallowRef<Trends | null>(null);
  const check = shallowRef<TableCheck | null>(null);
  /** Why the answer could not be checked. */
  const checkRefused = ref("");
  const loading = ref(false);
  const failure = ref<Failure | null>(null);
  /** Of a large answer: where its rows stand, what fills them, and those that are seen and wait for it. */
  let places = new Map<string, number>();
  let filling: (asked: { version: number; places: number[] }) => Promise<Row[]> = () => Promise.resolve([]);
  let inView: Row[] = [];
  let isFilling = false;
  let asking = new AbortController();
  const ahead = useAhead();

  /** Ask; the old answer stays readable until the new one is there, and a superseded question is dropped. lead: where steps go on to. */
  async function ask(
    question: Question,
    version: number,
    { anew, after, lead = null }: { anew: boolean; after: Promise<void>; lead?: Lead | null },
  ): Promise<void> {
    asking.abort();
    asking = new AbortController();
    loading.value = true;
    const mine = asking;
    const askAgain = (later: number): void => {
      setTimeout(() => {
        if (!mine.signal.aborted) void ask(question, version, { anew: true, after: Promise.resolve() });
      }, later);
    };
    try {
      const coming = server.answer({ ...question, fill: FIRST_ROWS }, version, mine.signal, anew);
      ahead.follow(question, version);
      // Both are asked at once; what comes first in the end is told first: the words, unless they take too long.
      await Promise.race([after, new Promise((resolve) => setTimeout(resolve, WORDS_FIRST)), failed(coming)]);
      answer.value = await coming;
      answered.value = question;
      if (lead) ahead.expect(lead, question, answer.value, version);
      inView = [];
      places = answer.value.partial ? placesOf(answer.value) : new Map();
      filling = (asked) => server.rows({ ...question, ...asked }, mine.signal);
      failure.value = null;
      const pause = Math.min(Math.max(PAUSE.least, answer.value.posted_lines / PAUSE.linesEach), PAUSE.most);
      void compare({ ...question, version: answer.value.version }, pause || PAUSE.least, mine.signal);
      // The version that was just posted is being made ready: the one before it is read meanwhile.
      if (answer.value.version < version) askAgain(NOT_READY);
    } catch (error) {
      if (mine.signal.aborted || !(error instanceof Refusal)) return;
      failure.value = error.failure;
      check.value = null;
      if (error.failure.kind === "away") askAgain(AWAY);
    } finally {
      if (mine === asking) loading.value = false;
    }
  }

  async function compare(
    asked: Question & { version: number },
    pause: number,
    signal: AbortSignal,
  ): Promise<void> {
    check.value = null;
    checkRefused.value = "";
    // Who steps on at once is not slowed down by the check of what is gone already.
    await new Promise((resolve) => setTimeout(resolve, pause));
    if (signal.aborted) return;
    try {
      const found = await server.check(asked, signal);
      if (!signal.aborted) check.value = found;
    } catch (error) {
      // Figures that could not be checked are still those of the question: it is told where the check stands.
      if (error instanceof Refusal && !signal.aborted) checkRefused.value = error.failure.message;
    }
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
    const [shown, question] = [answer.value, answered.value];
    trends.value = null;
    if (!wanted || !question || !shown || shown.partial) return;
    const asked = trendQuestion(question, shown);
    if (!asked) return;
    try {
      const body = { ...asked.question, version: shown.version, fill: 0 };
      const found = await server.answer(body, shown.version, asking.signal);
      if (answer.value?.windows === shown.windows && !found.partial)
        trends.value = trendsOf(found, asked.grain);
    } catch (error) {
      // Lines that are known by month have no trend by day: the table stands without.
      if (!(error instanceof Refusal)) return;
    }
  }

  /** Ask no more: nobody looks any longer. */
  function leave(): void {
    asking.abort();
    ahead.drop();
  }

  /** The statement that the answer is to. */
  function statement(): Statement | null {
    return answered.value?.statement ?? null;
  }

  return {
    answer,
    answered,
    statement,
    trends,
    check,
    checkRefused,
    loading,
    failure,
    ask,
    see,
    fill,
    fillAll,
    drawTrends,
    leave,
  };
}
