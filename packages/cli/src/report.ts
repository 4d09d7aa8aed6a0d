// One page of a run: its figures, chart, notices and problems, and the rules that were in force.
import { chartOf, escapeHtml, toPage } from "@modrik/charts";
import {
  clockOf,
  formatHouse,
  type House,
  type Measures,
  type ProblemRecord,
  type Run,
  sayDate,
  sayValue,
  type Value,
  writeHouse,
} from "modrik";
import { type FigureTable, figureTables } from "./figures.js";
import { drawingCode } from "./picture.js";

export interface Reported {
  readonly title: string;
  readonly about: string;
  readonly run: Run;
  readonly measures: Measures;
  readonly notices: readonly { readonly at: number; readonly text: string }[];
  readonly problems: readonly ProblemRecord[];
  readonly zone?: string | undefined;
  /** Dials and modes that were set for it. */
  readonly set: Readonly<Record<string, Value>>;
  readonly dark: boolean;
}

export function reportPage({ title, about, run, measures, notices, problems, zone, set, dark }: Reported): string {
  const { house } = run.past;
  const clock = clockOf(house.clock);
  const chart = chartOf(run, { theme: dark ? "dark" : "light", title: "", zone });
  const { tables, lines } = figureTables(measures);
  const listed = (items: readonly { readonly at: number; readonly text: string }[], none: string) =>
    items.length === 0
      ? `<p>${none}</p>`
      : `<table>${items.map(({ at, text }) => `<tr><td>${sayDate(clock, at)}</td><td style="text-align:left">${escapeHtml(text)}</td></tr>`).join("")}</table>`;
  const above = `<header><h1>${escapeHtml(title)}</h1><p>${escapeHtml(about)}</p></header>
<main><h2>Figures</h2>${tables.map(asHtml).join("<br>")}${lines.map((line) => `<p>${escapeHtml(line)}</p>`).join("")}<h2>Chart</h2></main>`;
  const below = `<footer><h2>Notices</h2>${listed(notices, "None was sent.")}
<h2>Problems while running</h2>${listed(
    problems.map(({ at, code, text }) => ({ at, text: `${code}: ${text}` })),
    "There were none.",
  )}
<h2>Dials and modes</h2>${dials(house, set)}
<h2>Rules in force</h2><pre>${escapeHtml(rulesOf(house))}</pre></footer>`;
  return toPage(chart, drawingCode(), { title, above, below });
}

function asHtml({ head, rows }: FigureTable): string {
  const cells = (row: readonly string[], tag: string) =>
    `<tr>${row.map((cell) => `<${tag}>${escapeHtml(cell)}</${tag}>`).join("")}</tr>`;
  return `<div class="wide"><table>${cells(head, "th")}${rows.map((row) => cells(row, "td")).join("")}</table></div>`;
}

/** As the run began. */
function dials({ dials: all, modes }: House, set: Readonly<Record<string, Value>>): string {
  const rows = [...all, ...modes].map(({ name, title = "", type, atFirst }) => [
    name,
    title,
    sayValue(type, set[name] ?? atFirst),
  ]);
  return rows.length === 0 ? "<p>The house has none.</p>" : asHtml({ head: ["", "", "at first"], rows });
}

/** Rules and guards, as the formatter writes them. */
function rulesOf(house: House): string {
  const { text } = formatHouse(writeHouse(house));
  return (text.match(/^(rule|guard) [\s\S]*?^}/gm) ?? []).join("\n\n");
}
