// Rules, guards and trials of a house as TypeScript that makes them.
import type {
  Drive,
  Expectation,
  Expression,
  Guard,
  Happening,
  Keep,
  Lasting,
  Named,
  Occasion,
  Occurrence,
  Rule,
  Sentence,
  Step,
  Target,
  Text,
  Trial,
  Trigger,
  Until,
} from "../house/index.js";
import { type Weekday, weekdayNames } from "../time/index.js";
import { isEmpty, list, record, type Source, text } from "./source.js";
import type { TermWriter } from "./write-terms.js";

/** How people call it, with what else is said. */
export function titles({ title, note }: Omit<Named, "name">): { title: Source | undefined; note: Source | undefined } {
  return { title: title === undefined ? undefined : text(title), note: note === undefined ? undefined : text(note) };
}

/** The last part of a call, where anything is said in it. */
export function options(entries: Readonly<Record<string, Source | undefined>>): Source[] {
  const said = record(entries);
  return isEmpty(said) ? [] : [said];
}

/** Days by their names; nothing for every day. */
export function daysOf(days: readonly Weekday[]): Source | undefined {
  return days.length === 7 ? undefined : list(days.map((day) => text(weekdayNames[day] as string)));
}

const same = (a: Expression, b: Expression) => JSON.stringify(a) === JSON.stringify(b);

export class RuleWriter {
  constructor(readonly terms: TermWriter) {}

  #call = (name: string, ...items: readonly Source[]) => this.terms.call(name, ...items);
  #of = (name: string) => this.terms.names.of(name);
  #maybe = (of: Expression | undefined) => of && this.terms.amount(of);

