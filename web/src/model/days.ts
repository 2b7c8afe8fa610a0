/** Civil days as ISO text (2026-10-17), counted without time zones. */
const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
const DAY = 86_400_000;

/** Days since 1 January 1970. */
export function dayNumber(iso: string): number {
  return Math.round(Date.parse(`${iso}T00:00:00Z`) / DAY);
}

/** How many days lie from one to another, both counted. */
export function daysBetween(first: string, last: string): number {
  return dayNumber(last) - dayNumber(first) + 1;
}

/** The day of a number of days since 1 January 1970. */
export function dayOf(number: number): string {
  return new Date(number * DAY).toISOString().slice(0, 10);
}

/** 17 Oct 2026. */
export function dayText(iso: string): string {
  const [year, month, day] = iso.split("-").map(Number);
  return `${day} ${MONTHS[(month ?? 1) - 1]} ${year}`;
}

/** 1 Jan – 17 Oct 2026, or 1 Nov 2025 – 17 Oct 2026, or one day. */
export function rangeText(first: string, last: string): string {
  if (first === last) return dayText(first);
  const start = first.slice(0, 4) === last.slice(0, 4) ? dayText(first).replace(/ \d+$/, "") : dayText(first);
  return `${start} – ${dayText(last)}`;
}

/** How days that stand alone are written for a reader; those within sentences are of the sentences' language. */
export interface Days {
  dayText: (iso: string) => string;
  rangeText: (first: string, last: string) => string;
  /** Short name of the month of a day. */
  monthName: (iso: string) => string;
  /** A month or a day, null for other periods. */
  period: (key: string) => string | null;
}

/** Days by the habits of this language, asked for every day: of English ones the day stands before the month. */
export function daysWith(locale: () => string | undefined): Days {
  const written = (how: Intl.DateTimeFormatOptions): Intl.DateTimeFormat | null => {
    const language = locale() ?? (typeof navigator === "undefined" ? "en" : navigator.language);
    return language.startsWith("en") ? null : new Intl.DateTimeFormat(language, { ...how, timeZone: "UTC" });
  };
  const at = (iso: string): number => dayNumber(iso) * DAY;
  const day = { year: "numeric", month: "short", day: "numeric" } as const;
  return {
    dayText: (iso) => written(day)?.format(at(iso)) ?? dayText(iso),
    rangeText: (first, last) =>
      (first === last ? written(day)?.format(at(first)) : written(day)?.formatRange(at(first), at(last))) ??
      rangeText(first, last),
    monthName: (iso) => written({ month: "short" })?.format(at(iso)) ?? monthName(iso),
    period: (key) => localPeriod(key, locale()),
  };
}

/** A month or a day as the reader's own language writes it; null for other periods, which have no name there. */
export function localPeriod(key: string, locale?: string): string | null {
  const [, year, month, day] = /^(\d{4})-(\d\d)(?:-(\d\d))?$/.exec(key) ?? [];
  if (!year || !month) return null;
  const at = new Date(Date.UTC(Number(year), Number(month) - 1, Number(day ?? 1)));
  const how: Intl.DateTimeFormatOptions = { year: "numeric", month: "short", timeZone: "UTC" };
  return new Intl.DateTimeFormat(locale, day ? { ...how, day: "numeric" } : how).format(at);
}

/** How a language writes a day in digits, as a format of dayjs; English days name their month, which nobody mistakes. */
export function dayFormat(locale?: string): string {
  const language = locale ?? (typeof navigator === "undefined" ? "en" : navigator.language);
  if (language.startsWith("en")) return "D MMM YYYY";
  const how: Intl.DateTimeFormatOptions = { year: "numeric", month: "2-digit", day: "2-digit" };
  const signs: Record<string, string> = { year: "YYYY", month: "MM", day: "DD" };
  const parts = new Intl.DateTimeFormat(language, how).formatToParts(new Date(Date.UTC(2026, 9, 17)));
  return parts.map((each) => signs[each.type] ?? each.value).join("");
}

/** Short name of the month of a day. */
export function monthName(iso: string): string {
  return MONTHS[Number(iso.slice(5, 7)) - 1] ?? "";
}

/** A day moved by calendar months, cut to the month's length. */
export function addMonths(iso: string, months: number): string {
  const [year = 1970, month = 1, day = 1] = iso.split("-").map(Number);
  const at = year * 12 + month - 1 + months;
  const length = new Date(Date.UTC(Math.floor(at / 12), (at % 12) + 1, 0)).getUTCDate();
  return dayOf(Date.UTC(Math.floor(at / 12), at % 12, Math.min(day, length)) / DAY);
}

/** A day moved by days. */
export function addDays(iso: string, days: number): string {
  return dayOf(dayNumber(iso) + days);
}
