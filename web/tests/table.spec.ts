// @vitest-environment happy-dom
/** The table mounted: rows that are seen are drawn, cells are reached by key, what is selected is told. */
import { mount } from "@vue/test-utils";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { nextTick } from "vue";
import { PLAIN } from "@/contract/vocabulary";
import { metric, whole } from "@/model/statement";
import FiguresTable from "@/panels/table/FiguresTable.vue";
import { answer, column, row } from "./answers";

vi.mock("@/parts/Part.vue", () => ({ default: { template: "<span />" } }));

const MANY = Array.from({ length: 1000 }, (_, at) => row([`R${at}`], [String(at), "2.50"]));
const COLUMNS = [column("net_sales.0.value"), column("cost.0.value")];
const STATEMENT = whole({ measures: [metric("net_sales"), metric("cost")], rows: ["rep"] });

/** happy-dom lays nothing out: the table is this high, and a row stands where its number says. */
beforeEach(() => {
  for (const [name, size] of [
    ["offsetHeight", 560],
    ["clientHeight", 560],
    ["offsetWidth", 1000],
    ["clientWidth", 1000],
  ] as const)
    Object.defineProperty(HTMLElement.prototype, name, { configurable: true, get: () => size });
});

function mounted(rows = MANY, selected: { path: string[]; column: string } | null = null) {
  return mount(FiguresTable, {
    attachTo: document.body,
    props: {
      answer: answer(COLUMNS, rows, row([], ["499500", "2500"])),
      statement: STATEMENT,
      layout: PLAIN,
      selected,
      said: {},
      trends: null,
    },
  });
}

function names(table: ReturnType<typeof mounted>): string[] {
  return table.findAll("tbody tr[data-test]").map((each) => each.attributes("data-test") ?? "");
}

describe("a table of a thousand rows", () => {
  it("draws those that are seen and a few more, with the room of the others above and below", async () => {
    const table = mounted();
    await nextTick();
    const drawn = names(table);
    expect(drawn.slice(0, 2)).toEqual(["row-R0", "row-R1"]);
    expect(drawn.length).toBeLessThan(60);
    const box = table.find("[data-test=table]").element as HTMLElement;
    box.scrollTop = 500 * 28;
    box.dispatchEvent(new Event("scroll"));
    await nextTick();
    expect(names(table)).toContain("row-R500");
    expect(names(table)).not.toContain("row-R0");
    const [above, below] = table
      .findAll("tr.space")
      .map((each) => parseInt(each.attributes("style")?.match(/\d+/)?.[0] ?? ""));
    expect((above ?? 0) + (below ?? 0) + names(table).length * 28).toBe(1000 * 28);
  });

  it("draws the columns that are seen of two hundred", async () => {
    const wide = Array.from({ length: 200 }, (_, at) => column(`m${at}.0.value`));
    const texts = wide.map(() => "1");
    const table = mount(FiguresTable, {
      props: {
        answer: answer(wide, [row(["R"], texts)], row([], texts)),
        statement: whole({ measures: wide.map((each) => metric(each.measure)), rows: ["rep"] }),
        layout: PLAIN,
        selected: null,
        said: {},
        trends: null,
      },
    });
    await nextTick();
    const drawn = table.findAll("[data-test=row-R] td[data-test]").length;
    expect([drawn > 5, drawn < 30]).toEqual([true, true]);
  });
});

describe("a line", () => {
  it("is drawn again only where something of it has changed: the selection goes from one to another", async () => {
    let drawn: string[] = [];
    const told = {
      updated(this: { $el: HTMLElement }) {
        if (this.$el.dataset?.test) drawn.push(this.$el.dataset.test);
      },
    };
    const table = mount(FiguresTable, {
      attachTo: document.body,
      global: { mixins: [told] },
      props: {
        answer: answer(COLUMNS, MANY, row([], ["499500", "2500"])),
        statement: STATEMENT,
        layout: PLAIN,
        selected: { path: ["R1"], column: "cost.0.value" },
        said: {},
        trends: null,
      },
    });
    await nextTick();
    drawn = [];
    await table.setProps({ selected: { path: ["R3"], column: "cost.0.value" } });
    expect(drawn.sort()).toEqual(["row-R1", "row-R3"]);
  });
});

describe("cells", () => {
  it("are reached by key, row by row, page by page and to the end", async () => {
    const table = mounted(MANY, { path: ["R0"], column: "net_sales.0.value" });
    await nextTick();
    await table.find("[data-test=row-R0] td").trigger("keydown", { key: "ArrowDown" });
    expect(table.emitted("select")?.at(-1)).toEqual([["R1"], "net_sales.0.value", false]);
    await table.find("[data-test=row-R0] td").trigger("keydown", { key: "PageDown" });
    expect(table.emitted("select")?.at(-1)).toEqual([["R12"], "net_sales.0.value", false]);
    await table.find("[data-test=row-R0] td").trigger("keydown", { key: "End" });
    expect(table.emitted("select")?.at(-1)).toEqual([["R0"], "cost.0.value", false]);
    await nextTick();
    expect((document.activeElement as HTMLElement).dataset.test).toBe("cell-cost.0.value");
  });

  it("of a block are added up, exactly", async () => {
    const table = mounted(MANY.slice(0, 3));
    await nextTick();
    await table.find("[data-test=row-R1] td").trigger("mousedown");
    await table.find("[data-test=row-R2] td").trigger("mousedown", { shiftKey: true });
    expect(table.find("[data-test=block-sum]").text()).toBe("2 cells · sum 3 · mean 1.50");
  });

  it("say why they have no figure when they have the focus", async () => {
    const table = mounted([row(["R"], ["base_is_zero", "1"])]);
    await nextTick();
    await table.find("[data-test=row-R] td").trigger("focus");
    expect(table.find("[data-test=why]").text()).toContain("The base is 0");
  });
});
