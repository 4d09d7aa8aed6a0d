// The grammar as `docs/grammar.md` has it: to derive texts from, and to tell whether a row of tokens can be derived.
import { readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { pick, type Random } from "modrik/testing";

type Part =
  | { readonly kind: "sign"; readonly text: string }
  | { readonly kind: "token"; readonly name: string }
  | { readonly kind: "rule"; readonly name: string }
  | { readonly kind: "row"; readonly of: readonly Part[] }
  | { readonly kind: "choice"; readonly of: readonly Part[] }
  | { readonly kind: "maybe"; readonly of: Part }
  | { readonly kind: "many"; readonly of: Part };

const text = readFileSync(fileURLToPath(new URL("../../../docs/grammar.md", import.meta.url)), "utf8");

/** The table of reserved words and starters, as the section on words lists them. */
function wordsBehind(title: string): ReadonlySet<string> {
  const line = text.slice(text.indexOf(`- **${title}**`));
  const list = /`([a-z ]+)`/.exec(line)?.[1] ?? "";
  return new Set(list.split(" "));
}

const reserved = wordsBehind("Reserved");
const starters = wordsBehind("Starters");

// ── Reading ─────────────────────────────────────────────────────────────────────────────────────────────────────────────

const source = [...text.matchAll(/```ebnf\n([\s\S]*?)```/g)].map(([, block]) => block).join("\n");

function readRules(): ReadonlyMap<string, Part> {
  const found = source.match(/"[^"]*"|[a-z_]+|[A-Z]+|[=|{}[\]()]/g) ?? [];
  const rules = new Map<string, Part>();
  let at = 0;
  const isNext = () => found[at + 1] === "=" && /^[a-z_]+$/.test(found[at] ?? "");
  const choice = (): Part => {
    const of = [row()];
    while (found[at] === "|") {
      at++;
      of.push(row());
    }
    return of.length === 1 ? (of[0] as Part) : { kind: "choice", of };
  };
  const row = (): Part => {
    const of: Part[] = [];
    while (at < found.length && !/^[|)\]}]$/.test(found[at] as string) && !isNext()) of.push(one());
    return of.length === 1 ? (of[0] as Part) : { kind: "row", of };
  };
  const one = (): Part => {
    const word = found[at++] as string;
    const inner = { "{": "many", "[": "maybe", "(": "group" }[word];
    if (inner) {
      const of = choice();
      at++;
      return inner === "group" ? of : ({ kind: inner, of } as Part);
    }
    if (word.startsWith('"')) return { kind: "sign", text: word.slice(1, -1) };
    return /^[A-Z]/.test(word) ? { kind: "token", name: word } : { kind: "rule", name: word };
  };
  while (at < found.length) {
    const name = found[at] as string;
    at += 2;
    rules.set(name, choice());
  }
  return rules;
}

const rules = readRules();

// ── Deriving ────────────────────────────────────────────────────────────────────────────────────────────────────────────

const samples: Readonly<Record<string, readonly string[]>> = {
  TEXT: ['"text"', '"a, b"'],
  DATE: ["2026-03-14"],
  TIME: ["07:30", "22:15:30"],
  DURATION: ["10 min", "1 h 30 min"],
  QUANTITY: ["20 °C", "45 %RH", "3 K"],
  NUMBER: ["12", "0.4"],
  UNIT: ["°C", "%RH"],
  DOTTED: ["bench.door", "outside.at", "x.on"],
  WORD: ["bench", "größe", "on", "open", "at", "min", "during", "step"],
  PLAIN: ["bench", "shop", "on", "step", "open"],
  DAY: ["Mon", "Sun"],
  MONTH: ["Jan", "Dec"],
};

/** Tokens of a random text that the grammar derives from `file`. */
export function derive(random: Random, depth = 9): string[] {
  return deriveFrom({ kind: "rule", name: "file" }, random, depth);
}