  rule({ name, standing, sentences, ...titled }: Rule): Source {
    const as = standing === "plain" ? undefined : text(standing);
    return this.#call(
      "rule",
      text(name),
      list(sentences.map((one) => this.#sentence(one))),
      ...options({ ...titles(titled), as }),
    );
  }

  #sentence(of: Sentence): Source {
    if ("do" in of) {
      const { when, provided, do: steps, ifTriggeredAgain } = of;
      return record({
        when: list(when.map((one) => this.trigger(one))),
        provided: provided && this.terms.term(provided),
        do: this.#steps(steps),
        ifTriggeredAgain: ifTriggeredAgain === "start over" ? undefined : text(ifTriggeredAgain),
      });
    }
    const head = { while: of.while && this.terms.term(of.while) };
    if ("hold" in of) return record({ ...head, hold: list(of.hold.map((one) => this.#target("held", one))) });
    if ("keep" in of) return record({ ...head, keep: this.#keep(of.keep) });
    const { outputs, on, off } = of.cycle;
    return record({
      ...head,
      cycle: record({ output: this.#outputs(outputs), on: this.terms.amount(on), off: this.terms.amount(off) }),
    });
  }

  #target(by: "held" | "at", { output, value }: Target): Source {
    return this.#call(by, this.#of(output), this.terms.operand(value));
  }

  #outputs(names: readonly string[]): Source {
    const [only, ...more] = names.map(this.#of);
    return only !== undefined && more.length === 0 ? only : list(names.map(this.#of));
  }

  #keep({ value, at, tolerance, raiseWith, lowerWith }: Keep): Source {
    const around = tolerance && same(tolerance.below, tolerance.above) ? this.terms.amount(tolerance.below) : undefined;
    return record({
      value: this.terms.term(value),
      at: "low" in at ? record({ low: this.terms.amount(at.low), high: this.terms.amount(at.high) }) : this.terms.amount(at),
      tolerance:
        around ?? (tolerance && record({ below: this.terms.amount(tolerance.below), above: this.terms.amount(tolerance.above) })),
      raiseWith: raiseWith && this.#drive(raiseWith),
      lowerWith: lowerWith && this.#drive(lowerWith),
    });
  }

  #drive({ outputs, proportion }: Drive): Source {
    const all = this.#outputs(outputs);
    return proportion
      ? record({ with: all, over: this.terms.amount(proportion.over), cycle: this.#maybe(proportion.cycle) })
      : all;
  }

  trigger(of: Trigger): Source {
    if (of.kind === "at") return this.#call("atTime", this.terms.dayTime(of.at), ...[daysOf(of.days) ?? []].flat());
    if (of.kind === "every") return this.#call("every", this.terms.amount(of.every), ...[daysOf(of.days) ?? []].flat());
    if (of.kind === "the house starts") return this.#call("houseStarts");
    return of.kind === "becomes true" ? this.terms.term(of.condition) : this.#occasion(of);
  }

  #occasion(of: Occasion): Source {
    switch (of.kind) {
      case "becomes true": {
        const { condition } = of;
        if (condition.kind !== "is") throw new RangeError(`nothing becomes ${condition.kind}`);
        return this.#call("becomes", this.terms.term(condition.left), this.terms.operand(condition.right));
      }
      case "begins":
      case "ends":
        return this.#call(of.kind, this.#of(of.schedule));
      case "runs out":
        return this.#call("ends", this.#of(of.countdown));
      case "changes":
        return this.#call("changes", this.#of(of.of), ...[this.#maybe(of.by) ?? []].flat());
      default:
        throw new RangeError(`no such occasion: ${JSON.stringify(of satisfies never)}`);
    }
  }

  // ── Steps ─────────────────────────────────────────────────────────────────────────────────────────────────────────────

  #steps(steps: readonly Step[]): Source {
    return list(steps.map((one) => this.#step(one)));
  }

  #until(until: Until): Source {
    if (until.kind === "state") return this.terms.term(until.condition);
    return until.kind === "at" ? this.#call("atTime", this.terms.dayTime(until.at)) : this.#occasion(until);
  }

  #lasting({ for: time, until, atMost }: Lasting): Source[] {
    return options({ for: this.#maybe(time), until: until && this.#until(until), atMost: this.#maybe(atMost) });
  }

  #text(of: Text): Source {
    const [only = ""] = of;
    if (of.length < 2 && typeof only === "string") return text(only);
    return list(of.map((part) => (typeof part === "string" ? text(part) : this.terms.term(part))));
  }

  #step(of: Step): Source {
    switch (of.kind) {
      case "set":
        return this.#call("set", this.#of(of.name), this.terms.operand(of.to), ...this.#lasting(of));
      case "toggle":
        return this.#call("toggle", this.#of(of.name));
      case "raise":
      case "lower":
        return this.#call(of.kind, this.#of(of.name), this.terms.amount(of.by));
      case "ramp": {
        const [from, to, over] = [of.from, of.to, of.over].map((one) => this.terms.amount(one));
        return this.#call("ramp", this.#outputs(of.outputs), record({ from, to, over }));
      }
      case "dose":
        return this.#call(
          "dose",
          this.#of(of.output),
          this.terms.amount(of.amount),
          ...(of.otherwise ? [this.#steps(of.otherwise)] : []),
        );
      case "release":
        return this.#call("release", this.#of(of.output));
      case "apply":
        return this.#call("apply", this.#of(of.preset), ...this.#lasting(of));
      case "start":
        return this.#call("start", this.#of(of.countdown), ...[this.#maybe(of.with) ?? []].flat());
      case "stop":
        return this.#call("stop", this.#of(of.countdown));
      case "wait":
        return this.#call("wait", this.terms.amount(of.for));
      case "wait until":
        return this.#call("waitUntil", this.#until(of.until), ...options({ atMost: this.#maybe(of.atMost) }));
      case "if": {
        const [first, ...more] = of.branches;
        if (!first) return "";
        const others = more.map((one) => list([this.terms.term(one.if), this.#steps(one.do)]));
        const rest = of.else.length > 0 || others.length > 0 ? [this.#steps(of.else)] : [];
        return this.#call(
          "branch",
          this.terms.term(first.if),
          this.#steps(first.do),
          ...rest,
          ...(others.length > 0 ? [list(others)] : []),
        );
      }
      case "tell": {
        const through = of.through === undefined ? undefined : text(of.through);
        return this.#call("tell", this.#text(of.text), ...options({ through, onceIn: this.#maybe(of.onceIn) }));
      }
      case "send":
        return this.#call("send", this.#text(of.text), this.#text(of.to));
      case "end here":
        return this.#call("endHere");
      default:
        throw new RangeError(`no such step: ${JSON.stringify(of satisfies never)}`);
    }
  }

  preset({ name, targets, ...titled }: Named & { readonly targets: readonly Target[] }): Source {
    return this.#call("preset", text(name), list(targets.map((one) => this.#target("at", one))), ...options(titles(titled)));
  }

  guard({ name, permits, neverTogether = [], ...titled }: Guard): Source {
    const permitted = permits.map(({ output, what, onlyWhile }) => {
      const condition = this.terms.term(onlyWhile);
      if ("word" in what) return this.#call("permit", this.#of(output), text(what.word), condition);
      const bound = "above" in what ? { above: this.terms.amount(what.above) } : { below: this.terms.amount(what.below) };
      return this.#call("permitBeyond", this.#of(output), record(bound), condition);
    });
    const apart = neverTogether.map((one) =>
      this.#call("neverTogether", list(one.outputs.map(this.#of)), ...options({ apart: this.#maybe(one.apart) })),
    );
    return this.#call("guard", text(name), list([...permitted, ...apart]), ...options(titles(titled)));
  }

  // ── Trials ────────────────────────────────────────────────────────────────────────────────────────────────────────────

  trial({ name, title, note, ...trial }: Trial): Source {
    const { from, lasts, to, replay, cold, simulated, given, happenings, expectations } = trial;
    const settings = given.map((one) => this.#call("given", this.#of(one.name), this.terms.operand(one.value)));
    const weather = simulated?.weather;
    return this.#call(
      "trial",
      text(name),
      record({
        ...titles({ ...(title !== undefined && { title }), ...(note !== undefined && { note }) }),
        from: this.terms.operand(from),
        lasts: this.#maybe(lasts),
        to: to && this.terms.operand(to),
        replay: replay === undefined ? undefined : text(replay),
        cold: cold && "true",
        simulated: simulated && (weather === undefined ? "true" : text(weather)),
        given: given.length > 0 ? list(settings) : undefined,
        happenings: happenings.length > 0 ? list(happenings.map((one) => this.#happening(one))) : undefined,
        expectations: list(expectations.map((one) => this.#expectation(one))),
      }),
    );
  }

  #happening({ when, what }: Happening): Source {
    const time =
      "later" in when
        ? { later: this.terms.quantity(when.later, "ms") }
        : when.to
          ? { from: this.terms.operand(when.at), to: this.terms.operand(when.to) }
          : { at: this.terms.operand(when.at) };
    return record({ ...time, what: this.#occurrence(what) });
  }

  #occurrence(of: Occurrence): Source {
    const kind = text(of.kind);
    switch (of.kind) {
      case "is":
      case "moves to":
        return this.#call("happens", kind, this.#of(of.name), this.terms.operand(of.value));
      case "jumps to":
        return this.#call("happens", kind, this.#of(of.name), this.terms.operand(of.value), record({ for: this.#maybe(of.for) }));
      case "person sets": {
        const how = options({ for: this.#maybe(of.for), until: of.until && this.terms.operand(of.until) });
        return this.#call("happens", kind, this.#of(of.name), this.terms.operand(of.value), ...how);
      }
      case "reports every":
      case "wobbles by":
      case "arrives late":
      case "obeys late":
        return this.#call("happens", kind, this.#of(of.name), this.terms.amount(of.by));
      case "person pauses":
        return this.#call("happens", kind, text(of.name), ...options({ for: this.#maybe(of.for) }));
      case "person resumes":
      case "person runs":
        return this.#call("happens", kind, text(of.name));
      case "message":
        return this.#call("happens", kind, text(of.topic), text(of.reads));
      case "the house restarts":
        return this.#call("happens", kind);
      case "the house is down":
        return this.#call("happens", kind, record({ for: this.#maybe(of.for) }));
      case "the clock jumps":
        return this.#call("happens", kind, this.terms.amount(of.by));
      default:
        return this.#call("happens", kind, this.#of(of.name));
    }
  }

  #expectation({ claim, condition, then, within, by, at, from, to }: Expectation): Source {
    const time = (of: Expression | undefined) => of && this.terms.operand(of);
    const when = options({ within: this.#maybe(within), by: time(by), at: time(at), from: time(from), to: time(to) });
    const parts = [this.terms.term(condition), ...(then ? [this.terms.term(then)] : []), ...when];
    return this.#call(claim === "holds" ? "expects" : claim, ...parts);
  }
}
