// The text of one file, with its problems shown at their place.
import { closeBrackets, closeBracketsKeymap, completionKeymap } from "@codemirror/autocomplete";
import { defaultKeymap, history, historyKeymap } from "@codemirror/commands";
import { bracketMatching, indentUnit } from "@codemirror/language";
import { type Action, type Diagnostic, lintGutter, lintKeymap, setDiagnostics } from "@codemirror/lint";
import { EditorState } from "@codemirror/state";
import { drawSelection, EditorView, highlightActiveLine, keymap, lineNumbers } from "@codemirror/view";
import type { Hint } from "modrik/language";
import { useEffect, useEffectEvent, useRef } from "react";
import { type Ask, assistance, setHints } from "./assistance.js";
import { modrikLanguage, setColours } from "./highlighting.js";
import type { Colours, Remark } from "./messages.js";

interface EditorProps {
  readonly file: string;
  readonly text: string;
  readonly problems: readonly Remark[];
  /** Left out while the house has errors: those there are stay. */
  readonly hints: readonly Hint[] | undefined;
  /** Of this file, as it was read last. */
  readonly colours: Colours | undefined;
  readonly ask: Ask;
  /** Where to put the cursor; a new object moves it again. */
  readonly goTo: { readonly at: number } | undefined;
  readonly onChange: (text: string) => void;
}

const look = EditorView.theme({
  "&": { backgroundColor: "var(--ground)", color: "var(--ink)" },
  ".cm-content": { fontFamily: "IBM Plex Mono, ui-monospace, monospace", caretColor: "var(--ink)" },
  ".cm-gutters": { backgroundColor: "var(--ground)", color: "var(--quiet)", border: "none" },
  ".cm-activeLine": { backgroundColor: "color-mix(in srgb, var(--accent) 6%, transparent)" },
  "&.cm-focused": { outline: "none" },
  ".cm-cursor": { borderLeftColor: "var(--ink)" },
  "&.cm-focused > .cm-scroller > .cm-selectionLayer .cm-selectionBackground, .cm-selectionBackground": {
    backgroundColor: "color-mix(in srgb, var(--accent) 25%, transparent)",
  },
  ".cm-tooltip": { backgroundColor: "var(--ground)", color: "var(--ink)", border: "1px solid var(--hairline)" },
  ".cm-tooltip-autocomplete ul li[aria-selected]": { backgroundColor: "var(--accent)", color: "var(--ground)" },
  ".cm-completionDetail": { color: "var(--quiet)", fontStyle: "normal", marginInlineStart: "1em" },
  "li[aria-selected] .cm-completionDetail": { color: "var(--ground)" },
  ".describes": { padding: "6px 10px", maxWidth: "560px" },
  ".describes p": { margin: 0 },
  ".hint": { color: "var(--quiet)", fontStyle: "italic", display: "inline-block", marginInlineStart: "2em", fontSize: "0.92em" },
  ".cm-diagnostic": { maxWidth: "420px", whiteSpace: "pre-wrap" },
});

/** The remedy as a button next to the problem. */
function writing(text: string): Action {
  return {
    name: text === "" ? "Remove it" : `Write ${text.trim()}`,
    apply: (view, from, to) => view.dispatch({ changes: { from, to, insert: text } }),
  };
}

export function Editor({ file, text, problems, hints, colours, ask, goTo, onChange }: EditorProps) {
  const parent = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  const change = useEffectEvent(onChange);

  // biome-ignore lint/correctness/useExhaustiveDependencies: a file has an editor of its own; `text` is what it begins with
  useEffect(() => {
    const made = new EditorView({
      parent: parent.current as HTMLDivElement,
      state: EditorState.create({
        doc: text,
        extensions: [
          lineNumbers(),
          lintGutter(),
          history(),
          drawSelection(),
          bracketMatching(),
          closeBrackets(),
          highlightActiveLine(),
          indentUnit.of("  "),
          EditorView.lineWrapping,
          modrikLanguage,
          assistance(ask, file),
          look,
          EditorView.contentAttributes.of({ "aria-label": `Text of ${file}`, tabindex: "0" }),
          keymap.of([...completionKeymap, ...closeBracketsKeymap, ...defaultKeymap, ...historyKeymap, ...lintKeymap]),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) change(update.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = made;
    return () => made.destroy();
  }, [file]);

  useEffect(() => {
    const editor = view.current;
    if (!editor) return;
    const length = editor.state.doc.length;
    const diagnostics = problems.map(({ place, severity, reason, remedy, fix }): Diagnostic => {
      const from = Math.min(place.from, length);
      return {
        from,
        to: Math.min(Math.max(place.to, from), length),
        severity,
        message: remedy ? `${reason}\n${remedy}` : reason,
        actions: fix === undefined ? [] : [writing(fix)],
      };
    });
    editor.dispatch(setDiagnostics(editor.state, diagnostics));
  }, [problems]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: a file has an editor of its own, which should be coloured too
  useEffect(() => {
    if (colours) view.current?.dispatch({ effects: setColours.of(colours) });
  }, [colours, file]);

  useEffect(() => {
    if (hints) view.current?.dispatch({ effects: setHints.of(hints) });
  }, [hints]);

  useEffect(() => {
    const editor = view.current;
    if (!editor || !goTo) return;
    const at = Math.min(goTo.at, editor.state.doc.length);
    editor.dispatch({ selection: { anchor: at }, effects: EditorView.scrollIntoView(at, { y: "center" }) });
    editor.focus();
  }, [goTo]);

  return <div className="editor" ref={parent} />;
}
