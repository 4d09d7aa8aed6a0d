// Names of a house and what they mean from where one stands.
import type { Range, ValueType } from "../../house/index.js";
import { nearest } from "../nearest.js";
import type { Faults } from "../problem.js";
import type { Word } from "../syntax.js";
import { reserved, type Span, starters } from "../token.js";

export type SymbolKind = "zone" | "sensor" | "output" | "dial" | "mode" | "schedule" | "rule" | "guard" | "trial" | "weather";

export interface HouseSymbol {
  readonly kind: SymbolKind;
  readonly name: string;
  readonly span: Span;
  /** What holds a value has a type. */
  readonly type?: ValueType;
  readonly range?: Range;
}

const builtIn = new Set("sun clock sunrise sunset dawn dusk noon midnight count time share mean median min max sum".split(" "));

/** Where a text stands: the names known there, and what is allowed there. */
export class Scope {
  constructor(
    readonly faults: Faults,
    readonly symbols: Map<string, HouseSymbol> = new Map(),
    /** The zone whose braces are around. */
    readonly zone?: string,
    readonly inTrial = false,
  ) {}

  inZone(zone: string): Scope {
    return new Scope(this.faults, this.symbols, zone, this.inTrial);
  }

  forTrial(): Scope {
    return new Scope(this.faults, this.symbols, undefined, true);
  }

  /** The whole name of what is declared here under a word. */
  whole(word: string): string {
    return this.zone === undefined ? word : `${this.zone}.${word}`;
  }

  declare(word: Word, symbol: Omit<HouseSymbol, "name" | "span">, name = this.whole(word.text)): void {
    if (reserved.has(word.text)) {
      this.faults.add(word.span, { kind: "reservedName", name: word.text, why: "the language needs it" });
    } else if (!name.includes(".") && symbol.type && (starters.has(word.text) || builtIn.has(word.text))) {
      const why = starters.has(word.text) ? "it begins a condition" : "it is built in";
      this.faults.add(word.span, { kind: "reservedName", name: word.text, why });
    }
    const before = this.symbols.get(name);
    if (before) {
      const related = [{ span: before.span, says: `the other ${name}, a ${before.kind}` }];
      this.faults.add(word.span, { kind: "doubleName", name }, related);
      return;
    }
    this.symbols.set(name, { ...symbol, name, span: word.span });
  }

  /** What a word means here, without complaint. */
  find(word: string): HouseSymbol | undefined {
    const own = this.zone === undefined ? undefined : this.symbols.get(`${this.zone}.${word}`);
    return own ?? this.symbols.get(word);
  }

  /** What a word means, which must be of one of the kinds; else a problem with the nearest names. */
  resolve(word: Word, kinds: readonly SymbolKind[]): HouseSymbol | undefined {
    const found = this.find(word.text);
    if (found && kinds.includes(found.kind)) return found;
    const wanted = sayKinds(kinds);
    if (found) {
      this.faults.add(word.span, { kind: "wrongType", what: `${found.name}, a ${found.kind},`, wanted: `a ${wanted}` }, [
        { span: found.span, says: `${found.name} is declared here` },
      ]);
      return undefined;
    }
    this.faults.add(word.span, { kind: "unknownName", name: word.text, nearest: this.nearest(word.text, kinds), wanted });
    return undefined;
  }

  /** Names of some kinds that a word may have been meant as. */
  nearest(word: string, kinds: readonly SymbolKind[]): string[] {
    const known = [...this.symbols.values()].filter(({ kind }) => kinds.includes(kind)).map(({ name }) => name);
    return nearest(word, known);
  }
}

function sayKinds(kinds: readonly SymbolKind[]): string {
  return kinds.length > 2 ? "thing" : kinds.join(" or ");
}

/** What may stand where a value does. */
export const valueKinds: readonly SymbolKind[] = ["sensor", "output", "dial", "mode"];
