// Where what a house says stands in its texts: things, rules, sentences and their parts, so that what is known of them
// can be shown next to them; and what a writer allows there.
import type { SourcePlace } from "./problem.js";
import type { ActionNode, Declaration, FileNode, GuardNode, RuleNode, SentenceNode, WireNode } from "./syntax.js";
import type { Span } from "./token.js";

/** What stands somewhere: a thing, rule, guard, trial or schedule by its whole name, or a part of one. */
export type SpokenOf =
  | { readonly kind: "thing"; readonly name: string }
  | { readonly kind: "schedule"; readonly name: string }
  | { readonly kind: "sentence"; readonly rule: string; readonly sentence: number }
  | { readonly kind: "trigger"; readonly rule: string; readonly sentence: number; readonly trigger: number }
  | { readonly kind: "drive"; readonly rule: string; readonly sentence: number; readonly way: "raise" | "lower" }
  | { readonly kind: "target"; readonly rule: string; readonly sentence: number; readonly output: string }
  | { readonly kind: "steps"; readonly rule: string; readonly sentence: number }
  | { readonly kind: "permit"; readonly guard: string; readonly permit: number }
  | { readonly kind: "wiring"; readonly by: string; readonly entry: number };

/** What stands at a place of the texts. */
export interface SpokenPlace {
  readonly span: Span;
  readonly what: SpokenOf;
}

/** The places of things, sentences and their parts, in the order of the text; of a repeat once for each value. */
export function spokenIn(trees: readonly FileNode[]): SpokenPlace[] {
  return trees.flatMap(({ declarations }) => declarations.flatMap((node) => ofDeclaration(node, "")));
}

type AnyNode = Declaration | { readonly kind: string };

function ofDeclaration(node: AnyNode, zone: string): SpokenPlace[] {
  const declaration = node as Declaration;
  switch (declaration.kind) {
    case "repeat":
      return declaration.unrolled.flatMap((inner) => ofDeclaration(inner, zone));
    case "zone":
      return declaration.entries.flatMap((inner) => ofDeclaration(inner, `${declaration.name.text}.`));
    case "rule":
      return [named(declaration.name, ""), ...ofRule(declaration, zone)];
    case "guard":
      return [named(declaration.name, ""), ...ofGuard(declaration)];
    case "wire":
      return ofWire(declaration);
    case "schedule":
      return [
        { span: declaration.name.span, what: { kind: "schedule", name: `${zone}${declaration.name.text}` } },
        named(declaration.name, zone),
      ];
    default:
      return "name" in declaration ? [named(declaration.name, zone)] : [];
  }
}

function named({ text, span }: { readonly text: string; readonly span: Span }, zone: string): SpokenPlace {
  return { span, what: { kind: "thing", name: `${zone}${text}` } };
}

function ofGuard({ name, permits }: GuardNode): SpokenPlace[] {
  return permits.map(({ span }, permit) => ({ span, what: { kind: "permit", guard: name.text, permit } }));
}

function ofWire({ name, entries }: WireNode): SpokenPlace[] {
  return entries.map(({ span }, entry) => ({ span, what: { kind: "wiring", by: name.text, entry } }));
}

/** A `while` with several actions is as many sentences. */
function ofRule({ name, sentences }: RuleNode, zone: string): SpokenPlace[] {
  const rule = name.text;
  let next = 0;
  return sentences.flatMap((node: SentenceNode): SpokenPlace[] => {
    if (node.kind === "event") {
      const sentence = next++;
      const triggers = node.triggers.map(
        ({ span }, trigger): SpokenPlace => ({ span, what: { kind: "trigger", rule, sentence, trigger } }),
      );
      const steps: SpokenPlace = { span: node.steps[0]?.span ?? node.doSpan, what: { kind: "steps", rule, sentence } };
      const whole: SpokenPlace = { span: triggers[0]?.span ?? node.span, what: { kind: "sentence", rule, sentence } };
      return [...triggers, whole, steps];
    }
    return node.actions.flatMap((action) => {
      const sentence = next++;
      const span = node.while?.span ?? action.span;
      return [{ span, what: { kind: "sentence", rule, sentence } } as const, ...ofAction(action, rule, sentence, zone)];
    });
  });
}

