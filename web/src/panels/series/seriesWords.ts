/** The words of a chart: what its figures are called, what a period says when it is pointed at. */
import type { Answer, Chart, Statement } from "@/contract";
import { ALIGNMENTS, FAIRNESS, GRAINS, REASONS } from "@/contract/vocabulary";
import { axisOf, changesOf, type SeriesDrawing } from "@/model/chart";
import type { Days } from "@/model/days";
import type { Fraction, Numbers } from "@/model/numbers";
import { cutWords, postedWords } from "@/words/marks";
import { capital, measureName, periodName } from "@/words/names";
import { wordsOf } from "@/words/told";

/** A series, and how it is drawn: none of it changes a figure. */
export interface DrawnSeries {
  drawing: SeriesDrawing;
  chart: Chart;
  answer: Answer;
  statement: Statement;
}

export type SeriesWords = ReturnType<typeof seriesWords>;

/** of: the series at that moment. */
export function seriesWords(of: DrawnSeries, numbers: Numbers, { rangeText }: Days) {
  const { cell: cellText, rounded } = numbers;

  function nameOf(at: number): string {
    const column = of.drawing.drawn[at]?.column;
    if (!column) return "";
    const name = column.name || capital(measureName(column.measure));
    const own = of.answer.columns.includes(column) ? wordsOf(column, of.answer).along : "";
    const along = own ? `, ${own}` : "";
    return `${name}${along}: ${of.answer.told.windows[column.window]?.toLowerCase()}`;
  }

  /** The same in little room: the measure where there are several, else the window. */
  function shortNameOf(at: number): string {
    const column = of.drawing.drawn[at]?.column;
    if (!column) return "";
    const measures = new Set(of.drawing.drawn.map((each) => `${each.column.measure} ${each.column.along}`));
    const own = of.answer.columns.includes(column) ? wordsOf(column, of.answer).along : "";
    const name = own || column.name || capital(measureName(column.measure));
    const window = of.answer.told.windows[column.window] ?? "";
    return measures.size > 1 ? (column.window ? `${name}, ${window.toLowerCase()}` : name) : window;
  }

  /** What one period says: per figure its window with dates, how it is matched, and the value. */
  function told(index: number): string {
    const period = of.drawing.periods[index];
    if (!period) return "";
    const lines = of.drawing.drawn.map(({ column }, at) => {
      const window = period.windows[column.window];
      const place = of.answer.columns.indexOf(column);
      const cell = period.row.cells[place];
      const value = !cell
        ? ""
        : cell.value === null
          ? (REASONS[cell.reason ?? ""] ?? "")
          : cellText(cell, column, column.decimals);
      const days = column.along
        ? `to ${periodText(period.key)}`
        : window?.asked
          ? rangeText(window.asked.first, window.asked.last)
          : "no such period";
      const said = window
        ? [FAIRNESS[window.fairness ?? ""] ?? "", postedWords(window, numbers)].filter(Boolean)
        : [];
      const fair = said.length ? `, ${said.join(", ")}` : "";
      return `<div style="display:flex;gap:14px;justify-content:space-between"><span>${escaped(nameOf(at))} <small>(${days}${fair})</small></span><b>${escaped(value)}</b></div>`;
    });
    const bases = of.statement.bases.flatMap((base) =>
      "align" in base ? [ALIGNMENTS[base.align] ?? base.align] : [],
    );
    const how = bases.length ? ` · aligned by ${[...new Set(bases)].join(", ")}` : "";
    return `<b>${escaped(periodText(period.key))}</b> <small>each ${GRAINS[of.drawing.grain]}${escaped(how)}</small>${lines.join("")}${changes(period)}`;
  }

  /** The changes of a period, each against its base. */
  function changes(period: SeriesDrawing["periods"][number]): string {
    const times100 = (value: Fraction): Fraction => ({ top: value.top * 100n, bottom: value.bottom });
    return changesOf(of.answer, of.drawing, period.row)
      .map(({ column, difference, percent: part }) => {
        const points = column.unit === "percent";
        const by = rounded(points ? times100(difference) : difference, column.decimals, true);
        const text = points ? `${by} pt` : part ? `${by} (${rounded(times100(part), 1, true)}%)` : by;
        return `<div style="display:flex;gap:14px;justify-content:space-between"><small>change, ${escaped(nameOf(of.drawing.drawn.findIndex((each) => each.column === column)))}</small><span>${escaped(text)}</span></div>`;
      })
      .join("");
  }

  function escaped(text: string): string {
    return text.replaceAll("&", "&amp;").replaceAll("<", "&lt;");
  }

  /** A figure's axis: as chosen, else by its unit. */
  function axis(at: number): 0 | 1 {
    const chosen = of.chart.axes?.[of.drawing.drawn[at]?.column.id ?? ""];
    return chosen ? (chosen === "right" ? 1 : 0) : axisOf(of.drawing, at);
  }

  /** A period under the axis: marked where its own pair of windows is not fair, named with its end where it is cut. */
  function labelled({ key, windows }: SeriesDrawing["periods"][number]): string {
    const unfair = windows.some(
      (each, at) => (at ? each.fairness === "unequal" : false) || postedWords(each, numbers),
    );
    const cut = windows[0] ? cutWords(windows[0]) : "";
    return `${unfair ? "! " : ""}${periodText(key)}${cut ? `, ${cut}` : ""}`;
  }

  function periodText(key: string): string {
    return key.length > 2 ? periodName(key) : key;
  }

  return { nameOf, shortNameOf, told, labelled, axis };
}
