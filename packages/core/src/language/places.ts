// Where the sentences of a house stand in its texts, so that what is known of them can be shown beside them.
import { parseFile } from "./parser/file.js";
import { Faults } from "./problem.js";
import type { Declaration, RuleNode, ScheduleNode, SentenceNode } from "./syntax.js";

export interface SpokenPlace {
  readonly file: string;
  /** Behind its last sign. */
  readonly end: number;
  readonly what:
    | { readonly kind: "sentence"; readonly rule: string; readonly sentence: number }
    | { readonly kind: "trigger"; readonly rule: string; readonly sentence: number; readonly trigger: number }
    | { readonly kind: "drive"; readonly rule: string; readonly sentence: number; readonly way: "raise" | "lower" }
    | { readonly kind: "schedule"; readonly name: string };
}

/** The places of sentences, drives and schedules, in the order of the text; of a repeat once for each value. */
export function spokenPlaces(files: Readonly<Record<string, string>>): SpokenPlace[] {
  return Object.entries(files).flatMap(([file, text]) => {
    const { declarations } = parseFile(file, text, new Faults(files));
    return declarations.flatMap((node) => ofDeclaration(node, ""));
  });
}

function ofDeclaration(node: Declaration | { readonly kind: string }, zone: string): SpokenPlace[] {
  const declaration = node as Declaration;
  switch (declaration.kind) {
    case "repeat":
      return declaration.unrolled.flatMap((inner) => ofDeclaration(inner, zone));
    case "zone":
      return declaration.entries.flatMap((inner) => ofDeclaration(inner, `${declaration.name.text}.`));
    case "rule":
      return ofRule(declaration);
    case "schedule":
      return [ofSchedule(declaration, zone)];
    default:
      return [];
  }
}

function ofSchedule({ name, span }: ScheduleNode, zone: string): SpokenPlace {
  return { file: span.file, end: name.span.to, what: { kind: "schedule", name: `${zone}${name.text}` } };
}

/** A `while` with several actions is as many sentences. */
function ofRule({ name, sentences }: RuleNode): SpokenPlace[] {
  let next = 0;
  return sentences.flatMap((node: SentenceNode): SpokenPlace[] => {
    if (node.kind === "event") {
      const sentence = next++;
      return node.triggers.map(({ span }, trigger) => ({
        file: span.file,
        end: span.to,
        what: { kind: "trigger", rule: name.text, sentence, trigger },
      }));
    }
    return node.actions.flatMap((action): SpokenPlace[] => {
      const sentence = next++;
      const { file } = action.span;
      if (action.kind !== "keep") {
        const end = node.while?.span.to ?? action.span.to;
        return [{ file, end, what: { kind: "sentence", rule: name.text, sentence } }];
      }
      return action.drives.map(({ way, span }) => ({
        file,
        end: span.to,
        what: { kind: "drive", rule: name.text, sentence, way },
      }));
    });
  });
}
