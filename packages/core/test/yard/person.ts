// Somebody at Linden Yard: comes, goes, moves, leaves doors open, airs and varnishes. Times in seconds.

const NEVER = Number.POSITIVE_INFINITY;

export interface Habit {
  readonly room: number;
  readonly every?: number;
  readonly props?: number;
  readonly opensAbove?: number;
  readonly coat?: number;
  readonly breathes?: number;
}

export class Person {
  present = false;
  moving = false;
  tooWarm = false;
  #passing = false;
  wet = 0;
  next = NEVER;
  #shuts = NEVER;
  #passes = NEVER;
  #stirs = NEVER;
  #props = NEVER;
  #lets = NEVER;
  #feels = NEVER;
  #coats = NEVER;

  constructor(
    readonly habit: Habit,
    readonly random: () => number,
  ) {}

  get doorOpen(): boolean {
    return this.#passing || this.#lets < NEVER;
  }

  /** Their hours begin or end. */
  turn(open: boolean, now: number): void {
    if (open !== this.present) this.#pass(now);
    if (!open) this.#passes = NEVER;
    if (open && this.habit.coat) this.#coats = now + this.#about(1200);
    this.#plan();
  }

  act(now: number, inside: number, outside: number): void {
    if (this.#shuts <= now) {
      this.#passing = false;
      this.#shuts = NEVER;
    }
    if (this.#passes <= now) this.#pass(now);
    if (this.#stirs <= now) {
      this.moving = !this.moving;
      this.#stirs = now + this.#about(this.moving ? 60 : 180);
    }
    if (this.#lets <= now) this.#lets = NEVER;
    if (this.#props <= now) {
      if (this.present) this.#lets = now + this.#about(900);
      this.#props = this.present ? now + this.#about(this.habit.props as number) : NEVER;
    }
    if (this.#feels <= now) {
      const bound = (this.habit.opensAbove as number) - (this.tooWarm ? 2 : 0);
      this.tooWarm = inside > bound && outside < inside;
      this.#feels = now + 300;
    }
    if (this.#coats <= now) {
      this.#coats = NEVER;
      this.wet += this.habit.coat as number;
    }
    this.#plan();
  }

  #pass(now: number): void {
    const { every, props, opensAbove } = this.habit;
    this.present = !this.present;
    this.#passing = true;
    this.#shuts = now + this.#about(20);
    this.#passes = every === undefined ? NEVER : now + this.#about(every * (this.present ? 0.8 : 0.2));
    this.moving = this.present;
    this.#stirs = this.present ? now + this.#about(120) : NEVER;
    if (this.present && props !== undefined && this.#props === NEVER) this.#props = now + this.#about(props);
    this.#feels = this.present && opensAbove !== undefined ? now : NEVER;
    if (!this.present) this.tooWarm = false;
  }

  #plan(): void {
    const soon = Math.min(this.#shuts, this.#passes, this.#stirs, this.#props);
    this.next = Math.min(soon, this.#lets, this.#feels, this.#coats);
  }

  #about(seconds: number): number {
    return Math.max(1, Math.round(seconds * (0.5 + this.random())));
  }
}
