// Writes down what happens in a house and because of what; does nothing where no journal is kept.
import type { Journal, JournalEvent, Reason, RunningProblem } from "./journal.js";
import { type Cell, type OutputProgram, ownOf, type Program } from "./program.js";

/** What causes are left out of: nothing came before. */
const nothing: readonly number[] = [];

export class Recorder {
  /** What all that happens now came of; where empty, a record comes of what it rests on. */
  cause: readonly number[] = nothing;
  /** The last record of each node and output, the causes of what comes of them. */
  readonly #lastOfNode: number[] = [];
  readonly #lastOfOutput = new Map<string, number>();

  constructor(
    readonly journal: Journal | undefined,
    readonly program: Program,
    readonly now: () => number,
    /** Told of each problem, as it may be asked for. */
    readonly onProblem: (code: RunningProblem) => void,
  ) {}

  /** The id of the record, -1 without a journal. */
  note(event: JournalEvent, causes: readonly number[]): number {
    return this.journal ? this.journal.add(this.now(), event, causes) : -1;
  }

  problem(code: RunningProblem, text: string): void {
    this.note({ kind: "problem", code, text }, nothing);
    this.onProblem(code);
  }

  /** A thing was reported or set: what its node becomes comes of that. */
  put({ name, node, type }: Cell, value: number): void {
    if (!this.journal) return;
    this.#lastOfNode[node] = this.note({ kind: "value", thing: name, value: ownOf(value, type) }, this.cause);
  }

  changed(node: number, value: number): void {
    if (!this.journal) return;
    const { op, args } = this.program.graph.nodes[node] as Program["graph"]["nodes"][number];
    const causes = this.#causesOr(() => (op === "sensor" || op === "cell" ? [node] : args));
    this.#lastOfNode[node] = this.note({ kind: "node", node, value }, causes);
  }

  decided({ name, type, claims, permits }: OutputProgram, value: number, reason: Reason): void {
    if (!this.journal) return;
    const causes = this.#causesOr(() => [
      ...claims.flatMap(({ held }) => (held ? [held.when, held.value] : [])),
      ...permits.map(({ onlyWhile }) => onlyWhile),
    ]);
    this.#lastOfOutput.set(name, this.note({ kind: "decided", output: name, value: ownOf(value, type), reason }, causes));
  }

  sent({ name, type }: OutputProgram, value: number): void {
    if (!this.journal) return;
    this.note({ kind: "sent", output: name, value: ownOf(value, type) }, known([this.#lastOfOutput.get(name)]));
  }

  #causesOr(nodes: () => readonly number[]): readonly number[] {
    return this.cause.length > 0 ? this.cause : known(nodes().map((node) => this.#lastOfNode[node]));
  }

  recordOf(node: number): number {
    return this.#lastOfNode[node] ?? -1;
  }

  /** The journal begins with what is known, as of the start; one that is gone on with knows it already. */
  begin(values: Float64Array, goesOn: boolean): void {
    if (!this.journal) return;
    if (goesOn) {
      for (const { id, event } of this.journal.records) if (event.kind === "node") this.#lastOfNode[event.node] = id;
      return;
    }
    for (const [node, value] of values.entries())
      if (!Number.isNaN(value)) this.#lastOfNode[node] = this.note({ kind: "node", node, value }, nothing);
  }
}

function known(records: readonly (number | undefined)[]): number[] {
  return records.filter((record) => record !== undefined && record >= 0) as number[];
}
