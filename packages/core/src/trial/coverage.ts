// What the trials of a house never tried: sentences, branches, the effect of each condition, the sides of each bound.
//
// A condition's effect is covered in the sense of modified condition/decision coverage (RTCA DO-178C, with masking after
// Chilenski, DOT/FAA/AR-01/18): seen true and seen false, each time while turning it alone would have turned the whole.
import { compile, type Engine, Journal, type Program } from "../engine/index.js";
import {
  type BoundTest,
  type Condition,
  type Expression,
  type House,
  skyOf,
  type Trial,
  timelineOf,
  unitOfExpression,
} from "../house/index.js";
import type { SpokenOf } from "../language/index.js";
import { writeExpression, writeSentence } from "../language/index.js";
import { equalNumbers, fromBase, plainMove, stepOf, units, writeFigure } from "../units/index.js";
import {
  boundsIn,
  branchesIn,
  type Decision,
  decisionsIn,
  isDecidedBy,
  leadingConditions,
  truthOf,
  withAtom,
} from "./decisions.js";
import { Play } from "./play.js";
import { isFound, Search } from "./search.js";
import { Settled } from "./settled.js";
import { saysSituation } from "./situation.js";

/** One thing that a trial can try. */
export interface CoveragePoint {
  readonly kind: "sentence" | "branch" | "condition" | "bound";
  readonly about: SpokenOf;
  /** What should be seen, in the language's own words. */
  readonly says: string;
  /** In how many trials it was seen. */
  readonly seen: number;
  /** A line for a timeline that would try it; left out where none is known. */
  readonly suggestion?: string;
}

/** What the trials of a house tried, and what not. */
export interface Coverage {
  readonly points: readonly CoveragePoint[];
}

/** What one trial is to look at, and what it saw. */
interface Point extends Omit<CoveragePoint, "seen" | "suggestion"> {
  seen: number;
  readonly suggest: () => string | undefined;
}

/**
 * Runs all trials and tells what they try.
 * @param onProgress called with the share done, from 0 up to 1
 */
export function coverage(house: House, onProgress?: (share: number) => void): Coverage {
  const study = new Study(house);
  house.trials.forEach((trial, index) => {
    study.look(trial);
    onProgress?.((index + 1) / house.trials.length);
  });
  return { points: study.points() };
}

class Study {
  readonly #house: House;
  /** Which of the steps of a sentence are branches. */
  readonly #program: Program;
  readonly #search: Search;
  readonly #decisions: readonly Decision[];
  readonly #bounds: readonly BoundPoint[];
  readonly #watch: readonly Expression[];
  readonly #points: Point[] = [];
  readonly #sentences = new Map<string, Point>();
  readonly #branches = new Map<string, readonly Point[]>();
  readonly #effects = new Map<Decision, readonly (readonly [onTrue: Point, onFalse: Point])[]>();

