/** What the Figures page shows of a sheet's answer: laid out, searched, as a series. */
import { useDays } from "@/composables/dates";
import { computed, toRefs, type Ref } from "vue";
import { seriesOf } from "@/model/chart";
import { hiddenPeriods, laidOut } from "@/model/layout";
import type { Numbers } from "@/model/numbers";
import { samePath } from "@/model/statement";
import type { Sheet } from "@/state/sheet/sheet";
import type { Told } from "@/words/table";

/** said: what the ledger says of its measures and dimensions, by name. */
export function useSeen(sheet: Sheet, said: Ref<Record<string, string>>, numbers: Numbers) {
  const days = useDays();
  const { answer, answered, layout, selected } = toRefs(sheet);
  const seen = computed(() => (answer.value ? laidOut(answer.value, layout.value) : null));
  const told = computed<Told | null>(() =>
    seen.value && answered.value
      ? {
          answer: seen.value,
          statement: answered.value,
          layout: layout.value,
          said: said.value,
          numbers,
          days,
        }
      : null,
  );
  /** A pasted answer is checked against all rows, whatever is searched for. */
  const toldWhole = computed<Told | null>(() =>
    told.value && answer.value
      ? { ...told.value, answer: laidOut(answer.value, { ...layout.value, search: "" }) }
      : null,
  );
  const notShown = computed(() => (answer.value ? hiddenPeriods(answer.value, layout.value) : 0));
  /** With time across the chart is that of the selected row, else of all. */
  const series = computed(() => {
    if (!answer.value || !answered.value) return null;
    const spot = selected.value;
    const row = answer.value.rows.find(
      (each) => spot && samePath(each.path, spot.path) && (typeof each.rest === "number") === !!spot.rest,
    );
    return seriesOf(answer.value, answered.value, row);
  });

  return { seen, told, toldWhole, notShown, series };
}
