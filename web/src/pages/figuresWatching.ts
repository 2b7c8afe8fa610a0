/** What the page of figures keeps an eye on: its address, new versions, trends and empty periods of what is shown. */
import { onBeforeUnmount, ref, watch, type Ref } from "vue";
import { useRoute } from "vue-router";
import { useLedgers } from "@/state/ledgers";
import type { AddressBar } from "@/state/sheet/address";
import type { Sheet } from "@/state/sheet/sheet";
import type { Steps } from "@/state/sheet/steps";

export function useWatching(
  sheet: Sheet,
  view: Steps,
  bar: AddressBar,
): { trouble: Ref<string>; show: () => Promise<void> } {
  const route = useRoute();
  const ledgers = useLedgers();
  const trouble = ref("");

  async function show(): Promise<void> {
    trouble.value = "";
    try {
      await view.take();
    } catch (error) {
      trouble.value = error instanceof Error ? error.message : String(error);
    }
  }

  async function attempt(): Promise<void> {
    if (bar.isHere()) await show();
  }

  watch(() => route.fullPath, attempt, { immediate: true });
  // What was just posted at Intake may arrive after its page has been left.
  watch(() => ledgers.open?.version, attempt);
  // However many of its rows are filled meanwhile, an answer keeps its windows.
  watch([() => sheet.answer?.windows, () => sheet.layout.trends], () =>
    sheet.drawTrends(sheet.layout.trends === "always"),
  );
  // Which periods of a large table are empty is known when they are filled: before they are scrolled to.
  watch(
    [() => sheet.answer?.windows, () => sheet.layout.empty_periods],
    () => sheet.layout.empty_periods === "hidden" && sheet.fillAll(),
  );
  onBeforeUnmount(ledgers.watchPostings());

  return { trouble, show };
}
