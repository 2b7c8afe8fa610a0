/** Other words by which people look for a thing: found in the palette, shown nowhere. */
const ALSO: [RegExp, string][] = [
  [/% change|change in|difference/i, "growth grow increase decline delta"],
  [/month to date|running month/i, "this month current month mtd"],
  [/quarter to date|running quarter/i, "this quarter current quarter qtd"],
  [/year to date|running year/i, "this year current year ytd"],
  [/month before/i, "last month previous month mom"],
  [/^against \d+ [\w-]+ (back|ahead)$/i, "periods"],
  [/^against the [\w-]+ before$/i, "the period before previous period"],
  [/last year|dates last year|year before/i, "last year previous year prior year yoy"],
  [/goal/i, "target budget quota"],
  [/short link|page to print|workbook|as CSV/i, "deliver send share email mail report export"],
  [/open a statement|keep what is on screen/i, "delete forget remove save rename statement report"],
  [/go to intake/i, "upload import files post delete ledger archive withdraw settings"],
  [/columns, totals and formats/i, "format decimals hide delete column"],
  [/what is counted/i, "filter only where"],
  [/top|bottom|largest/i, "best worst movers biggest"],
  [/mean of three/i, "average moving smooth trend"],
  [/new and lost/i, "churn customers gained won gone"],
  [/month over month|month before/i, "mom monthly"],
  [/same part of every year|year by year/i, "yearly annual history"],
  [/both sold/i, "like for like comparable growth"],
  [/running total/i, "cumulative so far accumulated"],
  [/share/i, "percent of total contribution mix"],
  [/prove/i, "explain trace lines drill"],
  [/down in time/i, "drill zoom into"],
  [/larger/i, "zoom bigger"],
];

/** What an item of the palette is found by: its words, and what people call it otherwise. */
export function soughtIn(words: string): string {
  const also = ALSO.flatMap(([said, more]) => (said.test(words) ? more : []));
  return [words, ...also].join(" ").toLowerCase();
}
