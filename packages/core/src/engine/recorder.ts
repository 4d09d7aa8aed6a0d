// Tells a recording what happens in a house and because of what; does nothing where there is none.
import { ownOf } from "../house/index.js";
import type { AskingSentence, JournalEvent, Reason, Recording, RunningProblem } from "./journal.js";
import type { Cell, OutputProgram, Program } from "./program.js";

/** What causes are left out of: nothing came before. */
const nothing: readonly number[] = [];

export class Recorder {
  /** What all that happens now came of; where empty, a record comes of what it rests on. */
  cause: readonly number[] = nothing;
  /** The last record of each node, -1 without one, and of each output: the causes of what comes of them. */
  readonly #lastOfNode: Float64Array;
  readonly #lastOfOutput = new Map<string, number>();
  /** The recording's number for the key of each node. */
  readonly #keys: readonly number[];
  /** Whether each sensor has said something, and what last, so that what it says again is only heard. */
  readonly #hasSaid: Uint8Array;
  readonly #said: Float64Array;

  constructor(
    readonly recording: Recording | undefined,
    readonly program: Program,
    readonly now: () => number,
    /** Told of each problem, as it may be asked for. */
    readonly onProblem: (code: RunningProblem, text: string) => void,
  ) {
    const { length } = recording ? program.graph.nodes : [];
    this.#lastOfNode = new Float64Array(length).fill(-1);
    this.#hasSaid = new Uint8Array(length);
    this.#said = new Float64Array(length);
    this.#keys = recording ? program.graph.nodes.map(({ key }) => recording.keyOf(key)) : [];
  }

  /** The id of the record, -1 without a journal. */
  note(event: JournalEvent, causes: readonly number[]): number {
    return this.recording ? this.recording.write(this.now(), event, causes) : -1;
  }

  problem(code: RunningProblem, text: string): void {
    this.note({ kind: "problem", code, text }, nothing);
    this.onProblem(code, text);
  }

  /** A thing was reported or set: what its node becomes comes of that. A sensor that says the same again is only heard. */
  put({ name, node, type, kind }: Cell, value: number): void {
    if (!this.recording) return;
    const before = this.#said[node] as number;
    if (kind === "sensor" && this.#hasSaid[node] === 1 && (before === value || Object.is(before, value))) {
      this.recording.heard(this.#keys[node] as number, this.now());
      return;
    }
    this.#hasSaid[node] = 1;
    this.#said[node] = value;
    this.#lastOfNode[node] = this.note({ kind: "value", thing: name, value: ownOf(value, type) }, this.cause);
  }

  /** A sensor said the same again. */
  heard(node: number, at: number): void {
    this.recording?.heard(this.#keys[node] as number, at);
  }

  changed(node: number, value: number): void {
    if (!this.recording) return;
    const { op, args } = this.program.graph.nodes[node] as Program["graph"]["nodes"][number];
    // What was unknown may say the same again, and that is news.
    if (op === "sensor" && Number.isNaN(value)) this.#hasSaid[node] = 0;
    const isGiven = op === "sensor" || op === "cell";
    this.#write(node, value, this.cause.length > 0 ? this.cause : this.#recordsOf(isGiven ? [node] : args));
  }

  #write(node: number, value: number, causes: readonly number[]): void {
    this.#lastOfNode[node] = this.note({ kind: "node", key: this.#keys[node] as number, value }, causes);
  }

  decided({ name, type, claims, permits }: OutputProgram, value: number, reason: Reason): void {
    if (!this.recording) return;
    const rests = () => [
      ...claims.flatMap(({ held }) => (held ? [held.when, held.value] : [])),
      ...permits.map(({ onlyWhile }) => onlyWhile),
    ];
    const causes = this.cause.length > 0 ? this.cause : this.#recordsOf(rests());
    this.#lastOfOutput.set(name, this.note({ kind: "decided", output: name, value: ownOf(value, type), reason }, causes));
  }

  sent({ name, type }: OutputProgram, value: number): void {
    if (!this.recording) return;
    const decided = this.#lastOfOutput.get(name) ?? -1;
    this.note({ kind: "sent", output: name, value: ownOf(value, type) }, decided < 0 ? nothing : [decided]);
  }

  /** The last records of some nodes, as far as there are any. In a loop, as it is asked for at every change. */
  #recordsOf(nodes: readonly number[]): number[] {
    const records: number[] = [];
    for (const node of nodes) {
      const record = this.recordOf(node);
      if (record >= 0) records.push(record);
    }
    return records;
  }

  recordOf(node: number): number {
    return this.#lastOfNode[node] ?? -1;
  }

  /** The journal begins with what is known, as of the start; one that is gone on with knows it already. */
  begin(values: Float64Array, goesOn: boolean): void {
    if (!this.recording) return;
    this.recording.begin(this.program.house, this.#asking());
    if (goesOn) {
      const last = this.recording.lastOfKeys();
      this.#keys.forEach((key, node) => {
        const id = last.get(key);
        if (id !== undefined) this.#lastOfNode[node] = id;
        // Of what an edited house has besides, nothing was written down so far.
        else if (!Number.isNaN(values[node])) this.#write(node, values[node] as number, nothing);
      });
      return;
    }
    for (const [node, value] of values.entries()) if (!Number.isNaN(value)) this.#write(node, value, nothing);
  }

  #asking(): AskingSentence[] {
    const { claims, outputs } = this.program;
    return claims.flatMap(({ reason: { rule, sentence }, output, held }): AskingSentence[] => {
      if (!held) return [];
      const when = held.when < 0 ? undefined : this.#keys[held.when];
      return [{ rule, sentence, output: outputs[output]?.name ?? "", when }];
    });
  }
}