  constructor(house: House) {
    this.#house = house;
    this.#program = compile(house);
    this.#search = new Search(new Settled(house));
    this.#decisions = decisionsIn(house);
    this.#bounds = this.#decisions.flatMap(({ about, condition }) =>
      boundsIn(condition)
        .filter((bound) => this.#isMeasured(bound))
        .map((bound) => this.#boundPoint(about, bound)),
    );
    for (const rule of house.rules) {
      rule.sentences.forEach((sentence, index) => {
        const about: SpokenOf = { kind: "sentence", rule: rule.name, sentence: index };
        const says = `${rule.name}: ${"do" in sentence ? "fires" : "applies"}: ${shortened(writeSentence(sentence))}`;
        const point = this.#point("sentence", about, says, () => this.#leadTo(leadingConditions(sentence)));
        this.#sentences.set(`${rule.name}/${index}`, point);
        if (!("do" in sentence)) return;
        const branches = branchesIn(sentence.do).map(({ says, condition, taken }) =>
          this.#point("branch", about, `${rule.name}: ${says}`, () =>
            this.#leadTo(taken ? [condition] : [], taken ? [] : [condition]),
          ),
        );
        this.#branches.set(`${rule.name}/${index}`, branches);
      });
    }
    for (const decision of this.#decisions) {
      this.#effects.set(
        decision,
        decision.atoms.map((atom) => [this.#effect(decision, atom, true), this.#effect(decision, atom, false)]),
      );
    }
    for (const bound of this.#bounds) this.#points.push(...Object.values(bound.points));
    this.#watch = [...this.#decisions.flatMap(({ atoms }) => atoms), ...this.#bounds.flatMap(({ left, right }) => [left, right])];
  }

  points(): CoveragePoint[] {
    const once = new Map<string, Point>();
    for (const point of this.#points) {
      const key = `${point.kind} ${JSON.stringify(point.about)} ${point.says}`;
      const known = once.get(key);
      if (known) known.seen = Math.max(known.seen, point.seen);
      else once.set(key, point);
    }
    return [...once.values()].map(({ suggest, ...point }) => {
      const suggestion = point.seen > 0 ? undefined : suggest();
      return { ...point, ...(suggestion !== undefined && { suggestion }) };
    });
  }

  #point(kind: Point["kind"], about: SpokenOf, says: string, suggest: Point["suggest"]): Point {
    const point = { kind, about, says, seen: 0, suggest };
    this.#points.push(point);
    return point;
  }

  /** A line for a timeline in which conditions hold, and others do not. */
  #leadTo(conditions: readonly Condition[], not: readonly Condition[] = []): string | undefined {
    const { settled } = this.#search;
    const goal = (wanted: boolean) => (condition: Condition) => ({ node: settled.node(condition), wanted });
    const found = this.#search.find([...conditions.map(goal(true)), ...not.map(goal(false))]);
    return isFound(found) ? saysSituation(settled, found) : undefined;
  }

