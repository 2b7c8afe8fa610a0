// @vitest-environment happy-dom
/** What is wrong with a ledger's fields, told at each; and what explains a thing, told to the keyboard and the finger. */
import { mount } from "@vue/test-utils";
import { nextTick } from "vue";
import { expect, it } from "vitest";
import Explained from "@/panels/Explained.vue";
import { fieldTroubles } from "@/words/ledger";

it("names what is wrong and what to write instead, and nothing else", () => {
  const good = { name: "My sales", currency: "eur", zone: "Europe/Zurich" };
  expect(Object.values(fieldTroubles(good))).toEqual(["", "", ""]);
  const found = fieldTroubles({ name: "  ", currency: "€", zone: "Zurich time" });
  expect([found.name, found.currency, found.zone].map((each) => each.split(/[ :]/)[0])).toEqual([
    "A",
    "Three",
    "Not",
  ]);
});

it("explains on touch what is no button, and never a figure", async () => {
  const page = mount(Explained, {
    global: {
      stubs: {
        ElTooltip: { props: ["visible", "content"], template: "<i v-if='visible'>{{ content }}</i>" },
      },
    },
  });
  document.body.insertAdjacentHTML(
    "beforeend",
    "<span id='word' title='Files of one kind'>Feed</span><button id='act' title='Acts'>x</button><b id='cell' role='gridcell' title='1.00'>1</b>",
  );
  const touch = async (id: string): Promise<string> => {
    const event = new Event("pointerdown", { bubbles: true }) as Event & { pointerType: string };
    event.pointerType = "touch";
    document.getElementById(id)?.dispatchEvent(event);
    await nextTick();
    return page.text();
  };
  expect([await touch("word"), await touch("act"), await touch("word"), await touch("cell")]).toEqual([
    "Files of one kind",
    "",
    "Files of one kind",
    "",
  ]);
});
