// One word of several that are in order, where that word and all above it are meant.
import type { Condition } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { MINUTE } from "../time/index.js";
import type { Ask } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";

/** `while z.air is middling` releases its output as the air grows foul. */
export function singleWords(inquiry: Inquiry): Draft[] {
  return inquiry.asks.flatMap((ask): Draft[] => {
    if (ask.way !== "held") return [];
    return ask.conditions.flatMap((condition) => {
      const next = nextWord(inquiry, condition);
      if (!next || isTaken(inquiry, ask, condition, next)) return [];
      const shows = showsRelease(inquiry, ask, condition, next);
      if (!shows) return [];
      const [name, word] = [writeExpression(next.left), writeExpression(next.right)];
      return [
        {
          code: "ordered-word",
          about: ask.about,
          reason: `${ask.rule.name} applies only while \`${writeExpression(condition)}\`. When ${name} goes on to ${word}, ${ask.output} is released.`,
          remedy: `If it should apply from there on, write \`${writeExpression({ ...next, kind: "at least", right: wordIn(condition) })}\`.`,
          shows,
        },
      ];
    });
  });
}

type Is = Extract<Condition, { kind: "is" }>;

const wordIn = (condition: Condition) => (condition as Is).right;

/** The same comparison with the word above; nothing for the first word, the last, or words without an order. */
function nextWord({ house }: Inquiry, condition: Condition): Is | undefined {
  if (condition.kind !== "is" || condition.left.kind !== "value" || condition.right.kind !== "word") return undefined;
  const { of } = condition.left;
  const { word } = condition.right;
  const type = house.sensors.find(({ name }) => name === of)?.type;
  if (type?.kind !== "words" || !type.ordered) return undefined;
  const place = type.words.indexOf(word);
  const next = type.words[place + 1];
  return place > 0 && next !== undefined ? { ...condition, right: { kind: "word", word: next, of: type.words } } : undefined;
}

/** Whether another sentence says what the output does at the next word. */
function isTaken({ asks }: Inquiry, ask: Ask, condition: Condition, next: Is): boolean {
  const sensor = writeExpression((condition as Is).left);
  return asks.some(
    (other) =>
      other !== ask &&
      other.output === ask.output &&
      other.conditions.some(
        (one) => "left" in one && writeExpression(one.left) === sensor && (one.kind !== "is" || sameWord(one.right, next.right)),
      ),
  );
}

function sameWord(one: Condition, other: Condition): boolean {
  return writeExpression(one) === writeExpression(other);
}

function showsRelease(inquiry: Inquiry, ask: Ask, condition: Condition, next: Is) {
  const { scene } = inquiry;
  const others = ask.conditions.filter((one) => one !== condition);
  const at = scene.find([...others, condition], { of: ask.output });
  const above = at && scene.find([...others, next], { at: at.at, of: ask.output });
  if (!at || !above) return undefined;
  const asked: Condition = { kind: "is", left: { kind: "value", of: ask.output }, right: ask.value };
  return scene.shows(
    `${writeExpression(next)}, and ${ask.output} is released`,
    [...scene.leadingTo(at), { at: at.at + 20 * MINUTE, values: above.values }],
    [
      { claim: "holds", condition: asked, at: at.at + MINUTE },
      { claim: "never", condition: asked, from: at.at + 30 * MINUTE, to: at.at + 31 * MINUTE },
    ],
    at.at + 40 * MINUTE,
  );
}
