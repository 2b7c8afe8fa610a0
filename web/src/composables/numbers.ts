/** How numbers are written on a page: given by the page, found by everything on it. */
import { inject, provide, type InjectionKey } from "vue";
import { localMarks, numbersWith, type Marks, type Numbers } from "@/model/numbers";

const NUMBERS: InjectionKey<Numbers> = Symbol("numbers");

/** Write the numbers of this page and of all that stands on it with these marks. */
export function provideNumbers(marks: () => Marks): Numbers {
  const numbers = numbersWith(marks);
  provide(NUMBERS, numbers);
  return numbers;
}

/** The page's numbers; with the marks of the reader's own language where the page says nothing. */
export function useNumbers(): Numbers {
  return inject(NUMBERS, () => numbersWith(() => localMarks()), true);
}
