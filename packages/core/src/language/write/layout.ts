// Lines of a canonical text with the comments of the text they were made from. Each line knows where its content began,
// so that a comment finds the line it stood before or after.
import type { Comment } from "../token.js";

export interface Line {
  readonly indent: number;
  readonly text: string;
  /** Where what it says began in the source. */
  readonly at: number;
}

/** Columns a line should not pass. */
export const WIDTH = 100;

interface Part {
  readonly text: string;
  readonly at: number;
}

const inOne = (head: string, parts: readonly Part[]) => [head, ...parts.map(({ text }) => text)].join(" ");

/** One line where it fits, else the first part and the others below it, one step in. */
export function flow(indent: number, head: string, parts: readonly Part[], at: number): Line[] {
  const whole = inOne(head, parts);
  if (parts.length < 2 || 2 * indent + whole.length <= WIDTH) return [{ indent, text: whole, at }];
  const [first, ...rest] = parts;
  return [
    { indent, text: `${head} ${first?.text ?? ""}`, at },
    ...rest.map((part) => ({ indent: indent + 1, text: part.text, at: part.at })),
  ];
}

/** Many short parts: as many on a line as fit, after the head where all do, else below it, one step in. */
export function fill(indent: number, head: string, parts: readonly Part[], at: number): Line[] {
  const whole = inOne(head, parts);
  if (2 * indent + whole.length <= WIDTH) return [{ indent, text: whole, at }];
  const lines: Line[] = [{ indent, text: head, at }];
  for (const part of parts) {
    const last = lines.at(-1) as Line;
    const longer = `${last.text} ${part.text}`;
    if (lines.length > 1 && 2 * last.indent + longer.length <= WIDTH) lines[lines.length - 1] = { ...last, text: longer };
    else lines.push({ indent: indent + 1, text: part.text, at: part.at });
  }
  return lines;
}

/** The text of lines and comments; a blank line of the source stays one blank line. */
export function layOut(lines: readonly Line[], comments: readonly Comment[], source: string): string {
  const behind = new Map<Line, Comment>();
  const before = new Map<Line | undefined, Comment[]>();
  for (const comment of comments) {
    const own = comment.leads ? undefined : lines.findLast(({ at }) => at <= comment.from);
    if (own && !behind.has(own)) behind.set(own, comment);
    else {
      const next = lines.find(({ at }) => at > comment.from);
      before.set(next, [...(before.get(next) ?? []), comment]);
    }
  }
  const out: string[] = [];
  const put = (indent: number, text: string, at: number) => {
    const opens = out.length === 0 || out.at(-1)?.endsWith("{");
    if (!opens && !text.startsWith("}") && blankBefore(source, at)) out.push("");
    out.push(`${"  ".repeat(indent)}${text}`);
  };
  for (const line of [...lines, undefined]) {
    const closes = line?.text.startsWith("}");
    for (const comment of before.get(line) ?? []) put((line?.indent ?? 0) + (closes ? 1 : 0), comment.text, comment.from);
    if (!line) break;
    const comment = behind.get(line);
    put(line.indent, comment ? `${line.text}  ${comment.text}` : line.text, line.at);
  }
  return out.length === 0 ? "" : `${out.join("\n")}\n`;
}

/** Whether an empty line stands right before a place. */
function blankBefore(source: string, at: number): boolean {
  const gap = /[\s\u00a0]*$/.exec(source.slice(Math.max(0, source.lastIndexOf("\n", at - 1) - 400), at))?.[0] ?? "";
  return (gap.match(/\n/g)?.length ?? 0) > 1;
}
