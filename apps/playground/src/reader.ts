// Reads the house as it is written and answers a writer's questions; nothing that runs stands in its way.
import { exampleDay, isSound, ownValue, titleOf } from "modrik";
import { describe, hints } from "modrik/language";
import type { Answer, FromReader, Question, Reading, Setup, ThingInfo, ToReader } from "./messages.js";
import { fitting, followFiles } from "./open-house.js";

/** How long a writer pauses before problems are told: what is half written is not a mistake yet, and the day is drawn first. */
const PAUSE_MS = 250;

/** @param tell sends to the page */
export function startReader(tell: (message: FromReader) => void): (message: ToReader) => void {
  const follow = followFiles();
  let text = follow({});
  let latest = 0;

  function read(id: number, set: Setup["set"]): void {
    const { house } = text;
    const problems = text.problems.filter(({ allowed }) => allowed === undefined);
    const sound = isSound(text);
    const { name, dials, modes, weathers, zones } = house;
    const shown = sound ? hints(text, { at: exampleDay(house), values: fitting(house, set) }) : undefined;
    const presets = house.presets.map(({ name, title, targets }) => {
      const settings = targets.flatMap(({ output, value }) => {
        const own = [...dials, ...modes].some((one) => one.name === output) ? ownValue(house, output, value) : undefined;
        return own === undefined ? [] : [[output, own] as const];
      });
      return { name, ...(title !== undefined && { title }), sets: Object.fromEntries(settings) };
    });
    const reading: Reading = {
      name,
      problems,
      sound,
      dials,
      modes,
      presets,
      weathers,
      zones,
      things: [...house.sensors.map((one) => thingOf(one, "sensor")), ...house.outputs.map((one) => thingOf(one, "output"))],
      hints: shown,
    };
    tell({ kind: "read", id, reading });
  }

  function answer({ kind, file, text: written, at }: Question): Answer {
    const asked = text.with(file, written);
    if (kind === "complete") return asked.completions(file, at);
    return isSound(asked) ? describe(asked, file, at, { at: exampleDay(asked.house) }) : undefined;
  }

  return (message) => {
    if (message.kind === "ask") return tell({ kind: "answer", id: message.id, answer: answer(message.question) });
    const { id, setup, file } = message;
    latest = id;
    text = follow(setup.files);
    const isHouse = text.files[file] !== undefined;
    tell({
      kind: "coloured",
      colours: { file, length: text.files[file]?.length ?? 0, tokens: isHouse ? text.tokens(file) : [] },
    });
    setTimeout(() => id === latest && read(id, setup.set), PAUSE_MS);
  };
}

function thingOf(
  one: { readonly name: string; readonly title?: string; readonly type: { readonly kind: string } },
  role: ThingInfo["role"],
): ThingInfo {
  const { type } = one as { readonly type: { kind: string; unit?: string; words?: readonly string[] } };
  return {
    name: one.name,
    title: titleOf(one),
    role,
    ...(type.unit !== undefined && { unit: type.unit }),
    ...(type.words && { words: type.words }),
    ...(type.kind === "press" && { press: true as const }),
  };
}
