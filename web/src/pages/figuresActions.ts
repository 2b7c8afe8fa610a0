/** The actions of the Figures page: what keys, palette and buttons ask for is done here, once. */
import { PLAIN_CHART } from "@/contract/vocabulary";
import { useEventListener } from "@vueuse/core";
import { computed, nextTick, ref, toRefs, type Ref } from "vue";
import { useRouter } from "vue-router";
import type { Answer, Statement } from "@/contract";
import { exactFigures, plainTable } from "@/model/copying";
import { actionOf } from "@/model/keys";
import { goDown, goUp, stepAsOf, windowLevel } from "@/model/going";
import { nextBase } from "@/model/movers";
import { linesOf, slotsOf, withTotal, type Line } from "@/model/lines";
import { pngOf, saveFile } from "@/model/saving";
import { setAsOf, whole, type Question } from "@/model/statement";
import { shownColumns } from "@/model/table";
import type { Parts } from "@/composables/parts";
import type { Sheet } from "@/state/sheet/sheet";
import type { Steps } from "@/state/sheet/steps";
import { useTurning } from "@/panels/statement/telling";
import { useHelp } from "@/state/help";
import { useLedgers } from "@/state/ledgers";
import { useStatements } from "@/state/statements";
import { lineHeadings, lineNames, plainHeadings, type Told } from "@/words/table";
import { shorten } from "@/state/links";

/** What the page has that actions reach for. */
export interface Reached {
  sheet: Sheet;
  view: Steps;
  parts: Parts;
  told: Ref<Told | null>;
  table: Ref<{
    focusSelected: () => Promise<void>;
    selectedBlock: () => { lines: Line[]; slots: [number, number] } | null;
  } | null>;
  tools: Ref<{ focusSearch: () => void } | null>;
  beside: Ref<{ step: (by: number) => void } | null>;
  chart: Ref<{ picture: () => string } | null>;
  /** Take the address again. */
  show: () => Promise<void>;
}

/** Parts of the statement that a key opens: the first there is, or the one that adds. */
const PARTS: Record<string, string[]> = {
  measure: ["measure-0"],
  show: ["show-0"],
  row: ["row-0", "add-row"],
  across: ["across-0", "add-across"],
  window: ["window"],
  base: ["base-0", "add-base"],
  filter: ["filter-", "add-filter"],
  limit: ["limit-0", "add-limit"],
  goal: ["goal-0", "add-goal"],
  layout: ["layout"],
  statements: ["statements"],
  keep: ["keep"],
};

