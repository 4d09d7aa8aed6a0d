// All files of a house together: first every name, then what each says.
import {
  type Guard,
  type House,
  type Range,
  type Rule,
  reachOf,
  type Trial,
  type ValueType,
  type Zone,
} from "../../house/index.js";
import { clockOf, isZone, type Place as OnEarth } from "../../time/index.js";
import { writeNumber } from "../../units/index.js";
import type { Faults } from "../problem.js";
import type {
  CountdownNode,
  Declaration,
  FileNode,
  GroupNode,
  GuardNode,
  HouseEntry,
  HouseNode,
  LetNode,
  ProfileNode,
  RuleNode,
  Term,
  ThingNode,
  TrialNode,
} from "../syntax.js";
import type { Span } from "../token.js";
import { type WiringRow, wiringRows } from "../vocabulary/wiring.js";
import { writeTerm } from "../write/terms.js";
import { bindHabit, bindPhysics, bindWeather } from "./physics.js";
import { bindGuard, bindRule, checkPermits } from "./rules.js";
import { type HouseSymbol, Scope, type Typed, type Use } from "./scope.js";
import { bindDuration } from "./terms.js";
import { headingOf, plainText } from "./text.js";
import {
  bindCountdown,
  bindDial,
  bindGroup,
  bindLet,
  bindLetValue,
  bindMode,
  bindOutput,
  bindPreset,
  bindSensor,
  bindSensorRange,
  bindType,
} from "./things.js";
import { bindProfile, bindProfileValue, bindSchedule, type Calendars } from "./time.js";
import { bindTrial, type Recordings } from "./trials.js";

interface Placed<Node> {
  readonly node: Node;
  readonly scope: Scope;
}

const titleWith = (title: string | undefined, value: string) => (title === undefined ? value : `${title}: ${value}`);

interface TypedThing {
  readonly type: ValueType;
  readonly range: Range | undefined;
}

/** What a house is given along with its texts. */
interface Beside {
  readonly calendars: Calendars;
  readonly recordings: Recordings;
}

export interface BoundHouse {
  readonly house: House;
  /** Where each name is declared. */
  readonly spans: ReadonlyMap<string, Span>;
  readonly uses: readonly Use[];
}

export function bindHouse(files: readonly FileNode[], faults: Faults, beside: Beside): BoundHouse {
  return new HouseBinder(files, faults, beside).bind();
}

class HouseBinder {
  readonly #files: readonly FileNode[];
  readonly #beside: Beside;
  readonly #root: Scope;
  readonly #declarations: readonly Declaration[];
  readonly #things: Placed<ThingNode>[];
  readonly #lets: Placed<LetNode>[];
  readonly #countdowns: Placed<CountdownNode>[];
  readonly #rules: Placed<RuleNode>[];
  readonly #guards: Placed<GuardNode>[];
  readonly #types = new Map<ThingNode, TypedThing>();
  readonly #letValues = new Map<LetNode, () => ReturnType<typeof bindLetValue>>();
  /** Names of lets that are being bound. */
  readonly #pending = new Set<string>();
  readonly #profileValues = new Map<ProfileNode, () => ReturnType<typeof bindProfileValue>>();

  constructor(files: readonly FileNode[], faults: Faults, beside: Beside) {
    this.#files = files;
    this.#beside = beside;
    const hasPlace = files.some(({ declarations }) =>
      declarations.some((node) => node.kind === "house" && node.entries.some(({ kind }) => kind === "place")),
    );
    this.#root = new Scope(faults, new Map(), undefined, false, false, hasPlace);
    this.#declarations = files.flatMap((file) => file.declarations.flatMap(unrolled));
    const root = this.#root;
    const placed = <Kind extends Declaration["kind"]>(kind: Kind) => this.#of(kind).map((node) => ({ node, scope: root }));
    this.#things = placed("dial");
    this.#lets = placed("let");
    this.#countdowns = placed("countdown");
    this.#rules = placed("rule");
    this.#guards = placed("guard");
  }

