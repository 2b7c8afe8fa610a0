// @vitest-environment happy-dom
/** What the chart is drawn with: measures told apart without colour, and a period that is posted for a part only told as such. */
import { mount } from "@vue/test-utils";
import { createPinia, setActivePinia } from "pinia";
import { beforeEach, expect, it, vi } from "vitest";
import type { AnsweredWindow, Chart } from "@/contract";
import { PLAIN_CHART } from "@/contract/vocabulary";
import { whole } from "@/model/statement";
import SeriesChart from "@/panels/series/SeriesChart.vue";
import { asides } from "@/panels/series/severalOption";
import { answer, column, row } from "./answers";

interface Drawn {
  series: { data?: unknown[]; type: string; symbol?: string; itemStyle?: { decal?: object } }[];
  xAxis: { data: string[] } | { data: string[] }[];
  tooltip: { formatter: (at: { dataIndex: number }[]) => string };
}

const { options } = vi.hoisted(() => ({ options: [] as unknown[] }));
vi.mock("@/parts/Part.vue", () => ({ default: { render: () => null } }));
vi.mock("echarts/core", () => ({
  use: () => undefined,
  init: () => ({
    setOption: (option: unknown) => options.push(option),
    on: () => undefined,
    off: () => undefined,
    resize: () => undefined,
    dispose: () => undefined,
    getZr: () => ({ on: () => undefined }),
  }),
}));

const NET = column("net_sales.0.value");
const THEN = column("net_sales.1.value");
const ORDERS = column("orders.0.value", { unit: "count", decimals: 0 });

function window(first: string, last: string, parts: Partial<AnsweredWindow> = {}): AnsweredWindow {
  const asked = { first, last };
  return {
    key: null,
    asked,
    period: asked,
    counted_days: 31,
    fairness: null,
    posted: null,
    ...parts,
  } as AnsweredWindow;
}

function drawn(type: "own" | "line", of: AnsweredWindow[] | null = null, chart: Partial<Chart> = {}): Drawn {
  const windows = of ?? [
    window("2026-01-01", "2026-01-31"),
    window("2025-01-01", "2025-01-31", {
      fairness: "unequal",
      posted: { posted: 20, asked: 31, grain: "day" },
    }),
  ];
  const january = row(["2026-01"], ["10.00", "5.00", "3"], { slot: 1 });
  const found = answer([NET, THEN, ORDERS], [january], january, { windows });
  const drawing = {
    grain: "month",
    periods: [{ key: "2026-01", row: january, windows }],
    drawn: [NET, THEN, ORDERS].map((each, at) => ({ column: each, shape: "bar", values: [at + 1] })),
  };
  mount(SeriesChart, {
    global: { stubs: { Part: true } },
    props: {
      drawing: drawing as never,
      chart: { ...PLAIN_CHART, lines: type, ...chart },
      answer: found,
      statement: whole({
        measures: [],
        bases: [{ kind: "period", back: 1, unit: "year", align: "same_dates" }],
      }),
      of: "",
    },
  });
  return options.at(-1) as Drawn;
}

beforeEach(() => {
  options.length = 0;
  setActivePinia(createPinia());
  vi.stubGlobal(
    "ResizeObserver",
    class {
      observe(): void {}
      disconnect(): void {}
    },
  );
});

it("tells measures apart by hatching and by the shape of their points", () => {
  const [net, then, orders] = drawn("own").series;
  expect([net?.itemStyle?.decal, then?.itemStyle?.decal]).toEqual([undefined, undefined]);
  expect(orders?.itemStyle?.decal).toBeDefined();
  expect([net?.symbol, then?.symbol, orders?.symbol]).toEqual(["circle", "circle", "rect"]);
});

it("hatches a period that still runs, and draws no base of one that has not begun unless that is asked for", () => {
  const parts = { period: { first: "2026-01-01", last: "2026-01-31" } };
  const running = [window("2026-01-01", "2026-01-17", parts), window("2025-01-01", "2025-01-17")];
  const [now, then] = drawn("own", running).series;
  expect(now?.data?.[0]).toMatchObject({ value: 1, itemStyle: { decal: { symbol: "rect" } } });
  expect(then?.data).toEqual([2]);
  const later = { period: { first: "2099-01-01", last: "2099-01-31" } };
  const ahead = [window("2099-01-01", "2099-01-31", later), window("2098-01-01", "2098-01-31")];
  expect(drawn("own", ahead).series[1]?.data).toEqual([null]);
  expect(drawn("own", ahead, { ahead: true }).series[1]?.data).toEqual([2]);
});

it("marks a period whose base is posted for a part only, and says for how much of it", () => {
  const { xAxis, tooltip } = drawn("own");
  const axis = Array.isArray(xAxis) ? xAxis[0] : xAxis;
  expect(axis?.data).toEqual(["! Jan 2026"]);
  expect(tooltip.formatter([{ dataIndex: 0 }])).toContain("20 of 31 days posted in 2025");
});

it("keeps the names at the ends of lines apart, within the picture", () => {
  const height = 190;
  const ends = [0.5, 0.5, 0.49, 1, 0, 0, null];
  const moved = asides(ends, height);
  const room = height - 36;
  const places = ends.flatMap((end, at) => (end === null ? [] : [(1 - end) * room + (moved[at] ?? 0)]));
  places.sort((one, other) => one - other);
  for (let at = 1; at < places.length; at += 1)
    expect((places[at] ?? 0) - (places[at - 1] ?? 0)).toBeGreaterThanOrEqual(12.999);
  expect([Math.min(...places) >= 0, Math.max(...places) <= room, moved[6]]).toEqual([true, true, 0]);
});
