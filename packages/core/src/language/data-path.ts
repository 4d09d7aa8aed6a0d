// Where in the data of a house something stands that stands at a place of its text: for those who wrote it as data.
import { parseFile } from "./parser/file.js";
import { Faults } from "./problem.js";
import type { Declaration, HouseEntry, ZoneEntry } from "./syntax.js";
import type { Span } from "./token.js";

const FILE = "house.modrik";

/** @returns of a place in the text of one house: `rules.light[0]`, `zones.bench.lamp`, `trials.cold.expectations[1]` */
export function dataPaths(text: string): (at: number) => string {
  const { declarations } = parseFile(FILE, text, new Faults({ [FILE]: text }));
  return (at) => {
    const around = declarations.find((node) => isIn(node, at));
    return around ? pathIn(around, at) : "house";
  };
}

const isIn = ({ span }: { readonly span: Span }, at: number) => span.from <= at && at <= span.to;

const lists = {
  zone: "zones",
  sensor: "zones",
  output: "zones",
  dial: "dials",
  mode: "modes",
  group: "groups",
  let: "lets",
  countdown: "countdowns",
  preset: "presets",
  schedule: "schedules",
  profile: "profiles",
  rule: "rules",
  guard: "guards",
  trial: "trials",
  weather: "weathers",
  wire: "wirings",
} as const satisfies { readonly [Kind in Declaration["kind"]]?: string };

const heads: Readonly<Record<HouseEntry["kind"], string>> = {
  place: "place",
  clock: "clock",
  note: "note",
  "hand lasts": "handLasts",
  "readings last": "readingsLast",
};

function pathIn(node: Declaration, at: number): string {
  switch (node.kind) {
    case "house": {
      const entry = node.entries.find((one) => isIn(one, at));
      return entry ? heads[entry.kind] : "name";
    }
    case "zone": {
      const entry = node.entries.find((one) => isIn(one, at));
      return entry ? ofZone(node.name.text, entry) : `zones.${node.name.text}`;
    }
    case "rule":
      return `rules.${node.name.text}${placeIn(node.sentences, at)}`;
    case "trial": {
      const happening = placeIn(node.happenings, at);
      const expectation = placeIn(node.expectations, at);
      const part = happening ? `.happenings${happening}` : expectation && `.expectations${expectation}`;
      return `trials.${node.name.text}${part}`;
    }
    case "physics":
    case "people":
    case "repeat":
      return node.kind;
    default:
      return `${lists[node.kind]}.${node.name.text}`;
  }
}

/** A dial of a zone is one of its things; what is calculated there stands with its whole name in the list of its kind. */
function ofZone(zone: string, entry: ZoneEntry): string {
  const list = entry.kind === "dial" ? "zones" : lists[entry.kind];
  return `${list}.${zone}.${entry.name.text}`;
}

function placeIn(nodes: readonly { readonly span: Span }[], at: number): string {
  const place = nodes.findIndex((node) => isIn(node, at));
  return place < 0 ? "" : `[${place}]`;
}
