// Tracefiles in the form of `lcov` (geninfo(1)): lines and branches of source files with how often they were reached.

/** What was reached in one file. */
export interface TracedFile {
  readonly file: string;
  /** How often each line was reached, by its number from 1. */
  readonly lines: ReadonlyMap<number, number>;
  /** Branches in the order of their lines; those of one line belong together. */
  readonly branches: readonly { readonly line: number; readonly taken: number }[];
}

/** A tracefile; lines and branches of each file in order. */
export function writeLcov(files: readonly TracedFile[]): string {
  return files
    .map(({ file, lines, branches }) => {
      const inOrder = [...lines].sort(([a], [b]) => a - b);
      const numbered = [...branches].sort((a, b) => a.line - b.line);
      const counts = new Map<number, number>();
      const told = numbered.map(({ line, taken }) => {
        const number = counts.get(line) ?? 0;
        counts.set(line, number + 1);
        return `BRDA:${line},0,${number},${taken}`;
      });
      return [
        "TN:modrik",
        `SF:${file}`,
        ...told,
        `BRF:${numbered.length}`,
        `BRH:${numbered.filter(({ taken }) => taken > 0).length}`,
        ...inOrder.map(([line, hits]) => `DA:${line},${hits}`),
        `LF:${inOrder.length}`,
        `LH:${inOrder.filter(([, hits]) => hits > 0).length}`,
        "end_of_record",
      ].join("\n");
    })
    .map((record) => `${record}\n`)
    .join("");
}
