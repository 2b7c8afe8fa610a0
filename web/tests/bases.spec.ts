// @vitest-environment happy-dom
/** Which ledgers are offered to be compared with: mounted, with the ledgers as the server lists them. */
import { mount } from "@vue/test-utils";
import { createPinia, setActivePinia } from "pinia";
import { beforeEach, expect, it, vi } from "vitest";
import { defineComponent, h } from "vue";
import type { LedgerDescription, LedgerListed, Statement } from "@/contract";
import { whole } from "@/model/statement";
import BaseChoice from "@/panels/statement/BaseChoice.vue";
import { useLedgers } from "@/state/ledgers";
import { createSheet, provideSheet } from "@/state/sheet/sheet";

function listed(id: number, name: string, parts: Partial<LedgerListed> = {}): LedgerListed {
  const known = { currency: "EUR", version: 1, lines: 1, dimensions: ["rep", "customer"] };
  return { id, name, ...known, archived_at: null, archived_by: "", alerts: 0, ...parts };
}

const LEDGER = {
  id: 1,
  currency: "EUR",
  figures: [],
  days: [],
  usual_day: "",
  dimensions: [
    { name: "rep", of: null },
    { name: "customer", of: null },
    { name: "region", of: "customer" },
  ],
} as unknown as LedgerDescription;

function offered(statement: Partial<Statement>): string[] {
  const props = {
    statement: whole({ measures: [{ measure: "net_sales" }], ...statement } as Partial<Statement>),
    at: null,
    year: 2026,
    day: "2026-10-17",
    ledger: LEDGER,
  };
  const Page = defineComponent(() => {
    provideSheet(createSheet());
    return () => h(BaseChoice, props);
  });
  const ElSelect = { template: "<div><slot /></div>" };
  const found = mount(Page, { global: { stubs: { DayCalendar: true, Day: true, ElSelect, Option: true } } });
  return found.findAll('[data-test="plan-ledger"] option-stub').map((each) => each.attributes("label") ?? "");
}

beforeEach(() => {
  vi.stubGlobal("fetch", () => Promise.resolve(new Response("[]")));
  setActivePinia(createPinia());
  useLedgers().list = [
    listed(1, "Mine"),
    listed(2, "Plan"),
    listed(3, "In dollars", { currency: "USD" }),
    listed(4, "By rep only", { dimensions: ["rep"] }),
    listed(5, "Set aside", { archived_at: "2026-01-01T00:00:00Z" }),
  ];
});

it("offers ledgers of the same currency that are not set aside, never the ledger itself", () => {
  expect(offered({})).toEqual(["Plan", "By rep only"]);
});

it("offers only those that have what the statement is broken down and limited by, levels by their dimension", () => {
  expect(offered({ rows: ["rep"] })).toEqual(["Plan", "By rep only"]);
  expect(offered({ rows: ["region"] })).toEqual(["Plan"]);
  expect(offered({ across: ["customer"] })).toEqual(["Plan"]);
  expect(offered({ rows: [{ time: "month" }] })).toEqual(["Plan", "By rep only"]);
  expect(offered({ filters: [{ dimension: "region", members: ["North"], exclude: false }] })).toEqual([
    "Plan",
  ]);
});

it("offers none where none fits", () => {
  useLedgers().list = [listed(1, "Mine"), listed(3, "In dollars", { currency: "USD" })];
  expect(offered({})).toEqual([]);
});
