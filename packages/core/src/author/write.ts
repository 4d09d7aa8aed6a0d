// A house as TypeScript that makes the same house: a constant for whatever has a name, and the definition.
import {
  assumedOf,
  type House,
  isIn,
  type Output,
  onOff,
  type Sensor,
  sayValue,
  type Value,
  type ValueType,
} from "../house/index.js";
import { type DatesRange, dateOfDay, type FixedTime, monthNames } from "../time/index.js";
import { Names } from "./names.js";
import { call, layOut, list, record, type Source, text } from "./source.js";
import { daysOf, options, RuleWriter, titles } from "./write-rules.js";
import { TermWriter } from "./write-terms.js";

/**
 * TypeScript source of a module whose default export is the house; run, it makes the same house. Where schedules, trials or
 * weathers are read from other files, the default export takes what those say: a `Beside`, as `parseHouse` does.
 */
export function writeInTypeScript(house: House): string {
  // Written twice: once to know what of the library is used, so that no constant is called as that is.
  const names = new Names(house, new Set());
  new HouseWriter(house, names).source();
  return new HouseWriter(house, new Names(house, names.used)).source();
}

interface Constant {
  readonly name: string;
  readonly source: Source;
  readonly needs: ReadonlySet<string>;
}

class HouseWriter {
  readonly #terms: TermWriter;
  readonly #rules: RuleWriter;

  constructor(
    readonly house: House,
    readonly names: Names,
  ) {
    this.#terms = new TermWriter(names);
    this.#rules = new RuleWriter(this.#terms);
  }