function deriveFrom(part: Part, random: Random, depth: number): string[] {
  switch (part.kind) {
    case "sign":
      return [part.text];
    case "token":
      return [pick(random, samples[part.name] ?? [])];
    case "rule":
      return deriveFrom(rules.get(part.name) as Part, random, depth - 1);
    case "row": {
      const repeats = part.of[0]?.kind === "sign" && part.of[0].text === "for each";
      // The word that is repeated stands nowhere else: what it is replaced by would have to fit there.
      return part.of.flatMap((one, place) =>
        repeats && place === 1 ? [`each_${Math.floor(random() * 1e6)}`] : deriveFrom(one, random, depth),
      );
    }
    case "choice": {
      // Deep down the shortest way out.
      const ways = depth > 0 ? part.of : [...part.of].sort((a, b) => lengthOf(a) - lengthOf(b)).slice(0, 1);
      return deriveFrom(pick(random, ways), random, depth);
    }
    case "maybe":
      return depth > 0 && random() < 0.5 ? deriveFrom(part.of, random, depth) : [];
    case "many": {
      const often = depth > 0 ? Math.floor(random() * 2.5) : 0;
      return Array.from({ length: often }, () => deriveFrom(part.of, random, depth)).flat();
    }
    default:
      throw new RangeError(`no such part: ${JSON.stringify(part satisfies never)}`);
  }
}

const lengths = new Map<string, number>();

/** How many tokens the shortest text of a part has. */
function lengthOf(part: Part): number {
  if (part.kind === "sign" || part.kind === "token") return 1;
  if (part.kind === "maybe" || part.kind === "many") return 0;
  if (part.kind === "row") return part.of.reduce((sum, one) => sum + lengthOf(one), 0);
  if (part.kind === "choice") return Math.min(...part.of.map(lengthOf));
  const { name } = part;
  const known = lengths.get(name);
  if (known !== undefined) return known;
  // While it is looked at, a rule within itself is not a way out.
  lengths.set(name, Number.POSITIVE_INFINITY);
  const length = lengthOf(rules.get(name) as Part);
  lengths.set(name, length);
  return length;
}

// ── Recognizing ─────────────────────────────────────────────────────────────────────────────────────────────────────────

const isWord = (token: string) => /^[\p{L}_][\p{L}\p{N}_]*$/u.test(token) && !reserved.has(token);

const kinds: Readonly<Record<string, (token: string) => boolean>> = {
  TEXT: (token) => token.startsWith('"'),
  DATE: (token) => /^\d{4}-\d\d-\d\d$/.test(token),
  TIME: (token) => /^\d+:\d\d/.test(token),
  DURATION: (token) => /^\d.* (min|h)/.test(token),
  QUANTITY: (token) => /^\d+ (°C|%RH|K)$/.test(token),
  NUMBER: (token) => /^\d+(\.\d+)?$/.test(token),
  UNIT: (token) => token === "°C" || token === "%RH",
  DOTTED: (token) => /^\p{L}+\.\p{L}+$/u.test(token),
  WORD: isWord,
  PLAIN: (token) => isWord(token) && !starters.has(token),
  DAY: (token) => token === "Mon" || token === "Sun",
  MONTH: (token) => token === "Jan" || token === "Dec",
};

/** Whether the grammar derives these tokens. */
export function derives(tokens: readonly string[]): boolean {
  const known = new Map<string, ReadonlySet<number>>();
  const ends = (part: Part, from: number): ReadonlySet<number> => {
    switch (part.kind) {
      case "sign":
        return tokens[from] === part.text ? new Set([from + 1]) : new Set();
      case "token":
        return from < tokens.length && kinds[part.name]?.(tokens[from] as string) ? new Set([from + 1]) : new Set();
      case "rule": {
        const key = `${part.name} ${from}`;
        const found = known.get(key) ?? ends(rules.get(part.name) as Part, from);
        known.set(key, found);
        return found;
      }
      case "row": {
        let reached = [from];
        for (const one of part.of) reached = [...new Set(reached.flatMap((at) => [...ends(one, at)]))];
        return new Set(reached);
      }
      case "choice":
        return new Set(part.of.flatMap((one) => [...ends(one, from)]));
      case "maybe":
        return new Set([from, ...ends(part.of, from)]);
      case "many": {
        const reached = new Set([from]);
        for (const at of reached) for (const end of ends(part.of, at)) reached.add(end);
        return reached;
      }
      default:
        throw new RangeError(`no such part: ${JSON.stringify(part satisfies never)}`);
    }
  };
  return ends({ kind: "rule", name: "file" }, 0).has(tokens.length);
}
