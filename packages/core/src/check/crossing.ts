// Two targets of one `keep` that dials, or what sensors say, can set across each other: it then asks for nothing.
import { crossingOf } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { MINUTE } from "../time/index.js";
import { isFound } from "../trial/index.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";

export function crossingTargets({ house, scene }: Inquiry): Draft[] {
  return house.rules.flatMap((rule) =>
    rule.sentences.flatMap((sentence, index): Draft[] => {
      const crossing = "keep" in sentence ? crossingOf(sentence.keep) : undefined;
      const found = crossing && scene.search.find([scene.goal(crossing)], { anyDial: true });
      if (!found || !isFound(found) || !("keep" in sentence)) return [];
      const shows = scene.shows(
        `The targets of ${rule.name} cross`,
        [found],
        [{ claim: "holds", condition: { kind: "problem", text: "crossing-targets" } }],
        found.at + MINUTE,
      );
      if (!shows) return [];
      const so = [...found.values].flatMap(([node, value]) => scene.said(node, value));
      return [
        {
          code: "crossing-targets",
          about: { kind: "sentence", rule: rule.name, sentence: index },
          reason: `The targets of \`keep ${writeExpression(sentence.keep.value)} …\` cross, for example when ${so.join(", ")}. ${rule.name} then does nothing, and a dial that would cause it cannot be set.`,
          remedy: "Choose ranges that cannot cross, or use one target with a tolerance.",
          shows,
        },
      ];
    }),
  );
}
