// Colours for the words of the language in the editor.
import { HighlightStyle, StreamLanguage, syntaxHighlighting } from "@codemirror/language";
import { tags } from "@lezer/highlight";

const keywords = new Set(
  (
    "house zone sensor output dial mode schedule rule guard trial physics weather people place clock note " +
    "while hold keep raise lower with at when provided do set tell wait until through if triggered again start over ignore " +
    "permit only while for in the last during outside between and or not is was has been above below least most from to by " +
    "given expect never always later falls silent restarts simulated unknown after rest first step on off daily as urgent background"
  ).split(" "),
);

const language = StreamLanguage.define({
  token(stream) {
    if (stream.match(/^#.*/)) return "comment";
    if (stream.match(/^"(?:[^"\\]|\\.)*"?/)) return "string";
    if (stream.match(/^\d{4}-\d{2}-\d{2}|^\d{1,2}:\d{2}(?::\d{2})?/)) return "number";
    if (stream.match(/^\d+(?:\.\d+)?(?:[ \t]*(?:°[CF]|%RH|%|[\p{L}µ]+(?:\/[\p{L}%³²]+)?[³²]?(?![\p{L}\d])))?/u)) return "number";
    if (stream.match(/^[\p{L}_][\p{L}\d_]*\.[\p{L}\d_.]+/u)) return "variableName";
    const word = stream.match(/^[\p{L}_][\p{L}\d_]*/u) as RegExpMatchArray | null;
    if (word) return keywords.has(word[0]) ? "keyword" : "name";
    stream.next();
    return null;
  },
  languageData: { commentTokens: { line: "#" }, closeBrackets: { brackets: ["(", "{", '"'] } },
});

const colors = HighlightStyle.define([
  { tag: tags.comment, color: "var(--quiet)", fontStyle: "italic" },
  { tag: tags.string, color: "var(--right)" },
  { tag: tags.number, color: "var(--wrong)" },
  { tag: tags.keyword, color: "var(--accent)" },
  { tag: tags.variableName, color: "var(--ink)", fontWeight: "600" },
]);

export const modrikLanguage = [language, syntaxHighlighting(colors)];
