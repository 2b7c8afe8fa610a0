/** The lines of the table as they are laid out: their columns, decimals, bars and trends. */
import { computed } from "vue";
import type { Answer, Layout, Statement } from "@/contract";
import { GRAINS } from "@/contract/vocabulary";
import { linesOf, slotsOf, type Line } from "@/model/lines";
import { tableDecimals } from "@/model/numbers";
import { largestChanges, shownColumns } from "@/model/table";
import { numberAt, trendKey, trendOf, type Trends } from "@/model/trends";
import { capital, measureName } from "@/words/names";

/** trends: of a table in which no time stands across. */
export interface Laid {
  answer: Answer;
  statement: Statement;
  layout: Layout;
  trends: Trends | null;
}

export function useLines(props: Laid) {
  const rows = computed(() => props.answer.rows);
  const columns = computed(() => shownColumns(props.answer));
  const slots = computed(() => slotsOf(columns.value, props.layout));
  const lines = computed(() => linesOf(rows.value, slots.value, props.layout));
  const totalLines = computed(() => linesOf([props.answer.total], slots.value, props.layout));
  /** All lines that can be reached, in the order in which they stand. */
  const reachable = computed(() => {
    const { totals } = props.layout;
    if (totals === "off") return lines.value;
    return totals === "above" ? [...totalLines.value, ...lines.value] : [...lines.value, ...totalLines.value];
  });
  const largest = computed(() => largestChanges(props.answer.rows, columns.value));
  /** Where each line's trend is drawn from, by its place within its row; null where none has one. */
  const trended = computed(() => {
    if (props.layout.trends === "off") return null;
    const found = totalLines.value.map((line) => trendOf(props.answer, props.statement, line.metric));
    return found.some((each) => each.length) ? found : null;
  });
  const trendWords = computed(() => {
    if (trended.value) return "The figures of the whole periods across";
    if (!props.trends) return "";
    const { grain, measure } = props.trends;
    return `${capital(measureName(measure))} by ${GRAINS[grain]} in the current window, whole ${GRAINS[grain]}s only`;
  });

  /** The figures of a line's trend; null where no line has one. */
  function trendIn({ row, place }: Line): (number | null)[] | null {
    if (trended.value) return (trended.value[place] ?? []).map((at) => numberAt(row.cells[at]?.value));
    if (!props.trends) return null;
    return place || typeof row.rest === "number" ? [] : (props.trends.values.get(trendKey(row.path)) ?? []);
  }
  const decimals = computed(() =>
    // Values and changes of a measure show the same decimals: those that its current total asks for.
    props.answer.columns.map((column) => {
      if (props.layout.decimals[column.measure] !== undefined) return column.decimals;
      const at = props.answer.columns.findIndex((each) => each.measure === column.measure);
      const cell = props.answer.total.cells[at];
      return cell ? tableDecimals(column, cell) : column.decimals;
    }),
  );

  return { rows, slots, lines, totalLines, reachable, largest, trendWords, trendIn, decimals };
}
