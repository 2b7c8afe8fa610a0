/** The statements of the open ledger: those that are kept, and the common questions. */
import { defineStore } from "pinia";
import { ref, shallowRef } from "vue";
import type { Layout, SavedStatement, Statements } from "@/contract";
import type { Question } from "@/model/statement";
import { Refusal } from "@/server/http";
import * as server from "@/server/ledgers";

export const useStatements = defineStore("statements", () => {
  const found = shallowRef<Statements>({ saved: [], offered: [], unreadable: [] });
  const refused = ref("");
  /** The one that was opened last: what is on screen came from it. */
  const opened = shallowRef<SavedStatement | null>(null);
  let asked = "";

  async function refresh(ledger: string): Promise<void> {
    asked = ledger;
    const mine = await server.statements(ledger);
    if (asked !== ledger) return;
    found.value = mine;
  }

  async function attempt(ledger: string, work: () => Promise<unknown>): Promise<boolean> {
    refused.value = "";
    try {
      await work();
      await refresh(ledger);
      return true;
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      refused.value = error.failure.message;
      return false;
    }
  }

  /** Keep a question and its layout under a name, in place of the one before. */
  function save(
    question: Question,
    layout: Layout,
    name: string,
    folder: string,
    description: string,
  ): Promise<boolean> {
    const { ledger, statement, opened } = question;
    return attempt(ledger, () =>
      server.saveStatement(ledger, { name, folder, description, statement, opened, layout }),
    );
  }

  /** Keep it once more, under a name of its own. */
  function duplicate(ledger: string, saved: SavedStatement): Promise<boolean> {
    const taken = found.value.saved.map((each) => each.name);
    let name = `${saved.name}, copy`;
    for (let number = 2; taken.includes(name); number += 1) name = `${saved.name}, copy ${number}`;
    const { folder, description, statement, opened, layout } = saved;
    return attempt(ledger, () =>
      server.saveStatement(ledger, {
        name,
        folder,
        description,
        statement,
        opened,
        ...(layout ? { layout } : {}),
      }),
    );
  }

  /** The name of the one that was forgotten last, which can be taken back. */
  const forgotten = ref("");

  async function forget(ledger: string, saved: SavedStatement): Promise<boolean> {
    const done = await attempt(ledger, () => server.forgetStatement(ledger, saved.name));
    if (done) forgotten.value = saved.name;
    return done;
  }

  async function takeBack(ledger: string): Promise<boolean> {
    const done = await attempt(ledger, () => server.takeBackStatement(ledger, forgotten.value));
    if (done) forgotten.value = "";
    return done;
  }

  /** Call a kept statement otherwise: it stays the same one. */
  function rename(ledger: string, saved: SavedStatement, name: string): Promise<boolean> {
    const { id, folder, description, statement, opened, layout } = saved;
    return attempt(ledger, () =>
      server.saveStatement(ledger, {
        id,
        name,
        folder,
        description,
        statement,
        opened,
        ...(layout ? { layout } : {}),
      }),
    );
  }

  return { found, opened, refused, forgotten, refresh, save, rename, duplicate, forget, takeBack };
});
