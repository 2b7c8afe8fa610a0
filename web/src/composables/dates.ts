/** How days are written in fields: given by the house, found by every field. */
import { inject, provide, ref, type InjectionKey, type Ref } from "vue";

const FORMAT: InjectionKey<Ref<string>> = Symbol("format of days");

/** Write the days of all fields in this format of dayjs. */
export function provideDayFormat(format: Ref<string>): void {
  provide(FORMAT, format);
}

/** The format of days in fields; one that nobody mistakes where nothing is said. */
export function useDayFormat(): Ref<string> {
  return inject(FORMAT, () => ref("D MMM YYYY"), true);
}
