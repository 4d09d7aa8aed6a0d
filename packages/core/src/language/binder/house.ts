// All files of a house together: first every name, then what each says.
import type { Guard, House, Range, Rule, ValueType, Zone } from "../../house/index.js";
import { isZone, type Place as OnEarth } from "../../time/index.js";
import type { Faults } from "../problem.js";
import type { Declaration, FileNode, GuardNode, HouseEntry, HouseNode, RuleNode, Term, ThingNode } from "../syntax.js";
import type { Span } from "../token.js";
import { bindHabit, bindPhysics, bindWeather } from "./physics.js";
import { bindGuard, bindRule, checkPermits } from "./rules.js";
import { Scope } from "./scope.js";
import { bindDuration } from "./terms.js";
import { headingOf, plainText } from "./text.js";
import { bindDial, bindMode, bindOutput, bindSchedule, bindSensor, bindSensorRange, bindType } from "./things.js";
import { bindTrial } from "./trials.js";

interface Placed<Node> {
  readonly node: Node;
  readonly scope: Scope;
}

interface Typed {
  readonly type: ValueType;
  readonly range: Range | undefined;
}

export interface BoundHouse {
  readonly house: House;
  /** Where each name is declared. */
  readonly spans: ReadonlyMap<string, Span>;
}

export function bindHouse(files: readonly FileNode[], faults: Faults): BoundHouse {
  const root = new Scope(faults);
  const declarations = files.flatMap((file) => file.declarations);
  const of = <Kind extends Declaration["kind"]>(kind: Kind) =>
    declarations.filter((node): node is Extract<Declaration, { kind: Kind }> => node.kind === kind);

  const types = new Map<ThingNode, Typed>();
  const things: Placed<ThingNode>[] = of("dial").map((node) => ({ node, scope: root }));
  const rules: Placed<RuleNode>[] = of("rule").map((node) => ({ node, scope: root }));
  const guards: Placed<GuardNode>[] = of("guard").map((node) => ({ node, scope: root }));

  for (const zone of of("zone")) {
    const scope = root.inZone(zone.name.text);
    root.declare(zone.name, { kind: "zone" });
    for (const node of zone.entries) {
      if (node.kind === "rule") rules.push({ node, scope });
      else if (node.kind === "guard") guards.push({ node, scope });
      else things.push({ node, scope });
    }
  }
  for (const { node, scope } of things) {
    const typed = typeOf(node, scope);
    if (typed) types.set(node, typed);
    const { type, range } = typed ?? {};
    scope.declare(node.name, { kind: node.kind, ...(type && { type }), ...(range && { range }) });
  }
  for (const { name, words, ordered } of of("mode")) {
    root.declare(name, { kind: "mode", type: { kind: "words", words: words.map(({ text }) => text), ordered } });
  }
  for (const kind of ["schedule", "trial", "weather"] as const) {
    for (const { name } of of(kind)) root.declare(name, { kind });
  }
  // Rules and guards are known by their own name, also those written inside a zone.
  for (const { node } of rules) root.declare(node.name, { kind: "rule" });
  for (const { node } of guards) root.declare(node.name, { kind: "guard" });

  const inOrder = byPlace(files);
  const boundThings = <Bound>(
    kind: ThingNode["kind"],
    bind: (node: ThingNode, scope: Scope, typed: Typed) => Bound | undefined,
  ) =>
    things.flatMap(({ node, scope }) => {
      const typed = types.get(node);
      const bound = node.kind === kind && typed ? bind(node, scope, typed) : undefined;
      return bound ? [bound] : [];
    });
  const inScope = <Node, Bound>(placed: readonly Placed<Node>[], bind: (node: Node, scope: Scope) => Bound) =>
    placed.map(({ node, scope }) => ({ node, bound: bind(node, scope) }));

  const boundGuards = inScope(inOrder(guards), (node, scope): Guard => bindGuard(node, scope));
  checkPermits(
    boundGuards.map(({ node, bound }) => ({ node, guard: bound })),
    root,
  );
  const house: House = {
    ...bindHouseNode(of("house"), root, files),
    zones: of("zone").map((node): Zone => headingOf(node)),
    sensors: boundThings("sensor", (node, scope, { type, range }) => bindSensor(node, scope, type, range)),
    outputs: boundThings("output", (node, scope, { type, range }) => bindOutput(node, scope, type, range)),
    dials: boundThings("dial", (node, scope, { type, range }) => bindDial(node, scope, type, range)),
    modes: of("mode").flatMap((node) => bindMode(node, root) ?? []),
    schedules: of("schedule").map((node) => bindSchedule(node, root)),
    rules: inScope(inOrder(rules), (node, scope): Rule => bindRule(node, scope)).map(({ bound }) => bound),
    guards: boundGuards.map(({ bound }) => bound),
    trials: of("trial").flatMap((node) => bindTrial(node, root) ?? []),
    physics: bindPhysics(of("physics"), root),
    weathers: of("weather").flatMap((node) => bindWeather(node, root) ?? []),
    people: of("people").flatMap(({ entries }) => entries.flatMap((node) => bindHabit(node, root) ?? [])),
  };
  return { house, spans: new Map([...root.symbols.values()].map(({ name, span }) => [name, span])) };
}