export function useActions({ sheet, view, parts, told, table, tools, beside, chart, show }: Reached) {
  const router = useRouter();
  const ledgers = useLedgers();
  const statements = useStatements();
  const { question, selected, answer } = toRefs(sheet);
  const palette = ref(false);
  const help = useHelp();
  const pasting = ref(false);
  const copied = ref("");
  /** What is asked over the page: to which brief it goes, or what is to be told of it. */
  const over = ref<"brief" | "alert" | null>(null);
  const isOver = computed(() => palette.value || over.value !== null || help.topic !== null);

  function change(next: Statement | null): void {
    view.change(next);
  }

  /** The last step in time: how far, and the statement that it led to. */
  let stepped = { by: 0, days: false, to: "" };

  function stepDay(by: number, days: boolean): void {
    if (!question.value || !answer.value) return;
    const { statement } = question.value;
    const window = days ? ({ kind: "period", period: "2000-01-01" } as const) : statement.window;
    const next = (from: Question, { as_of }: Pick<Answer, "as_of">): Question => ({
      ...from,
      statement: setAsOf(from.statement, stepAsOf(as_of, window, by)),
    });
    const goesOn = stepped.by === by && stepped.days === days && stepped.to === JSON.stringify(statement);
    if (goesOn) sheet.lead(next);
    const to = next(question.value, answer.value).statement;
    stepped = { by, days, to: JSON.stringify(to) };
    change(to);
  }

  /** Down in time: into a period, where one is named or selected, else the whole range one level finer. */
  function down(period?: string): void {
    if (!question.value || !told.value) return;
    const { statement } = question.value;
    const spot = selected.value;
    const at = spot
      ? statement.rows.slice(0, spot.path.length).findLastIndex((each) => typeof each !== "string")
      : -1;
    const key = period ?? (at >= 0 ? spot?.path[at] : null) ?? null;
    // A level inside another one (day 5) names no period of its own.
    change(goDown(statement, key && key.length > 2 ? key : null));
  }

  const isFigures = (): boolean => sheet.layout.page === "figures";
  /** Movers and scorecard go up and down in time with their window. */
  function level(way: "up" | "down"): void {
    if (question.value) change(windowLevel(question.value.statement, way));
  }

  async function copy(text: string): Promise<void> {
    await navigator.clipboard.writeText(text);
    copied.value = "Copied ✓";
  }

  /** The table as plain text with the headings that stand over it, or the block of cells that is selected. */
  async function copyTable(): Promise<void> {
    const block = table.value?.selectedBlock();
    if (!(block ? block.lines.every((line) => line.row.cells.length) : await sheet.fillAll())) {
      copied.value = "Too large to copy: save it";
      return;
    }
    if (!told.value) return;
    const seen = told.value;
    if (block) {
      const cells = block.lines.map((line) => exactFigures(line, ...block.slots));
      await copy(cells.map((line) => line.join("\t")).join("\n"));
      return;
    }
    const slots = slotsOf(shownColumns(seen.answer), seen.layout);
    const heads = slots.map((each) => each.head.column);
    const rows = withTotal(seen.answer.rows, seen.answer.total, seen.layout);
    const lines = linesOf(rows, slots, seen.layout);
    await copy(
      plainTable(lines, lineHeadings(seen), plainHeadings(heads, seen), (line) => lineNames(line, seen)),
    );
  }

  /** The statement as it is read. */
  async function copySentence(): Promise<void> {
    if (question.value) await copy(answer.value?.told.sentence ?? "");
  }

  /** What is shown, as a file says it: what it is called, and its columns as the page has them. */
  function titled(): string {
    const mine = question.value && JSON.stringify(question.value.statement);
    const kept = statements.found.saved.find((each) => JSON.stringify(whole(each.statement)) === mine);
    return kept?.name ?? (question.value ? (answer.value?.told.title ?? "") : "");
  }

  async function save(kind: "csv" | "xlsx" | "json", formatted = false): Promise<void> {
    if (!told.value) return;
    const sent = await sheet.asFile(kind, { formatted, title: titled() });
    saveFile(sent.name, "application/octet-stream", sent.content);
  }

  /** A short link to what is shown, or the whole address, which can be read. */
  async function copyLink(whole_: boolean): Promise<void> {
    const { fullPath } = router.currentRoute.value;
    await copy(`${location.origin}${whole_ ? fullPath : await shorten(fullPath)}`);
  }

  /** The base's unit stepped through those that there are: a year, a quarter, a month before. */
  const turned = useTurning(sheet.previews);
  async function turnUnit(): Promise<void> {
    const next = question.value ? await turned(question.value.statement) : null;
    if (next) change(next);
  }

  async function saveChart(kind: "svg" | "png"): Promise<void> {
    const picture = chart.value?.picture();
    if (!picture) return;
    if (kind === "svg") saveFile(`${titled()} ${answer.value?.as_of ?? ""}.svg`, "image/svg+xml", picture);
    else saveFile(`${titled()} ${answer.value?.as_of ?? ""}.png`, "image/png", await pngOf(picture));
  }

  /** Take what was posted meanwhile, and what is shown with it. */
  async function takeNewest(): Promise<void> {
    if (!ledgers.open) return;
    await ledgers.refresh();
    await ledgers.choose(ledgers.open.name);
    await show();
  }

  /** What is shown as a page to print; of movers the table that they are. */
  function print(): void {
    const { query, fullPath } = router.currentRoute.value;
    const asked = sheet.asTable();
    const isTable = asked && asked !== question.value;
    const show = isTable && {
      show: JSON.stringify(asked.statement),
      open: JSON.stringify(asked.opened),
      from: fullPath,
    };
    void router.push({ path: "/print", query: { ...query, ...show } });
  }

  function close(): void {
    if (palette.value) palette.value = false;
    else if (selected.value) view.unselect();
    else if (pasting.value) pasting.value = false;
    else view.lay({ ...sheet.layout, beside: "" });
  }

  async function toProof(): Promise<void> {
    if (sheet.proof) view.unselect();
    else await table.value?.focusSelected();
  }

  const ACTS: Record<string, () => unknown> = {
    palette: () => (palette.value = true),
    keys: () => help.ask("keys"),
    undo: view.undo,
    redo: view.redo,
    "as-of-back": () => stepDay(-1, false),
    "as-of-ahead": () => stepDay(1, false),
    "as-of-day-back": () => stepDay(-1, true),
    "as-of-day-ahead": () => stepDay(1, true),
    down: () => (isFigures() ? down() : level("down")),
    up: () => (isFigures() ? question.value && change(goUp(question.value.statement)) : level("up")),
    deeper: () => view.deeper(1),
    "less-deep": () => view.deeper(-1),
    "step-back": () => beside.value?.step(-1),
    "step-ahead": () => beside.value?.step(1),
    table: () => table.value?.focusSelected(),
    proof: toProof,
    search: () => tools.value?.focusSearch(),
    chart: () => view.lay({ ...sheet.layout, chart: sheet.layout.chart ? null : PLAIN_CHART }),
    headline: () => view.lay({ ...sheet.layout, headline: !sheet.layout.headline }),
    "copy-table": copyTable,
    "copy-statement": () =>
      question.value && copy(JSON.stringify({ ...question.value, layout: sheet.layout }, null, 2)),
    "copy-sentence": copySentence,
    "copy-link": () => copyLink(false),
    "copy-address": () => copyLink(true),
    "base-unit": turnUnit,
    pasted: () => (pasting.value = !pasting.value),
    "to-brief": () => (over.value = "brief"),
    "to-alert": () => (over.value = "alert"),
    "save-csv": () => save("csv"),
    "save-csv-shown": () => save("csv", true),
    "save-xlsx": () => save("xlsx"),
    "save-json": () => save("json"),
    "save-svg": () => saveChart("svg"),
    "save-png": () => saveChart("png"),
    print,
    "page-figures": () => view.lay({ ...sheet.layout, page: "figures" }),
    "page-movers": () => view.lay({ ...sheet.layout, page: "movers" }),
    "page-scorecard": () => view.lay({ ...sheet.layout, page: "scorecard" }),
    "other-base": () => {
      const { movers } = sheet.layout;
      const bases = question.value?.statement.bases.length ?? 0;
      view.lay({ ...sheet.layout, movers: nextBase(movers, bases) });
    },
    larger: () => view.lay({ ...sheet.layout, size: sheet.layout.size === "large" ? "normal" : "large" }),
    newest: takeNewest,
    "to-intake": () => router.push({ path: "/intake", query: { ledger: String(ledgers.open?.id) } }),
    "to-calendar": () => router.push({ path: "/calendar", query: { ledger: String(ledgers.open?.id) } }),
  };

  async function act(action: string): Promise<void> {
    const names = PARTS[action];
    if (names) {
      // Once what was over the page is gone, the part can have the focus.
      await nextTick();
      names.some((name) => parts.open(name));
    } else await ACTS[action]?.();
  }

  /** Ask again what could not be answered. */
  async function again(): Promise<void> {
    sheet.again();
    await takeNewest();
  }

  /** Keys of the page; those that are typed into a field are the field's, but for the one that opens the palette. */
  function pressed(event: KeyboardEvent): void {
    const target = event.target as HTMLElement;
    const writing = target.matches("input:not([type=checkbox]), textarea, select");
    if (event.key === "Escape" && !writing) {
      if (help.topic === null) close();
      return;
    }
    const action = actionOf(event);
    if (!action || (writing && action !== "palette") || isOver.value) return;
    event.preventDefault();
    void act(action);
  }
  useEventListener("keydown", pressed);

  return {
    palette,
    pasting,
    copied,
    over,
    titled,
    act,
    again,
    close,
    down,
    takeNewest,
  };
}
