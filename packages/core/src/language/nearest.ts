// The nearest names to one that is not known.

/** Edits (insert, delete, replace, swap neighbours) from one word to another, or more than `most`. */
export function editDistance(a: string, b: string, most: number): number {
  if (Math.abs(a.length - b.length) > most) return most + 1;
  let before: number[] = [];
  let above = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i++) {
    const row = [i];
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1];
      let best = Math.min((above[j] ?? 0) + 1, (row[j - 1] ?? 0) + 1, (above[j - 1] ?? 0) + (same ? 0 : 1));
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1]) best = Math.min(best, (before[j - 2] ?? 0) + 1);
      row.push(best);
    }
    before = above;
    above = row;
  }
  return above[b.length] ?? most + 1;
}

/** The known words nearest to `word`, at most three edits and half its letters away; ties are all given, three at most. */
export function nearest(word: string, known: Iterable<string>): string[] {
  const limit = Math.min(3, Math.max(1, Math.floor(word.length / 2)));
  let best = limit;
  let found: string[] = [];
  for (const candidate of new Set(known)) {
    const distance = distanceOfNames(word.toLowerCase(), candidate.toLowerCase(), best);
    if (distance > best) continue;
    if (distance < best) found = [];
    best = distance;
    found.push(candidate);
  }
  return found.slice(0, 3);
}

/** A name without its zone is as near as its last part is. */
function distanceOfNames(word: string, candidate: string, most: number): number {
  const whole = editDistance(word, candidate, most);
  if (word.includes(".") || !candidate.includes(".")) return whole;
  return Math.min(whole, editDistance(word, candidate.slice(candidate.lastIndexOf(".") + 1), most));
}
