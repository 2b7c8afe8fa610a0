/** How days are written, in fields and alone: given by the house, found by everything in it. */
import { inject, provide, ref, type InjectionKey, type Ref } from "vue";
import { daysWith, type Days } from "@/model/days";

const FORMAT: InjectionKey<Ref<string>> = Symbol("format of days");
const DAYS: InjectionKey<Days> = Symbol("days");

/** Write the days of all fields in this format of dayjs. */
export function provideDayFormat(format: Ref<string>): void {
  provide(FORMAT, format);
}

/** The format of days in fields; one that nobody mistakes where nothing is said. */
export function useDayFormat(): Ref<string> {
  return inject(FORMAT, () => ref("D MMM YYYY"), true);
}

/** Write all days that stand alone by the habits of this language. */
export function provideDays(locale: () => string | undefined): Days {
  const days = daysWith(locale);
  provide(DAYS, days);
  return days;
}

/** How days are written here; as the browser's own language has it where nothing is said. */
export function useDays(): Days {
  return inject(DAYS, () => daysWith(() => undefined), true);
}
