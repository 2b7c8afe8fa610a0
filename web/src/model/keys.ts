/** Keys and what they do: the page of keys, the palette and the keyboard itself walk this table. */

export interface Key {
  /** What it does, by name. */
  action: string;
  /** As a keyboard event calls it; several where any of them will do. */
  keys: string[];
  /** With the control (or command) key held. */
  control?: boolean;
  shift?: boolean;
}

export const KEYS: Key[] = [
  { action: "palette", keys: ["k"], control: true },
  { action: "keys", keys: ["?"] },
  { action: "undo", keys: ["z"], control: true },
  { action: "redo", keys: ["y"], control: true },
  { action: "redo", keys: ["z"], control: true, shift: true },
  { action: "measure", keys: ["m"] },
  { action: "show", keys: ["s"] },
  { action: "row", keys: ["r"] },
  { action: "across", keys: ["a"] },
  { action: "window", keys: ["w"] },
  { action: "base", keys: ["b"] },
  { action: "base-unit", keys: ["x"] },
  { action: "copy-link", keys: ["i"] },
  { action: "filter", keys: ["f"] },
  { action: "limit", keys: ["l"] },
  { action: "goal", keys: ["g"] },
  { action: "as-of-back", keys: ["["] },
  { action: "as-of-ahead", keys: ["]"] },
  { action: "as-of-day-back", keys: ["{"] },
  { action: "as-of-day-ahead", keys: ["}"] },
  { action: "down", keys: ["d"] },
  { action: "up", keys: ["u"] },
  { action: "deeper", keys: ["+"] },
  { action: "less-deep", keys: ["-"] },
  { action: "step-back", keys: [","] },
  { action: "step-ahead", keys: ["."] },
  { action: "table", keys: ["t"] },
  { action: "proof", keys: ["p"] },
  { action: "search", keys: ["/"] },
  { action: "chart", keys: ["h"] },
  { action: "headline", keys: ["H"] },
  { action: "layout", keys: ["y"] },
  { action: "statements", keys: ["o"] },
  { action: "keep", keys: ["s"], control: true },
  { action: "copy-table", keys: ["c"] },
  { action: "pasted", keys: ["v"] },
  { action: "print", keys: ["e"] },
  { action: "page-figures", keys: ["1"] },
  { action: "page-movers", keys: ["2"] },
  { action: "page-scorecard", keys: ["3"] },
  { action: "other-base", keys: ["q"] },
  { action: "newest", keys: ["n"] },
];

/** How a key event looks to this table. */
export interface Pressed {
  key: string;
  ctrlKey: boolean;
  metaKey: boolean;
  altKey: boolean;
  shiftKey: boolean;
}

/** What a key press asks for; null where it is no key of ours. */
export function actionOf(pressed: Pressed): string | null {
  if (pressed.altKey) return null;
  const control = pressed.ctrlKey || pressed.metaKey;
  const name = control ? pressed.key.toLowerCase() : pressed.key;
  const found = KEYS.find(
    (each) =>
      each.keys.includes(name) &&
      !!each.control === control &&
      // Signs like ? need the shift key on some keyboards and not on others.
      (!control || !!each.shift === pressed.shiftKey),
  );
  return found?.action ?? null;
}

/** How a key is written down: Ctrl+Shift+Z. */
export function keyText(key: Key): string {
  const last = key.keys.map((each) => (key.control ? each.toUpperCase() : each)).join(" ");
  return [key.control ? "Ctrl" : "", key.shift ? "Shift" : "", last].filter(Boolean).join("+");
}

/** The keys of an action, as they are written down. */
export function keysOf(action: string): string[] {
  return KEYS.filter((each) => each.action === action).map(keyText);
}
