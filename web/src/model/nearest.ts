/** Which of some names are nearest to one that is not among them. */

/** Steps (a letter put in, taken out or changed) from one word to another. */
function steps(one: string, other: string): number {
  let before = Array.from({ length: other.length + 1 }, (_, at) => at);
  for (const [row, letter] of [...one].entries()) {
    const now = [row + 1];
    for (const [at, sign] of [...other].entries())
      now.push(
        Math.min(
          (now[at] ?? 0) + 1,
          (before[at + 1] ?? 0) + 1,
          (before[at] ?? 0) + (letter === sign ? 0 : 1),
        ),
      );
    before = now;
  }
  return before.at(-1) ?? 0;
}

/** All things by how near their names are to a word, the nearest first. */
export function byNearness<Thing>(word: string, things: Thing[], nameOf: (thing: Thing) => string): Thing[] {
  const wanted = word.toLowerCase();
  return things
    .map((thing) => ({ thing, far: steps(wanted, nameOf(thing).toLowerCase()) }))
    .sort((one, other) => one.far - other.far)
    .map(({ thing }) => thing);
}