function ofAction(action: ActionNode, rule: string, sentence: number, zone: string): SpokenPlace[] {
  const whole = (name: string) => (name.includes(".") ? name : `${zone}${name}`);
  if (action.kind === "keep")
    return action.drives.map(({ way, span }) => ({ span, what: { kind: "drive", rule, sentence, way } }));
  if (action.kind === "cycle")
    return [{ span: action.span, what: { kind: "target", rule, sentence, output: whole(action.output.text) } }];
  return action.targets.map(({ name, value }) => ({
    span: { ...name.span, to: value.span.to },
    what: { kind: "target", rule, sentence, output: whole(name.text) },
  }));
}

/** Finds where things and parts of rules stand; the first of its values stands for a repeat. */
export function finderOf(spoken: readonly SpokenPlace[]): (what: SpokenOf) => Span | undefined {
  const known = new Map<string, Span>();
  for (const { span, what } of spoken) {
    const key = keyOf(what);
    if (!known.has(key)) known.set(key, span);
  }
  return (what) =>
    known.get(keyOf(what)) ??
    (insideSentence(what) ? known.get(keyOf({ kind: "sentence", rule: what.rule, sentence: what.sentence })) : undefined);
}

/** A target that is named by its group, say, stands in its sentence. */
function insideSentence(what: SpokenOf): what is Extract<SpokenOf, { rule: string }> {
  return "rule" in what;
}

function keyOf(what: SpokenOf): string {
  return JSON.stringify(Object.entries(what).sort());
}

// ── What is allowed ─────────────────────────────────────────────────────────────────────────────────────────────────────

/** `# allow CODE: reason`, and the stretches of text it stands before: a declaration, a sentence. */
export interface Allowance {
  readonly code: string;
  readonly reason: string;
  readonly place: SourcePlace;
  /** What it covers; empty where it stands before nothing. */
  readonly covers: readonly Span[];
}

/** What the writer of a house allows, each for the declaration or sentence on the next line. */
export function allowancesIn(trees: readonly FileNode[], placeOf: (span: Span) => SourcePlace): Allowance[] {
  return trees.flatMap(({ text, declarations, comments }) => {
    const extents = declarations.flatMap(extentsIn);
    return comments.flatMap((comment) => {
      const [, code, reason] = /^#\s*allow ([\w-]+):\s*(.+)$/.exec(comment.text) ?? [];
      if (code === undefined || reason === undefined || !comment.leads) return [];
      const rest = text.slice(comment.to);
      const next = comment.to + rest.length - rest.replace(/^(\s|#[^\n]*)+/, "").length;
      return [{ code, reason, place: placeOf(comment), covers: extents.filter(({ from }) => from === next) }];
    });
  });
}

/** The allowance that covers a place, for a code. */
export function allowanceFor(allowances: readonly Allowance[], code: string, place: Span): Allowance | undefined {
  return allowances.find(
    (one) =>
      one.code === code && one.covers.some(({ file, from, to }) => file === place.file && from <= place.from && to >= place.to),
  );
}

function extentsIn(node: AnyNode & { readonly span?: Span }): Span[] {
  const declaration = node as Declaration;
  const own = declaration.span;
  if (declaration.kind === "repeat") return [own, ...declaration.body.flatMap(extentsIn)];
  if (declaration.kind === "zone" || declaration.kind === "wire") return [own, ...declaration.entries.flatMap(extentsIn)];
  if (declaration.kind === "rule") return [own, ...declaration.sentences.map(({ span }) => span)];
  if (declaration.kind === "guard") return [own, ...[...declaration.permits, ...declaration.apart].map(({ span }) => span)];
  return [own];
}