  /** A bound on what sensors say; what a clock or a profile says passes by itself. */
  #isMeasured({ left }: BoundTest): boolean {
    const { settled } = this.#search;
    return settled.variables(settled.node(left)).some((node) => settled.op(node).op === "sensor");
  }

  #effect({ about, condition }: Decision, atom: Condition, truth: boolean): Point {
    const whose = condition === atom ? "" : ` decides \`${shortened(writeExpression(condition))}\``;
    const says = `\`${writeExpression(atom)}\` ${truth ? "true" : "false"}${whose}`;
    const turned = withAtom(condition, atom, { kind: "not", of: atom });
    return this.#point("condition", about, says, () => {
      const { settled } = this.#search;
      const goals = [
        { node: settled.node(atom), wanted: truth },
        { node: settled.node(condition), wanted: isDecidedBy(condition, atom, truth) },
        { node: settled.node(turned), wanted: !isDecidedBy(condition, atom, truth) },
      ];
      const found = this.#search.find(goals);
      return isFound(found) ? saysSituation(settled, found) : undefined;
    });
  }

  #boundPoint(about: SpokenOf, bound: BoundTest): BoundPoint {
    const { left, right } = bound;
    const { settled } = this.#search;
    const unit = unitOfExpression(settled.house, left) || unitOfExpression(settled.house, right);
    const step = stepOf(unit);
    const name = writeExpression(left);
    const isSensor = left.kind === "value" && this.#house.sensors.some((sensor) => sensor.name === left.of);
    const figure = settled.value(settled.node(right), { at: settled.beginning, values: this.#search.settings });
    const say = (base: number) => writeFigure(fromBase(base, unit), unit);
    const written = writeExpression(right);
    const number = figure === undefined || Number.isNaN(figure) ? undefined : say(figure);
    const target = number === undefined || number === written ? written : `${number} (${written})`;
    const told = (offset: number) =>
      figure === undefined || Number.isNaN(figure) || !isSensor
        ? undefined
        : `${name} is ${say(Math.round((figure + offset) / (units[unit].factor * 1e-6)) * units[unit].factor * 1e-6)}`;
    const point = (says: string, suggestion: string | undefined): Point => ({
      kind: "bound",
      about,
      says: `${name} ${says}`,
      seen: 0,
      suggest: () => suggestion,
    });
    return {
      left,
      right,
      // What counts as just next to a value.
      near: plainMove(figure ?? Number.NaN, unit),
      points: {
        below: point(`just below ${target}`, told(-step)),
        equal: point(`exactly at ${target}`, told(0)),
        above: point(`just above ${target}`, told(step)),
        unknown: point(`unknown (limit ${number ?? written})`, isSensor ? `${name} falls silent` : undefined),
      },
    };
  }

  look(trial: Trial): void {
    const timeline = timelineOf(trial, skyOf(this.#house));
    const journal = new Journal();
    const hit = new Set<Point>();
    let last: readonly number[] = [];
    const onInstant = (_: number, engine: Engine) => {
      const values = this.#watch.map((_expression, index) => engine.watched(index));
      if (values.every((value, index) => Object.is(value, last[index]))) return;
      last = values;
      this.#see(values, hit);
    };
    new Play(this.#house, trial, timeline, { watch: this.#watch, journal, onInstant }).run();
    this.#seeRun(journal, this.#program, hit);
    for (const point of hit) point.seen++;
  }

  /** What the values of one instant show. */
  #see(values: readonly number[], hit: Set<Point>): void {
    let next = 0;
    for (const decision of this.#decisions) {
      const own = values.slice(next, next + decision.atoms.length);
      next += own.length;
      this.#countEffects(decision, own, hit);
    }
    for (const { points, near } of this.#bounds) {
      const [left = Number.NaN, right = Number.NaN] = [values[next], values[next + 1]];
      next += 2;
      const distance = left - right;
      if (Number.isNaN(left)) hit.add(points.unknown);
      else if (equalNumbers(left, right)) hit.add(points.equal);
      else if (distance < 0 && distance >= -near) hit.add(points.below);
      else if (distance > 0 && distance <= near) hit.add(points.above);
    }
  }

  #countEffects(decision: Decision, own: readonly number[], hit: Set<Point>): void {
    const whole = truthOf(decision, own);
    this.#effects.get(decision)?.forEach(([onTrue, onFalse], index) => {
      const value = own[index] as number;
      if (Number.isNaN(value)) return;
      const turned = own.with(index, 1 - value);
      if ((whole === 1) !== (truthOf(decision, turned) === 1)) hit.add(value === 1 ? onTrue : onFalse);
    });
  }

  /** Sentences that applied or fired, branches that were gone. */
  #seeRun({ records }: Journal, program: Program, hit: Set<Point>): void {
    const steps = new Map<string, Map<number, number>>();
    for (const { event } of records) {
      if (event.kind === "trigger") this.#hit(hit, event.rule, event.sentence);
      else if (event.kind === "decided" && event.reason.rule !== undefined)
        this.#hit(hit, event.reason.rule, event.reason.sentence ?? 0);
      else if (event.kind === "step") {
        const key = `${event.rule}/${event.sentence}`;
        const counts = steps.get(key) ?? new Map<number, number>();
        counts.set(event.step, (counts.get(event.step) ?? 0) + 1);
        steps.set(key, counts);
      }
    }
    for (const { rule, sentence, steps: list } of program.events) {
      const key = `${rule}/${sentence}`;
      const counts = steps.get(key);
      const points = this.#branches.get(key) ?? [];
      if (!counts) continue;
      let next = 0;
      list.forEach((step, index) => {
        if (step.kind !== "branch") return;
        const entered = counts.get(index + 1) ?? 0;
        const looked = counts.get(index) ?? 0;
        const [taken, passed] = [points[next], points[next + 1]];
        next += 2;
        if (taken && entered > 0) hit.add(taken);
        if (passed && looked > entered) hit.add(passed);
      });
    }
  }

  #hit(hit: Set<Point>, rule: string, sentence: number): void {
    const point = this.#sentences.get(`${rule}/${sentence}`);
    if (point) hit.add(point);
  }
}

interface BoundPoint {
  readonly left: Expression;
  readonly right: Expression;
  readonly near: number;
  readonly points: Readonly<Record<"below" | "equal" | "above" | "unknown", Point>>;
}

function shortened(text: string): string {
  return text.length > 90 ? `${text.slice(0, 88)}…` : text;
}
