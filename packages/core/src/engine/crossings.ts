// Bands whose targets cross: such a `keep` asks for nothing, which is told once; and nobody may set a dial so.
import type { Evaluator } from "../expression/index.js";
import { ownOf, sayValue } from "../house/index.js";
import type { BandProgram } from "./program.js";
import type { Recorder } from "./recorder.js";

export class Crossings {
  readonly #bands: readonly BandProgram[];
  readonly #evaluator: Evaluator;
  readonly #recorder: Recorder;
  /** Those of which it has been told, until they are in order again. */
  readonly #told = new Set<BandProgram>();

  constructor(bands: readonly BandProgram[], evaluator: Evaluator, recorder: Recorder) {
    this.#bands = bands;
    this.#evaluator = evaluator;
    this.#recorder = recorder;
  }

  /** As the house begins; what crossed before it went down has been told. */
  begin(hasBeen: boolean): void {
    for (const band of this.#bands) {
      if (hasBeen && this.#evaluator.current(band.crosses) === 1) this.#told.add(band);
      this.look(band);
    }
  }

  look(band: BandProgram): void {
    const crosses = this.#evaluator.current(band.crosses);
    if (crosses === 0) this.#told.delete(band);
    if (crosses !== 1 || this.#told.has(band)) return;
    this.#told.add(band);
    this.#recorder.problem("crossing-targets", `rule ${band.rule} asks for nothing: it would ${this.#figures(band, new Map())}`);
  }

  /** Why dials may not be set so, by their nodes and in base units: targets would cross that do not yet. */
  refusal(settings: ReadonlyMap<number, number>): string | undefined {
    const broken = this.#bands.find(
      ({ crosses }) => this.#evaluator.current(crosses) !== 1 && this.#evaluator.supposing(crosses, settings) === 1,
    );
    return broken && `rule ${broken.rule} would ${this.#figures(broken, settings)}`;
  }

  #figures({ low, high, below, above, unit }: BandProgram, settings: ReadonlyMap<number, number>): string {
    const value = (node: number) => this.#evaluator.supposing(node, settings);
    const say = (base: number) => {
      const type = { kind: "number", unit } as const;
      return sayValue(type, ownOf(base, type));
    };
    const [raises, lowers] = [value(low) - value(below), value(high) + value(above)];
    return `raise from ${say(raises)} to ${say(value(low))} and lower from ${say(lowers)} to ${say(value(high))}`;
  }
}