  #of<Kind extends Declaration["kind"]>(kind: Kind): Extract<Declaration, { kind: Kind }>[] {
    return this.#declarations.filter((node): node is Extract<Declaration, { kind: Kind }> => node.kind === kind);
  }

  bind(): BoundHouse {
    this.#declare();
    const root = this.#root;
    const inOrder = byPlace(this.#files);
    const boundThings = <Bound>(
      kind: ThingNode["kind"],
      bind: (node: ThingNode, scope: Scope, typed: TypedThing) => Bound | undefined,
    ) =>
      this.#things.flatMap(({ node, scope }) => {
        const typed = this.#types.get(node);
        const bound = node.kind === kind && typed ? bind(node, scope, typed) : undefined;
        return bound ? [bound] : [];
      });
    const guards = inOrder(this.#guards).map(({ node, scope }) => ({ node, guard: bindGuard(node, scope) }));
    checkPermits(guards, root);
    const heading = bindHouseNode(this.#of("house"), root, this.#files);
    const clock = clockOf(heading.clock);
    const outputs = boundThings("output", (node, scope, { type, range }) => bindOutput(node, scope, type, range));
    const house: House = {
      ...heading,
      zones: this.#of("zone").map((node): Zone => headingOf(node)),
      sensors: boundThings("sensor", (node, scope, { type, range }) => bindSensor(node, scope, type, range)),
      outputs,
      dials: boundThings("dial", (node, scope, { type, range }) => bindDial(node, scope, type, range)),
      modes: this.#of("mode").flatMap((node) => bindMode(node, root) ?? []),
      groups: this.#of("group").flatMap((node) => {
        const symbol = root.find(node.name);
        return symbol ? bindGroup(node, symbol) : [];
      }),
      lets: this.#lets.flatMap(({ node, scope }) => {
        const bound = this.#letValues.get(node)?.();
        return bound ? bindLet(node, scope, bound) : [];
      }),
      countdowns: this.#countdowns.flatMap(({ node, scope }) => bindCountdown(node, scope) ?? []),
      presets: this.#of("preset").map((node) => bindPreset(node, root)),
      schedules: this.#of("schedule").map((node) => bindSchedule(node, root, this.#beside.calendars, clock)),
      profiles: this.#of("profile").flatMap((node) => {
        const bound = this.#profileValues.get(node)?.();
        return bound ? (bindProfile(node, bound) ?? []) : [];
      }),
      rules: inOrder(this.#rules).map(({ node, scope }): Rule => bindRule(node, scope)),
      guards: guards.map(({ guard }): Guard => guard),
      trials: this.#of("trial").flatMap((node): Trial[] => {
        const { repeat } = node;
        const bind = (one: TrialNode) => bindTrial(one, root, this.#beside.recordings, { clock, place: heading.place }) ?? [];
        if (!repeat) return [bind(node)].flat();
        // Each is told by its value.
        return node.unrolled.flatMap((one, index) =>
          [bind(one)]
            .flat()
            .map((trial) => ({ ...trial, title: titleWith(trial.title, writeTerm(repeat.values[index] as Term)) })),
        );
      }),
      physics: bindPhysics(this.#of("physics"), root, outputs),
      weathers: this.#of("weather").flatMap((node) => bindWeather(node, root, this.#beside.recordings) ?? []),
      people: this.#of("people").flatMap(({ entries }) => entries.flatMap((node) => bindHabit(node, root) ?? [])),
      wirings: this.#of("wire").flatMap(({ name, entries }) =>
        entries.flatMap(({ kind, parts }) => (wiringRows[kind] as WiringRow).bind(parts, { scope: root, by: name.text }) ?? []),
      ),
    };
    return { house, spans: new Map([...root.symbols.values()].map(({ name, span }) => [name, span])), uses: root.uses };
  }

  // ── Names ───────────────────────────────────────────────────────────────────────────────────────────────────────────

  #declare(): void {
    const root = this.#root;
    for (const zone of this.#of("zone")) {
      const scope = root.inZone(zone.name.text);
      root.declare(zone.name, { kind: "zone" });
      for (const node of zone.entries) {
        if (node.kind === "rule") this.#rules.push({ node, scope });
        else if (node.kind === "guard") this.#guards.push({ node, scope });
        else if (node.kind === "let") this.#lets.push({ node, scope });
        else if (node.kind === "countdown") this.#countdowns.push({ node, scope });
        else this.#things.push({ node, scope });
      }
    }
    for (const placed of this.#things) this.#declareThing(placed);
    for (const { name, words, ordered } of this.#of("mode")) {
      root.declare(name, { kind: "mode", type: { kind: "words", words: words.map(({ text }) => text), ordered } });
    }
    for (const { node, scope } of this.#countdowns) scope.declare(node.name, { kind: "countdown" });
    for (const kind of ["preset", "schedule", "weather"] as const)
      for (const { name } of this.#of(kind)) root.declare(name, { kind });
    for (const node of this.#of("trial")) {
      root.declare(node.name, { kind: "trial" });
      for (const one of node.unrolled) root.declare(one.name, { kind: "trial" });
    }
    for (const node of this.#of("group")) root.declare(node.name, { kind: "group", members: this.#membersOf(node) });
    for (const { node, scope } of this.#lets) this.#declareLet(node, scope);
    for (const node of this.#of("profile")) {
      const value = once(() => bindProfileValue(node, root));
      this.#profileValues.set(node, value);
      root.declare(node.name, { kind: "profile", typed: value });
    }
    // Rules and guards are known by their own name, also those written inside a zone.
    for (const { node } of this.#rules) root.declare(node.name, { kind: "rule" });
    for (const { node } of this.#guards) root.declare(node.name, { kind: "guard" });
  }

  #declareThing({ node, scope }: Placed<ThingNode>): void {
    const bound = bindType(node.type, scope);
    const range = bound && (node.kind === "sensor" && !bound.range ? bindSensorRange(node, bound.type, scope) : bound.range);
    if (bound) this.#types.set(node, { type: bound.type, range });
    const reach = bound && node.kind === "output" ? reachOf({ type: bound.type, ...(range && { range }) }) : range;
    const health = node.attributes.some(({ kind }) => kind === "deviceHealth");
    const doses = node.attributes.some(({ kind }) => kind === "delivers");
    const rests = node.attributes.some(({ kind }) => kind === "atRest");
    scope.declare(node.name, {
      kind: node.kind,
      ...(bound && { type: bound.type }),
      ...(reach && { range: reach }),
      ...(health && { health }),
      ...(doses && { doses }),
      ...(node.kind === "output" && {
        rests: rests || bound?.type.kind === "number" || (bound?.type.kind === "words" && bound.type.words.includes("off")),
      }),
    });
  }

  /** The value of a let is bound when it is first asked for, so that lets may be written in any order. */
  #declareLet(node: LetNode, scope: Scope): void {
    const name = scope.whole(node.name.text);
    const pending = this.#pending;
    const bind = () => {
      pending.add(name);
      const bound = bindLetValue(node, scope);
      pending.delete(name);
      return bound;
    };
    const value = once(bind, () => {
      const names = [...pending];
      scope.faults.add(node.name.span, { kind: "ringOfLets", names: names.slice(names.indexOf(name)) });
    });
    this.#letValues.set(node, value);
    scope.declare(node.name, { kind: "let", typed: (): Typed | undefined => value()?.typed });
  }

  #membersOf(node: GroupNode): () => readonly HouseSymbol[] {
    const members = once(
      () => new Map(node.members.flatMap((member) => this.#root.outputs(member).map((symbol) => [symbol.name, symbol] as const))),
      () =>
        this.#root.faults.add(node.name.span, {
          kind: "missing",
          what: `Group ${node.name.text} contains itself.`,
          remedy: "Name outputs, or other groups.",
        }),
    );
    return () => [...(members()?.values() ?? [])];
  }
}

/** Computed when first asked for; `onRing` when it asks for itself meanwhile, which is answered with nothing. */
function once<Value>(compute: () => Value, onRing?: () => void): () => Value | undefined {
  let state: "new" | "busy" | "done" = "new";
  let value: Value | undefined;
  return () => {
    if (state === "busy") onRing?.();
    if (state !== "new") return value;
    state = "busy";
    value = compute();
    state = "done";
    return value;
  };
}

function unrolled(node: Declaration): Declaration[] {
  return node.kind === "repeat" ? node.unrolled.flatMap(unrolled) : [node];
}

/** As written: by file, then by place in it. */
function byPlace(files: readonly FileNode[]) {
  const order = new Map(files.map(({ file }, index) => [file, index]));
  const index = (span: Span) => order.get(span.file) ?? 0;
  return <Node extends { readonly span: Span }>(placed: readonly Placed<Node>[]) =>
    [...placed].sort((a, b) => index(a.node.span) - index(b.node.span) || a.node.span.from - b.node.span.from);
}

/** Of several `house` blocks the entries add up; each thing is said once. */
function bindHouseNode(nodes: readonly HouseNode[], scope: Scope, files: readonly FileNode[]) {
  const { faults } = scope;
  const [first] = nodes;
  if (!first) {
    const [file] = files;
    const empty = files.every(({ text }) => text.trim() === "");
    if (faults.count === 0) faults.add({ file: file?.file ?? "", from: 0, to: 0 }, { kind: "noHouse", empty });
    return { name: "", clock: "UTC" };
  }
  const said = new Map<string, HouseEntry>();
  for (const entry of nodes.flatMap(({ entries }) => entries)) {
    const before = said.get(entry.kind);
    if (before) faults.add(entry.span, { kind: "secondHouse" }, [{ span: before.span, says: "the first is here" }]);
    else said.set(entry.kind, entry);
  }
  const entry = <Kind extends HouseEntry["kind"]>(kind: Kind) =>
    said.get(kind) as (HouseEntry & { readonly kind: Kind }) | undefined;
  const clock = entry("clock");
  const zone = clock && plainText(clock.zone);
  // What is broken in it may be its clock.
  if (!clock && !faults.within(first.span)) faults.add(first.span, { kind: "noClock" });
  else if (zone && !isZone(zone)) faults.add(clock.zone.span, { kind: "unknownZone", zone });
  const note = entry("note");
  const placed = entry("place");
  const place = placed && bindPlace(placed.latitude, placed.longitude, scope);
  const lasting = (kind: "hand lasts" | "readings last") => {
    const said = entry(kind);
    return said && bindDuration(said.duration, scope);
  };
  const handLasts = lasting("hand lasts");
  const readingsLast = lasting("readings last");
  return {
    name: plainText(first.title),
    ...(note && { note: plainText(note.text) }),
    ...(place && { place }),
    clock: zone && isZone(zone) ? zone : "UTC",
    ...(handLasts && { handLasts }),
    ...(readingsLast && { readingsLast }),
  };
}

function bindPlace(latitude: Term, longitude: Term, scope: Scope): OnEarth | undefined {
  const north = degrees(latitude, { N: 1, S: -1 }, 90, scope);
  const east = degrees(longitude, { E: 1, W: -1 }, 180, scope);
  return north === undefined || east === undefined ? undefined : { latitude: north, longitude: east };
}

function degrees(term: Term, signs: Readonly<Record<string, number>>, most: number, scope: Scope): number | undefined {
  const sign = term.kind === "number" ? signs[term.unit] : undefined;
  if (term.kind === "number" && sign !== undefined && term.value <= most) return sign * term.value;
  const [plus = "", minus = ""] = Object.keys(signs);
  const number = term.kind === "sign" ? term.of : term;
  if (number.kind === "number" && number.unit === "" && number.value <= most) {
    const isMinus = term.kind === "sign" && term.sign === "-";
    const meant = `${writeNumber(number.value)} ${isMinus ? minus : plus}`;
    const what = `"${writeTerm(term)}" has no direction.`;
    if (isMinus) scope.faults.add(term.span, { kind: "habit", written: writeTerm(term), meant });
    else scope.faults.add(term.span, { kind: "missing", what, remedy: `Write ${meant}.`, after: plus });
    return isMinus ? -number.value : number.value;
  }
  const remedy = `Write degrees with a direction: 46.95 ${plus} or 46.95 ${minus}, at most ${most}.`;
  scope.faults.add(term.span, { kind: "wrongType", what: writeTerm(term), wanted: "a position on earth", remedy });
  return undefined;
}
