// Names of a house and what they mean from where one stands.
import type { Range, TruthType, ValueType } from "../../house/index.js";
import { builtInHabits, nameHabits } from "../habits.js";
import { nearest } from "../nearest.js";
import type { Faults } from "../problem.js";
import type { Word } from "../syntax.js";
import { type Span, starters } from "../token.js";
import { withArticle } from "../words.js";
import { builtInNames, functionNames } from "./names.js";

export type SymbolKind =
  | "zone"
  | "sensor"
  | "output"
  | "dial"
  | "mode"
  | "group"
  | "let"
  | "countdown"
  | "preset"
  | "schedule"
  | "profile"
  | "rule"
  | "guard"
  | "trial"
  | "weather";

export interface Typed {
  readonly type: ValueType | TruthType;
  readonly range?: Range;
}

/** A name where it is used. */
export interface Use {
  /** The whole name of what is meant. */
  readonly name: string;
  readonly span: Span;
}

export interface HouseSymbol extends Partial<Typed> {
  readonly kind: SymbolKind;
  readonly name: string;
  readonly span: Span;
  /** Of a let or a profile, whose type follows from its value: bound when it is first asked for. */
  readonly typed?: () => Typed | undefined;
  /** Of an output that delivers a measured flow. */
  readonly doses?: boolean;
  /** Of an output that does something when nobody asks. */
  readonly rests?: boolean;
  /** Of a sensor that tells how its device is. */
  readonly health?: boolean;
  /** Of a group: its outputs, those of its groups included. */
  readonly members?: () => readonly HouseSymbol[];
}

const builtIn = new Set(["sun", "clock", "sunrise", "sunset", "dawn", "dusk", "noon", "midnight", ...functionNames]);

/** Where a text stands: the names known there, and what is allowed there. */
export class Scope {
  constructor(
    readonly faults: Faults,
    readonly symbols: Map<string, HouseSymbol> = new Map(),
    /** The zone whose braces are around. */
    readonly zone?: string,
    readonly inTrial = false,
    /** Whether a press may stand here: it is true for an instant only. */
    readonly moments = false,
    /** Whether the house says where on earth it is. */
    readonly placed = true,
    /** Where names are used, by all scopes of the house. */
    readonly uses: Use[] = [],
  ) {}

  inZone(zone: string): Scope {
    return new Scope(this.faults, this.symbols, zone, false, false, this.placed, this.uses);
  }

  forTrial(): Scope {
    return new Scope(this.faults, this.symbols, undefined, true, true, this.placed, this.uses);
  }

  forMoments(): Scope {
    return new Scope(this.faults, this.symbols, this.zone, this.inTrial, true, this.placed, this.uses);
  }

  /** The whole name of what is declared here under a word. */
  whole(word: string): string {
    return this.zone === undefined ? word : `${this.zone}.${word}`;
  }

  declare(word: Word, symbol: Omit<HouseSymbol, "name" | "span">, name = this.whole(word.text)): void {
    const named =
      symbol.type !== undefined ||
      symbol.typed !== undefined ||
      ["group", "countdown", "preset", "schedule"].includes(symbol.kind);
    if (!name.includes(".") && named && (starters.has(word.text) || builtIn.has(word.text))) {
      const why = starters.has(word.text) ? "it begins a condition" : "it is built in";
      this.faults.add(word.span, { kind: "reservedName", name: word.text, why });
    }
    const before = this.symbols.get(name);
    if (before) {
      const related = [{ span: before.span, says: `the other ${name}, ${withArticle(before.kind)}` }];
      this.faults.add(word.span, { kind: "doubleName", name }, related);
      return;
    }
    this.symbols.set(name, { ...symbol, name, span: word.span });
  }

  /** What a word means here, without complaint. */
  find({ text, span }: Word): HouseSymbol | undefined {
    const own = this.zone === undefined ? undefined : this.symbols.get(`${this.zone}.${text}`);
    const found = own ?? this.symbols.get(text);
    if (found) this.uses.push({ name: found.name, span });
    return found;
  }

