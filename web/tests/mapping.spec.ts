// @vitest-environment happy-dom
/** What each column of a file stands for: its name, how it is written, and of a figure its unit and whether more is good. */
import { flushPromises, mount, type VueWrapper } from "@vue/test-utils";
import { createPinia } from "pinia";
import { describe, expect, it } from "vitest";
import type { ColumnUse, Mapping, StagedFile } from "@/contract";
import MappingPanel from "@/panels/intake/MappingPanel.vue";

const column = (name: string, role: ColumnUse["role"]): ColumnUse => ({
  column: name,
  role,
  name: name.toLowerCase(),
  description: "",
  date_format: role === "further_day" ? "year_month_day" : null,
  decimal_mark: role.startsWith("further_") && role !== "further_day" ? "point" : null,
  unit: role === "further_quantity" ? "h" : "",
  polarity: "more_is_adverse",
});
const columns = [
  column("Freight", "further_amount"),
  column("Hours", "further_quantity"),
  column("Delivered", "further_day"),
  column("Product", "product"),
];
const mapping = { kind: "sales", columns, source: "usual", reading: {} } as unknown as Mapping;
const file = { sample: [{ fields: ["12.50", "3", "2026-03-05", "P-1"] }] } as unknown as StagedFile;

/** The choices are the component set's own; what is chosen in one is what is looked at here. */
const SELECT = { emits: ["change"], template: "<i />" };

const panel = (): VueWrapper =>
  mount(MappingPanel, {
    props: { file, mapping },
    global: { plugins: [createPinia()], stubs: { MappingAbout: true, ElSelect: SELECT, Option: true } },
  });
const uses = (made: VueWrapper): ColumnUse[] => {
  const [[changed] = []] = made.emitted<[Partial<Mapping>]>("change") ?? [];
  return changed?.columns ?? [];
};

describe("the columns of a file", () => {
  it("ask for a unit of quantities, for what is good of figures, and for neither of days and names", async () => {
    const made = panel();
    await flushPromises();
    const there = (what: string): string[] =>
      columns
        .map((each) => each.column)
        .filter((each) => made.find(`[data-test="${what}-${each}"]`).exists());
    expect(there("unit")).toEqual(["Hours"]);
    expect(there("polarity")).toEqual(["Freight", "Hours"]);
    expect(there("role")).toEqual(["Freight", "Hours", "Delivered", "Product"]);
  });
  it("are changed one by one", async () => {
    const made = panel();
    await flushPromises();
    const select = made
      .findAllComponents(SELECT)
      .find((each) => each.attributes("data-test") === "polarity-Freight");
    select?.vm.$emit("change", "more_is_favourable");
    expect(uses(made).map((each) => each.polarity)).toEqual([
      "more_is_favourable",
      "more_is_adverse",
      "more_is_adverse",
      "more_is_adverse",
    ]);
  });
  it("take the unit that is typed", async () => {
    const made = panel();
    await flushPromises();
    const unit = made.get('input[data-test="unit-Hours"]');
    await unit.setValue("kg");
    await unit.trigger("change");
    expect(uses(made).map((each) => each.unit)).toEqual(["", "kg", "", ""]);
  });
});
