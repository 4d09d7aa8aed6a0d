// What the language knows of a text while it is written: completions, descriptions under the pointer, hints at line ends.
import { autocompletion, type Completion, type CompletionContext, type CompletionResult } from "@codemirror/autocomplete";
import { type Extension, RangeSet, StateEffect, StateField } from "@codemirror/state";
import { Decoration, type DecorationSet, EditorView, hoverTooltip, type Tooltip, WidgetType } from "@codemirror/view";
import type { Explanation } from "modrik";
import type { Completions, Description, Hint } from "modrik/language";
import type { Answer, Question } from "./messages.js";

export type Ask = (question: Question) => Promise<Answer>;

export function assistance(ask: Ask, file: string): Extension {
  return [
    autocompletion({ override: [(context) => completionsAt(context, ask, file)], icons: false }),
    hoverTooltip((view, at) => descriptionAt(view, at, ask, file)),
    hintField,
  ];
}

async function completionsAt(context: CompletionContext, ask: Ask, file: string): Promise<CompletionResult | null> {
  // Unasked, only where a name has been begun or a word is due.
  const begun = context.matchBefore(/[\p{L}_][\p{L}\p{N}_.]*|(?:is|to|at|with|during|hold|set|apply) $/u);
  if (!begun && !context.explicit) return null;
  const found = (await ask({ kind: "complete", file, text: context.state.doc.toString(), at: context.pos })) as
    | Completions
    | undefined;
  if (!found || found.options.length === 0) return null;
  const options = found.options.map(({ label, detail = "" }): Completion => ({ label, detail }));
  return { from: found.from, options };
}

async function descriptionAt(view: EditorView, at: number, ask: Ask, file: string): Promise<Tooltip | null> {
  const found = (await ask({ kind: "describe", file, text: view.state.doc.toString(), at })) as Description | undefined;
  if (!found) return null;
  return { pos: found.from, end: found.to, above: true, create: () => ({ dom: written(found.says) }) };
}

function written(says: Explanation): HTMLElement {
  const box = document.createElement("div");
  box.className = "describes";
  const write = ({ says: text, because }: Explanation, depth: number) => {
    const line = box.appendChild(document.createElement("p"));
    line.textContent = text;
    line.style.marginInlineStart = `${depth}em`;
    for (const part of because) write(part, depth + 1);
  };
  write(says, 0);
  return box;
}

// ── Hints ───────────────────────────────────────────────────────────────────────────────────────────────────────────────

export const setHints = StateEffect.define<readonly Hint[]>();

class HintWidget extends WidgetType {
  constructor(readonly says: string) {
    super();
  }

  override eq(other: HintWidget): boolean {
    return other.says === this.says;
  }

  override toDOM(): HTMLElement {
    const shown = document.createElement("span");
    shown.className = "hint";
    shown.textContent = this.says;
    return shown;
  }
}

/** They move with the text until the house has been read again. */
const hintField = StateField.define<DecorationSet>({
  create: () => RangeSet.empty,
  update(shown, { changes, effects, state }) {
    const set = effects.find((effect) => effect.is(setHints));
    if (!set) return shown.map(changes);
    const { length } = state.doc;
    const widgets = (set.value as readonly Hint[]).map(({ at, says }) =>
      Decoration.widget({ widget: new HintWidget(says), side: 1 }).range(Math.min(at, length)),
    );
    return Decoration.set(widgets, true);
  },
  provide: (field) => EditorView.decorations.from(field),
});