function typeOf(node: ThingNode, scope: Scope): Typed | undefined {
  const typed = bindType(node.type, scope);
  if (!typed) return undefined;
  return {
    type: typed.type,
    range: node.kind === "sensor" && !typed.range ? bindSensorRange(node, typed.type, scope) : typed.range,
  };
}

/** As written: by file, then by place in it. */
function byPlace(files: readonly FileNode[]) {
  const order = new Map(files.map(({ file }, index) => [file, index]));
  const index = (span: Span) => order.get(span.file) ?? 0;
  return <Node extends { readonly span: Span }>(placed: readonly Placed<Node>[]) =>
    [...placed].sort((a, b) => index(a.node.span) - index(b.node.span) || a.node.span.from - b.node.span.from);
}

function bindHouseNode(nodes: readonly HouseNode[], scope: Scope, files: readonly FileNode[]) {
  const { faults } = scope;
  const [first, ...more] = nodes;
  if (!first) {
    const [file] = files;
    const empty = files.every(({ text }) => text.trim() === "");
    if (faults.count === 0) faults.add({ file: file?.file ?? "", from: 0, to: 0 }, { kind: "noHouse", empty });
    return { name: "", clock: "UTC" };
  }
  for (const node of more) faults.add(node.span, { kind: "secondHouse" }, [{ span: first.span, says: "the house is here" }]);
  const said = new Map<string, HouseEntry>();
  for (const entry of first.entries) {
    if (said.has(entry.kind)) faults.add(entry.span, { kind: "secondHouse" });
    else said.set(entry.kind, entry);
  }
  const entry = <Kind extends HouseEntry["kind"]>(kind: Kind) =>
    said.get(kind) as Extract<HouseEntry, { kind: Kind }> | undefined;
  const clock = entry("clock");
  const zone = clock && plainText(clock.zone);
  if (!clock) faults.add(first.span, { kind: "noClock" });
  else if (zone && !isZone(zone)) faults.add(clock.zone.span, { kind: "unknownZone", zone });
  const note = entry("note");
  const placed = entry("place");
  const place = placed && bindPlace(placed.latitude, placed.longitude, scope);
  const lasts = entry("hand lasts");
  const handLasts = lasts && bindDuration(lasts.duration, scope);
  return {
    name: plainText(first.title),
    ...(note && { note: plainText(note.text) }),
    ...(place && { place }),
    clock: zone && isZone(zone) ? zone : "UTC",
    ...(handLasts && { handLasts }),
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
  const [plus, minus] = Object.keys(signs);
  const remedy = `Write degrees with a direction: 46.95 ${plus} or 46.95 ${minus}, at most ${most}.`;
  scope.faults.add(term.span, { kind: "wrongType", what: "This", wanted: "a position on earth", remedy });
  return undefined;
}
