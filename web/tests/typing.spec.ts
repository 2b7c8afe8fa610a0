/** The palette calls windows, bases and periods what the server calls them. */
import { describe, expect, it } from "vitest";
import type { Base, CurrentWindow, Statement } from "@/contract";
import { periodName } from "@/words/names";
import { baseName, wholeWindowName, windowName } from "@/words/typing";
import named from "./named.json";

const statements = named.statements as unknown as Statement[];

describe("what is typed", () => {
  it.each(Object.entries(named.periods))("calls the period %s %s", (key, name) => {
    expect(periodName(key)).toBe(name);
  });
  it.each(named.windows.map((each) => [each.name, each.window]))("calls a window %s", (name, window) => {
    expect(windowName(window as CurrentWindow)).toBe(name);
  });
  it.each(named.windows.map((each) => [each.whole, each.window]))(
    "calls a window with its article %s",
    (name, window) => {
      expect(wholeWindowName(window as CurrentWindow)).toBe(name);
    },
  );
  it.each(named.bases.map((each) => [each.names[0], each]))("calls a base %s", (_, each) => {
    const { base, names } = each as unknown as { base: Base; names: string[] };
    const year = Number(named.as_of.slice(0, 4));
    expect(statements.map((statement) => baseName(base, statement, year))).toEqual(names);
  });
});
