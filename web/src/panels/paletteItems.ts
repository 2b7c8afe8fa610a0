/** What fits what is typed into the palette: actions, parts of the statement, members, statements that are kept or offered. */
import { computed, ref, watch, type ComputedRef, type Ref } from "vue";
import type { Answer, LedgerDescription, SavedStatement, Statement } from "@/contract";
import { useLedgers } from "@/state/ledgers";
import { useSheet } from "@/state/sheet/sheet";
import { useStatements } from "@/state/statements";
import { ACTIONS } from "@/words/actions";
import { matching, memberPhrase, phrases, wherePhrases, type Phrase } from "@/words/phrases";
import { piecesOf } from "@/words/told";
import { sortable, sortPhrases, typedPhrases } from "@/words/typed";

const MOST = 60;

/** What can be taken: an action, a part of the statement, or a statement to open. */
export interface Item {
  words: string;
  action?: string;
  phrase?: Phrase;
  saved?: SavedStatement;
}

/** What the palette stands on. */
export interface PaletteAround {
  statement: Statement;
  ledger: LedgerDescription;
  asOf: string;
  answer: Answer | null;
}

/** The items that fit a text, the nearest first; all actions where nothing is typed. */
export function usePaletteItems(props: PaletteAround, typed: Ref<string>): ComputedRef<Item[]> {
  const ledgers = useLedgers();
  const statements = useStatements();
  /** Statements that are kept, and the common questions, are opened by their names. */
  const kept = computed<Item[]>(() =>
    [...statements.found.saved, ...statements.found.offered].map((saved) => ({
      words: `open ${saved.name}`,
      saved,
    })),
  );
  const members = ref<Phrase[]>([]);
  const actions: Item[] = Object.entries(ACTIONS)
    .filter(([action]) => action !== "palette")
    .map(([action, words]) => ({ words, action }));
  const sheet = useSheet();
  const around = computed(() => ({
    ledger: props.ledger,
    said: piecesOf(props.statement, sheet.told),
    told: sheet.told?.words ?? null,
    asOf: props.asOf,
  }));
  const parts = computed<Item[]>(() =>
    [...phrases(props.statement, around.value), ...sortPhrases(props.statement, sortable(props.answer))].map(
      itemOf,
    ),
  );
  const found = computed<Item[]>(() => {
    const text = typed.value;
    const own = [...typedPhrases(props.statement, around.value, text), ...members.value];
    // What is typed, and members, are found by what they are, not by the words; the nearest words come first all the same.
    const found = matching([...own.map(itemOf), ...actions, ...parts.value, ...kept.value], text);
    const rest = own.map(itemOf);
    const all = text.trim() ? [...found, ...rest] : actions;
    const known = new Set<string>();
    return all.filter((each) => !known.has(each.words) && known.add(each.words)).slice(0, MOST);
  });

  function itemOf(phrase: Phrase): Item {
    return { words: phrase.words, phrase };
  }

  watch(typed, async (text) => {
    const asked = memberPhrase(text, props.ledger);
    if (!asked) {
      members.value = [];
      return;
    }
    const answer = await ledgers.members(asked.dimension, asked.search);
    if (text === typed.value) members.value = wherePhrases(props.statement, asked.dimension, answer.members);
  });
  return found;
}
