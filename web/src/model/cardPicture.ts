/** A scorecard as a picture of its own, to be saved: rods, beads, goals and words, without the page around them. */
import type { Card } from "@/contract";
import { cellOf, placeOf } from "./card";
import type { Numbers } from "./numbers";

export interface PictureLook {
  font: string;
  ink: string;
  quiet: string;
  line: string;
  sheet: string;
  met: string;
  missed: string;
}

const LINE = 34;
const NAMES = 190;
const COLUMN = 230;
const ROD = 90;

function escaped(text: string): string {
  return text.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll('"', "&quot;");
}

/** look: the page's colours as they are; title: what stands over it; caption: what it rests on. */
export function cardPicture(
  card: Card,
  { cell: cellText }: Numbers,
  look: PictureLook,
  title: string,
  caption: string,
): string {
  const { answer, statement, told } = card;
  const rows = [...answer.rows, answer.total];
  const width = NAMES + told.metrics.length * COLUMN + 90;
  const height = 74 + rows.length * LINE + 34;
  const parts: string[] = [];
  const text = (x: number, y: number, words: string, fill: string, more = ""): void =>
    void parts.push(`<text x="${x}" y="${y}" fill="${fill}" ${more}>${escaped(words)}</text>`);
  text(12, 24, title, look.ink, 'font-size="16" font-weight="600"');
  told.metrics.forEach((metric, at) => {
    text(NAMES + at * COLUMN, 46, metric.name, look.ink, 'font-weight="600"');
    text(NAMES + at * COLUMN, 61, metric.goal_words || "no goal", look.quiet, 'font-size="11"');
  });
  rows.forEach((row, line) => {
    const y = 74 + line * LINE;
    const middle = y + LINE / 2;
    parts.push(`<line x1="12" x2="${width - 12}" y1="${y}" y2="${y}" stroke="${look.line}"/>`);
    const name = row.path.length ? row.label : answer.told.total;
    const weight = row.path.length ? "" : 'font-weight="600"';
    text(12 + Math.max(row.path.length - 1, 0) * 14, middle + 5, name, look.ink, weight);
    told.metrics.forEach((metric, at) => {
      const x = NAMES + at * COLUMN;
      const column = answer.columns.find((each) => each.id === (metric.goal || metric.value));
      const cell = column && cellOf(answer, row, column.id);
      if (!cell || !column) return;
      const goal = statement.goals.find((each) => each.metric === metric.id);
      const value = cellText(cell, column, column.decimals);
      if (!goal || !metric.goal) {
        text(x, middle + 5, value, look.ink);
        return;
      }
      const colour = cell.met == null ? look.quiet : cell.met ? look.met : look.missed;
      const place = placeOf(cell, goal.of);
      parts.push(`<line x1="${x}" x2="${x + ROD}" y1="${middle}" y2="${middle}" stroke="${look.line}"/>`);
      if (cell.target)
        parts.push(
          `<line x1="${x + ROD / 2}" x2="${x + ROD / 2}" y1="${middle - 9}" y2="${middle + 9}" stroke="${look.ink}" stroke-width="2" stroke-dasharray="3 2"/>`,
        );
      if (place !== null)
        parts.push(
          `<rect x="${x + place * ROD - 11}" y="${middle - 6}" width="22" height="12" rx="6" stroke="${colour}" stroke-width="2" fill="${cell.met ? colour : look.sheet}"/>`,
        );
      const verdict = cell.met == null ? "cannot be told" : cell.met ? "met" : "missed";
      text(x + ROD + 12, middle + 5, cell.target ? `${value} ${verdict}` : "no goal", colour);
    });
    if (row.goals && statement.goals.length)
      text(width - 78, middle + 5, `${row.goals.met} of ${row.goals.defined}`, look.ink, 'font-weight="600"');
  });
  text(12, height - 12, caption, look.quiet, 'font-size="11"');
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}" font-family="${escaped(look.font)}" font-size="13.5"><rect width="${width}" height="${height}" fill="${look.sheet}"/>${parts.join("")}</svg>`;
}