  /** What a word means, which must be of one of the kinds; else a problem with the nearest names. */
  resolve(word: Word, kinds: readonly SymbolKind[]): HouseSymbol | undefined {
    const found = this.find(word);
    if (found && kinds.includes(found.kind)) return found;
    const wanted = sayKinds(kinds);
    if (found) {
      this.faults.add(
        word.span,
        {
          kind: "wrongKind",
          name: found.name,
          found: found.kind,
          remedy: remedyOf(found, kinds),
        },
        [{ span: found.span, says: found.name }],
      );
      return undefined;
    }
    if (this.faults.unread.has(word.text) || this.faults.unread.has(this.whole(word.text))) return undefined;
    const remedy = kinds === valueKinds ? this.#byHabit(word.text) : undefined;
    const nearest = remedy === undefined ? this.nearest(word.text, kinds) : [];
    this.faults.add(word.span, { kind: "unknownName", name: word.text, nearest, wanted, remedy });
    return undefined;
  }

  /** What to write for what is known by that name elsewhere; where nothing of the house is called nearly so. */
  #byHabit(word: string): string | undefined {
    const isPart = [...this.symbols.keys()].some((name) => name.split(/[._]/).includes(word));
    return isPart ? undefined : nameHabits[word.toLowerCase()];
  }

  /** Names of some kinds that a word may have been meant as. */
  nearest(word: string, kinds: readonly SymbolKind[]): string[] {
    const declared = [...this.symbols.values()].filter(({ kind }) => kinds.includes(kind)).map(({ name }) => name);
    // Of what is built in the whole name has another part.
    const meant = builtInHabits[word.toLowerCase()];
    const parts = meant ? [meant] : builtInNames.filter((name) => name.includes(".") && name.split(".").includes(word));
    if (kinds === valueKinds && parts.length > 0) return parts;
    return nearest(word, declared);
  }

  /** The output a word names, or the outputs of a group. */
  outputs(word: Word, kinds: readonly SymbolKind[] = ["output", "group"]): readonly HouseSymbol[] {
    const symbol = this.resolve(word, kinds);
    return symbol?.members?.() ?? (symbol ? [symbol] : []);
  }

  /** What holds a value under the same last name in every zone, or in some; `sensor` means every sensor. */
  every(name: string, zones: readonly string[]): HouseSymbol[] {
    return [...this.symbols.values()].filter((symbol) => {
      const dot = symbol.name.indexOf(".");
      if (dot < 0 || !valueKinds.includes(symbol.kind)) return false;
      if (zones.length > 0 && !zones.includes(symbol.name.slice(0, dot))) return false;
      return name === "sensor" ? symbol.kind === "sensor" && symbol.type?.kind !== "press" : symbol.name.slice(dot + 1) === name;
    });
  }
}

/** What may be written in the place of a name that is of another kind. */
function remedyOf({ name, kind, type }: HouseSymbol, kinds: readonly SymbolKind[]): string {
  const said = kinds.filter((one) => one !== "group");
  if (kind === "schedule" && kinds === valueKinds) return `As a condition, write during ${name}.`;
  if (kind === "countdown" && said.length === 1 && said[0] === "schedule") return `Write when ${name} is running.`;
  if (kind === "countdown" && kinds === valueKinds)
    return `As a condition, write ${name} is running. Its end is written when ${name} ends.`;
  if (kind === "output" && said.includes("sensor"))
    return `Rules or a person set an output. In a trial, write person sets ${name} to ….`;
  if (kind === "output" && said[0] === "countdown")
    return `To switch it write set ${name} to on, and to off again; a countdown is started and stopped.`;
  if (kind === "sensor" && said.includes("output") && type?.kind === "number")
    return `A sensor is only read. What moves it is kept: keep ${name} at … raise with ….`;
  if (said.length === 1) return `Use ${withArticle(said[0] as string)} here.`;
  const all = said.map((one) => `${one}s`);
  return `Only ${all.slice(0, -1).join(", ")} and ${all.at(-1)} are possible here.`;
}

function sayKinds(kinds: readonly SymbolKind[]): string {
  // A group may stand wherever an output may, and need not be named each time.
  const said = kinds.filter((kind) => kind !== "group");
  return said.length > 2 ? "thing" : said.join(" or ");
}

/** What may stand where a value does. */
export const valueKinds: readonly SymbolKind[] = ["sensor", "output", "dial", "mode", "let", "profile"];