  source(): string {
    const { house, names } = this;
    const constants = inOrder(this.#constants());
    const lines = constants.map(({ name, source }) => {
      const head = `const ${names.constant(name)} = `;
      return `${head}${layOut(source, 0, head.length + 1)};`;
    });
    const isBeside = [...house.schedules.map(({ file }) => file), ...house.weathers.map(({ recording }) => recording)]
      .concat(house.trials.map(({ replay }) => replay))
      .some((file) => file !== undefined);
    const head = isBeside ? "export default (beside: Beside) =>\n  " : "export default ";
    const definition = layOut(call(names.library("defineHouse"), this.#definition(isBeside)), isBeside ? 1 : 0, head.length);
    const ofModrik = [...(isBeside ? ["type Beside"] : []), ...(names.usesQuantity ? ["quantity"] : [])];
    const imports = [
      ...(ofModrik.length > 0 ? [`import { ${ofModrik.join(", ")} } from "modrik";`] : []),
      `import ${layOut({ open: "{", items: [...names.used].sort(), close: "}", wide: true })} from "modrik/author";`,
    ];
    return `${[...imports, "", ...lines, "", `${head}${definition};`].join("\n")}\n`;
  }

  // ── What has a name ───────────────────────────────────────────────────────────────────────────────────────────────────

  #constants(): Constant[] {
    const { zones, dials, modes, groups, lets, countdowns, presets, schedules, profiles } = this.house;
    const outside = dials.filter(({ name }) => !zones.some((zone) => isIn(zone.name, name)));
    return [
      ...this.#each(zones, (zone) => this.#zone(zone.name, titles(zone))),
      ...this.#each(modes, ({ name, type, atFirst, ...titled }) => {
        const said = options({ ...titles(titled), ordered: type.ordered ? "true" : undefined });
        return this.#call("mode", text(name), list(type.words.map(text)), text(atFirst), ...said);
      }),
      // A dial of the whole house is made as one of a zone is, and named by itself.
      ...this.#each(outside, (dial) => {
        const spec = layOut(this.#dial(dial));
        return `${spec}.named(${JSON.stringify(dial.name)})`;
      }),
      ...this.#each(groups, ({ name, members, ...titled }) =>
        this.#call("group", text(name), list(members.map((one) => this.names.of(one))), ...options(titles(titled))),
      ),
      ...this.#each(schedules, (one) => this.#schedule(one)),
      ...this.#each(countdowns, ({ name, lasts, ...titled }) =>
        this.#call("countdown", text(name), this.#terms.amount(lasts), ...options(titles(titled))),
      ),
      ...this.#each(profiles, (one) => this.#profile(one)),
      ...this.#each(lets, ({ name, value, title, note }) => {
        const titled = { ...(title !== undefined && { title }), ...(note !== undefined && { note }) };
        return this.#call("reckoned", text(name), this.#terms.term(value), ...options(titles(titled)));
      }),
      ...this.#each(presets, (one) => this.#rules.preset(one)),
    ];
  }

  #each<Of extends { readonly name: string }>(all: readonly Of[], write: (one: Of) => Source): Constant[] {
    return all.map((one) => {
      this.names.mentioned.clear();
      const source = write(one);
      return { name: one.name, source, needs: new Set(this.names.mentioned) };
    });
  }

  #call(name: string, ...items: readonly Source[]): Source {
    return this.#terms.call(name, ...items);
  }

  #zone(zone: string, titled: Record<string, Source | undefined>): Source {
    const { sensors, outputs, dials } = this.house;
    const own = <Of extends { readonly name: string }>(all: readonly Of[], write: (one: Of) => Source) =>
      all.filter(({ name }) => isIn(zone, name)).map((one) => [one.name.slice(zone.length + 1), write(one)] as const);
    this.names.writesZone = true;
    const things = [
      ...own(sensors, (one) => this.#sensor(one)),
      ...own(outputs, (one) => this.#output(one)),
      ...own(dials, (one) => this.#dial(one)),
    ];
    this.names.writesZone = false;
    return this.#call("zone", text(zone), record(Object.fromEntries(things)), ...options(titled));
  }

  #type(type: ValueType): Source {
    if (type.kind !== "words") return text(type.kind === "number" ? type.unit : type.kind);
    return JSON.stringify(type) === JSON.stringify(onOff) ? text("on/off") : list(type.words.map(text));
  }

  #value(value: Value | undefined, type: ValueType): Source | undefined {
    if (value === undefined) return undefined;
    if (type.kind === "time") return text(sayValue(type, value));
    return typeof value === "string" ? text(value) : String(value);
  }

  #sensor(sensor: Sensor): Source {
    const { type, range, scale, offset, reads, movesAtMost, lastsForEver, deviceHealth } = sensor;
    const { unknownAfter, smoothOver, reportsEvery, reportsOnChangeOf, lags, wobblesBy } = sensor;
    const amounts = { unknownAfter, smoothOver, reportsEvery, reportsOnChangeOf, lags, wobblesBy };
    const said = options({
      ...titles(sensor),
      ordered: ordered(type),
      range: plain(range),
      scale: plain(scale),
      offset: plain(offset),
      reads: plain(reads),
      ...Object.fromEntries(Object.entries(amounts).map(([name, of]) => [name, of && this.#terms.amount(of)])),
      movesAtMost: movesAtMost && record({ by: this.#terms.amount(movesAtMost.by), in: this.#terms.amount(movesAtMost.in) }),
      lastsForEver: plain(lastsForEver),
      deviceHealth: plain(deviceHealth),
    });
    return this.#call("sensor", this.#type(type), ...said);
  }

  #output(output: Output): Source {
    const { type, range, colourOf, atRest, atLeast, atMost, uses, delivers, withoutControl, serves } = output;
    const least = atLeast.map(({ word, duration }) => [word, this.#terms.amount(duration)] as const);
    const most = atMost.map(({ word, duration, then }) =>
      record({
        word: text(word),
        duration: this.#terms.amount(duration),
        then: record({ word: text(then.word), duration: this.#terms.amount(then.duration) }),
      }),
    );
    const said = options({
      ...titles(output),
      of: colourOf === undefined ? undefined : text(sameZone(output.name, colourOf)),
      ordered: ordered(type),
      range: plain(range),
      atRest: this.#value(atRest, type),
      atLeast: least.length > 0 ? record(Object.fromEntries(least)) : undefined,
      atMost: most.length > 0 ? list(most) : undefined,
      uses: uses && this.#terms.amount(uses),
      delivers:
        delivers &&
        record({ rate: this.#terms.amount(delivers.rate), after: delivers.after && this.#terms.amount(delivers.after) }),
      withoutControl: this.#value(withoutControl, type),
      serves: plain(serves),
    });
    return this.#call("output", this.#type(type), ...said);
  }

  #dial(dial: House["dials"][number]): Source {
    const { type, range, atFirst, step } = dial;
    const said = options({ ...titles(dial), ordered: ordered(type), range: plain(range), step: plain(step) });
    return this.#call("dial", this.#value(atFirst, type) ?? "", this.#type(type), ...said);
  }

  // ── Times ─────────────────────────────────────────────────────────────────────────────────────────────────────────────

  #fixedTime({ sun, ms }: FixedTime): Source {
    if (sun === undefined) return text(sayValue({ kind: "time" }, ms));
    return this.#terms.dayTime({ sun, time: { kind: "number", value: ms, unit: "ms" } });
  }

  #schedule({ name, openings, except, only, file, events: _, ...titled }: House["schedules"][number]): Source {
    if (file !== undefined) return this.#call("calendar", text(name), text(file), ...options(titles(titled)));
    const times = openings.map(({ days, spans }) =>
      record({
        on: daysOf(days),
        spans: list(spans.map(({ from, to }) => list([this.#fixedTime(from), this.#fixedTime(to)]))),
      }),
    );
    const dates = (all: readonly DatesRange[] | undefined) => all && list(all.map((one) => this.#dates(one)));
    return this.#call(
      "schedule",
      text(name),
      list(times),
      ...options({ ...titles(titled), only: dates(only), except: dates(except) }),
    );
  }

  #dates(of: DatesRange): Source {
    const [from, to] =
      of.kind === "dates"
        ? [dateOfDay(of.from), dateOfDay(of.to)]
        : [of.from, of.to].map(([month, day]) => `${monthNames[month - 1]} ${day}`);
    const ends = from === to ? [from] : [from, to];
    return this.#call(of.kind === "dates" ? "dates" : "everyYear", ...ends.map((one) => text(String(one))));
  }

  #profile({ name, type, range, ramped, days, ...titled }: House["profiles"][number]): Source {
    const all = days.map(({ days: on, points }) =>
      record({
        on: daysOf(on),
        points: list(points.map(({ from, value }) => list([this.#fixedTime(from), this.#terms.operand(value)]))),
      }),
    );
    const said = options({ ...titles(titled), range: plain(range), ramped: ramped ? "true" : undefined });
    return this.#call("profile", text(name), this.#type(type), list(all), ...said);
  }

  // ── The house ─────────────────────────────────────────────────────────────────────────────────────────────────────────

  #definition(isBeside: boolean): Source {
    const { name, note, clock, place, handLasts, readingsLast, zones, modes, dials, groups, schedules, profiles } = this.house;
    const { countdowns, lets, presets, rules, guards, trials, physics, weathers, people, wirings } = this.house;
    const all = (list_: readonly { readonly name: string }[]) => some(list_.map((one) => this.names.constant(one.name)));
    const outside = dials.filter((dial) => !zones.some((zone) => isIn(zone.name, dial.name)));
    return record({
      name: text(name),
      note: note === undefined ? undefined : text(note),
      clock: text(clock),
      place: plain(place),
      handLasts: handLasts && this.#terms.amount(handLasts),
      readingsLast: readingsLast && this.#terms.amount(readingsLast),
      zones: list(zones.map((one) => this.names.constant(one.name))),
      modes: all(modes),
      dials: all(outside),
      groups: all(groups),
      schedules: all(schedules),
      profiles: all(profiles),
      countdowns: all(countdowns),
      lets: all(lets),
      presets: all(presets),
      rules: some(rules.map((one) => this.#rules.rule(one))),
      guards: some(guards.map((one) => this.#rules.guard(one))),
      trials: some(trials.map((one) => this.#rules.trial(one))),
      physics: this.#physics(physics),
      weathers: some(
        weathers.map(({ recorded: _, recording, ...figures }) =>
          this.#data(recording === undefined ? figures : { name: figures.name, ...titlesOf(figures), recording }),
        ),
      ),
      people: some(people.map((one) => this.#data(one))),
      wirings: some(wirings.map((one) => this.#data(one))),
      beside: isBeside ? "beside" : undefined,
    });
  }

  #physics({ zones, effects }: House["physics"]): Source | undefined {
    if (zones.length + effects.length === 0) return undefined;
    const rooms = zones.map((room) => {
      const assumed: ReadonlySet<string> = new Set(assumedOf(room));
      return this.#data(Object.fromEntries(Object.entries(room).filter(([name]) => !assumed.has(name))));
    });
    return record({ rooms: some(rooms), effects: some(effects.map((one) => this.#data(one))) });
  }

  /** Data of the house with things in place of names. */
  #data(of: object): Source {
    const entries = Object.entries(of).map(([field, value]) => {
      const isName = typeof value === "string" && spoken.has(field) && value !== "outdoors";
      return [field, isName ? this.names.of(value) : plain(value)] as const;
    });
    return record(Object.fromEntries(entries));
  }
}

/** The name of a thing for one of the same zone. */
function sameZone(own: string, name: string): string {
  const zone = own.slice(0, own.lastIndexOf(".") + 1);
  return name.startsWith(zone) ? name.slice(zone.length) : name;
}

/** Fields that hold the name of a thing, a zone or a schedule. */
const spoken: ReadonlySet<string> = new Set(["sensor", "output", "zone", "other", "from", "to", "during"]);

const titlesOf = ({ title, note }: { readonly title?: string; readonly note?: string }) => ({
  ...(title !== undefined && { title }),
  ...(note !== undefined && { note }),
});

const some = (items: readonly Source[]): Source | undefined => (items.length > 0 ? list(items) : undefined);
const ordered = (type: ValueType) => (type.kind === "words" && type.ordered ? "true" : undefined);

/** Plain data as it is. */
function plain(value: unknown): Source | undefined {
  if (value === undefined) return undefined;
  if (Array.isArray(value)) return list(value.map((one) => plain(one) ?? "undefined"));
  if (typeof value === "object" && value !== null)
    return record(Object.fromEntries(Object.entries(value).map(([name, one]) => [name, plain(one)])));
  return JSON.stringify(value);
}

/** Each after what it mentions; else as they stand. */
function inOrder(constants: readonly Constant[]): Constant[] {
  const byName = new Map(constants.map((one) => [one.name, one]));
  const ordered = new Set<Constant>();
  const add = (one: Constant, within: readonly Constant[]) => {
    if (ordered.has(one) || within.includes(one)) return;
    for (const name of one.needs) {
      const needed = byName.get(name);
      if (needed) add(needed, [...within, one]);
    }
    ordered.add(one);
  };
  for (const one of constants) add(one, []);
  return [...ordered];
}
