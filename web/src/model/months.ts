/** Months as text (2026-03). */

/** Every month from the first to the last of some, in order. */
export function monthsBetween(months: string[]): string[] {
  const numbers = months.map((month) => Number(month.slice(0, 4)) * 12 + Number(month.slice(5, 7)) - 1);
  if (!numbers.length) return [];
  const first = Math.min(...numbers);
  return Array.from({ length: Math.max(...numbers) - first + 1 }, (_, at) => {
    const month = first + at;
    return `${Math.floor(month / 12)}-${String((month % 12) + 1).padStart(2, "0")}`;
  });
}
