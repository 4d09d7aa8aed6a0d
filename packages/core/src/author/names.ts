// What things of a house are called in TypeScript: a constant for each zone, mode, dial, let, schedule …, and what of the library
// is called.
import { type House, isIn } from "../house/index.js";
import { member } from "./source.js";

/** Words that no constant may be called. */
const reserved: ReadonlySet<string> = new Set(
  (
    "abstract any as async await boolean break case catch class const constructor continue debugger declare default delete do else " +
    "enum export extends false finally for from function get if implements import in infer instanceof interface is keyof let " +
    "module namespace never new null number object of package private protected public readonly require return set static string " +
    "super switch symbol this throw true try type typeof undefined unique unknown var void while with yield arguments eval " +
    "quantity beside Beside"
  ).split(" "),
);

/** Names as they are used, and what of the library was. */
export class Names {
  readonly #constants = new Map<string, string>();
  readonly #house: House;
  readonly #taken: Set<string>;
  /** Functions of `modrik/author`. */
  readonly used = new Set<string>();
  /** Whether `quantity` of `modrik` is. */
  usesQuantity = false;
  /** Constants that were named since it was last emptied. */
  readonly mentioned = new Set<string>();
  /** While a zone is written: zones come first, so that nothing is there yet. */
  writesZone = false;

  constructor(house: House, library: ReadonlySet<string>) {
    this.#house = house;
    this.#taken = new Set([...reserved, ...library]);
  }

  /** What a declaration is called, by its whole name. */
  constant(name: string): string {
    const known = this.#constants.get(name);
    if (known !== undefined) return known;
    let free = name.replaceAll(".", "_");
    while (this.#taken.has(free)) free += "_";
    this.#taken.add(free);
    this.#constants.set(name, free);
    return free;
  }

  /** Something that is declared, mentioned. */
  of(name: string): string {
    if (this.writesZone) return this.#byName(name);
    const { sensors, outputs, dials, zones } = this.#house;
    const isThing = [sensors, outputs, dials].some((list) => list.some((one) => one.name === name));
    const zone = isThing ? zones.find((one) => isIn(one.name, name))?.name : undefined;
    this.mentioned.add(zone ?? name);
    return zone === undefined ? this.constant(name) : member(this.constant(zone), name.slice(zone.length + 1));
  }

  /** A number by its whole name. */
  #byName(name: string): string {
    const { sensors, outputs, dials, lets, profiles } = this.#house;
    const type = [...sensors, ...outputs, ...dials, ...lets, ...profiles].find((one) => one.name === name)?.type;
    return `${this.library("named")}(${JSON.stringify(name)}, ${JSON.stringify(type?.kind === "number" ? type.unit : "")})`;
  }

  /** A function or value of the library. */
  library(name: string): string {
    this.used.add(name);
    return name;
  }
}
