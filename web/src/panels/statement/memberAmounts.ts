/** What members of a dimension come to in the current window, beside the members that can be chosen. */
import { ref, watch } from "vue";
import { useNumbers } from "@/composables/numbers";
import type { Cell, MemberKey } from "@/contract";
import { tableDecimals } from "@/model/numbers";
import { useSheet } from "@/state/sheet/sheet";

/** A member's figure as text, "" as long as it is not known; known anew with every answer. */
export function useMemberAmounts(dimension: () => string): (key: MemberKey) => string {
  const sheet = useSheet();
  const numbers = useNumbers();
  const amounts = ref(new Map<MemberKey, Cell>());
  watch(
    [dimension, () => sheet.answer?.windows],
    async ([of], [before]) => {
      if (of !== before) amounts.value = new Map();
      const found = of ? await sheet.amounts(of) : null;
      if (found?.size && of === dimension()) amounts.value = found;
    },
    { immediate: true },
  );
  return (key) => {
    const cell = amounts.value.get(key);
    const column = sheet.answer?.columns.find((each) => each.kind === "value" && !each.window);
    if (!cell || cell.value === null || !column) return "";
    return numbers.cell(cell, column, tableDecimals(column, sheet.answer?.total.cells[0] ?? cell));
  };
}
