// Colours for the words of the language in the editor: the language itself says what each word is.
import { EditorState, type Extension, RangeSet, StateEffect, StateField } from "@codemirror/state";
import { Decoration, type DecorationSet, EditorView } from "@codemirror/view";
import type { SourceToken } from "modrik/language";
import type { Colours } from "./messages.js";

export const setColours = StateEffect.define<Colours>();

const marks = new Map(
  (["comment", "text", "number", "keyword", "name"] satisfies SourceToken["kind"][]).map((kind) => [
    kind as SourceToken["kind"],
    Decoration.mark({ class: `is-${kind}` }),
  ]),
);

/** They move with the text until the worker has read it again. */
const coloured = StateField.define<DecorationSet>({
  create: () => RangeSet.empty,
  update(shown, { changes, effects, state }) {
    const set = effects.find((effect) => effect.is(setColours));
    const colours = set?.value as Colours | undefined;
    // Of a text that has been written on meanwhile, others are on their way.
    if (!colours || colours.length !== state.doc.length) return shown.map(changes);
    const ranges = colours.tokens.flatMap(({ from, to, kind }) => marks.get(kind)?.range(from, to) ?? []);
    return Decoration.set(ranges);
  },
  provide: (field) => EditorView.decorations.from(field),
});

const look = EditorView.theme({
  ".is-comment": { color: "var(--quiet)", fontStyle: "italic" },
  ".is-text": { color: "var(--right)" },
  ".is-number": { color: "var(--wrong)" },
  ".is-keyword": { color: "var(--accent)" },
  ".is-name": { color: "var(--ink)" },
});

export const modrikLanguage: Extension = [
  coloured,
  look,
  EditorState.languageData.of(() => [{ commentTokens: { line: "#" }, closeBrackets: { brackets: ["(", "{", '"'] } }]),
];
