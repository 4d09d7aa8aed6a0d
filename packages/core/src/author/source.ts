// TypeScript as it is laid out: on one line where it fits, else an item a line.

/** A piece of source: as it is, or items between brackets, some after a word and a colon. */
export type Source = string | Bracketed | { readonly key: string; readonly of: Source };
interface Bracketed {
  readonly open: string;
  readonly items: readonly Source[];
  readonly close: string;
  /** Spaces within the brackets on one line. */
  readonly wide?: true;
}

const WIDTH = 120;

export const call = (name: string, ...items: readonly Source[]): Source => ({ open: `${name}(`, items, close: ")" });
export const list = (items: readonly Source[]): Source => ({ open: "[", items, close: "]" });

/** An object of what is said: entries that are undefined are left out. */
export function record(entries: Readonly<Record<string, Source | undefined>>): Source {
  const items = Object.entries(entries).flatMap(([name, of]) =>
    of === undefined ? [] : [of === name ? name : { key: keyOf(name), of }],
  );
  return { open: "{", items, close: "}", wide: true };
}

/** Whether nothing is said in it. */
export const isEmpty = (source: Source): boolean => typeof source === "object" && "items" in source && source.items.length === 0;

export const text = (of: string): Source => JSON.stringify(of);

const keyOf = (name: string) => (/^[\p{ID_Start}_$][\p{ID_Continue}$]*$/u.test(name) ? name : JSON.stringify(name));
/** `bench.lamp`, or with brackets where a name is none in TypeScript. */
export const member = (of: string, name: string) => (keyOf(name) === name ? `${of}.${name}` : `${of}[${keyOf(name)}]`);

/** @param before how much stands before it, and after it, on its line */
export function layOut(source: Source, indent = 0, before = 0): string {
  const flat = inOne(source);
  if (2 * indent + before + flat.length <= WIDTH || typeof source === "string") return flat;
  if ("key" in source) return `${source.key}: ${layOut(source.of, indent, before + source.key.length + 2)}`;
  const { open, items, close } = source;
  // What a call ends with stands against its brackets, where nothing but words stands before it.
  const last = items.at(-1);
  const words = items.slice(0, -1);
  if (open.endsWith("(") && isHuggable(last) && words.every((one) => typeof one === "string")) {
    const head = [open, ...words.map((one) => `${one}, `)].join("");
    return `${head}${layOut(last, indent, before + head.length + close.length)}${close}`;
  }
  const margin = "  ".repeat(indent + 1);
  const lines = items.map((item) => `${margin}${layOut(item, indent + 1, 1)},\n`);
  return `${open}\n${lines.join("")}${"  ".repeat(indent)}${close}`;
}

const isHuggable = (last: Source | undefined): last is Bracketed =>
  typeof last === "object" && "items" in last && !last.open.endsWith("(");

function inOne(source: Source): string {
  if (typeof source === "string") return source;
  if ("key" in source) return `${source.key}: ${inOne(source.of)}`;
  const { open, items, close, wide } = source;
  const space = wide && items.length > 0 ? " " : "";
  return `${open}${space}${items.map(inOne).join(", ")}${space}${close}`;
}
