// Linden Yard as somebody works it out who needs no other house: the same equations of rooms, weather, people, tanks and
// sensors, the same rules, and their figures, minute by minute, with what belongs to this house in place. A second opinion on
// what is simulated, and the yardstick of how long a year may take: what stands still is worked out once, and numbers that
// change stand in typed arrays and fields, as a double that a closure captures is boxed again at each write. Left
// out are holidays and the turns of summer time, and people are looked at once a minute.
import type { House } from "modrik";
import { seeded } from "../kit/generate.js";
import { Outdoors, perPercentAt, type When } from "./outdoors.js";
import { type Habit, Person } from "./person.js";

const BENCH = 0;
const TIMBER = 1;
const BOOTH = 2;
const PORCH = 3;
const LOFT = 4;
const YARD = 5;
const ROOMS = 6;
/** The loft's walls, which stand apart from its air. */
const WALLS = 6;

const STEP = 60;
const HOUR = 3600;
const DAY = 86_400;
const NEVER = Number.POSITIVE_INFINITY;

/** J/(m³ K) of air, and of air with what stands in a room. */
const AIR = 1206;
const FURNISHED = 4000;
/** W for each g/h that evaporates. */
const LATENT = 0.68;

/** Outputs, in the order in which their figures stand. */
const OUTPUTS = 17;
const [HEATER, HUMIDIFIER, DRYER, LAMPS, TIMBER_FAN, TIMBER_HUMIDIFIER, BOOTH_HEATER, BOOTH_FAN, BOOTH_LAMP, SIGN, PORCH_LAMP] = [
  0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10,
] as const;
const [VALVE, LOFT_FAN, LIGHTS, AIR_LAMP, PUMP, YARD_LAMP] = [11, 12, 13, 14, 15, 16] as const;

export class Yard {
  readonly temperature = new Float64Array(ROOMS + 1).fill(16);
  readonly humidity = new Float64Array(ROOMS).fill(50);
  readonly carbon = new Float64Array(ROOMS).fill(420);
  readonly fumes = new Float64Array(ROOMS);
  readonly light = new Float64Array(ROOMS);
  /** Of each output: seconds on, and how often it began. */
  readonly on = new Float64Array(OUTPUTS);
  readonly starts = new Float64Array(OUTPUTS);
  /** Of the rooms' temperatures and humidities, ppm in loft and booth, light on the bench and % of soil, summed up by the minute. */
  readonly sums = new Float64Array(2 * ROOMS + 4);
  /** Of five values that are kept: minutes, minutes in their band, distances, their squares. */
  readonly kept = new Float64Array(20);
  readonly #outdoors: Outdoors;
  readonly #volume: Float64Array;
  readonly #capacity: Float64Array;
  readonly #loses: Float64Array;
  readonly #leaks: Float64Array;
  readonly #soaks: Float64Array;
  readonly #window: Float64Array;
  readonly #flow = new Float64Array(ROOMS);
  /** 1 - e^(-lt/c) of each room for its heat and for its gases, found again when its air changes otherwise. */
  readonly #cools = new Float64Array(ROOMS + 1);
  readonly #clears = new Float64Array(ROOMS);
  readonly #extra = new Float64Array(ROOMS);
  readonly #heat = new Float64Array(ROOMS + 1);
  readonly #water = new Float64Array(ROOMS);
  readonly #breath = new Float64Array(ROOMS);
  readonly #perPercent = new Float64Array(ROOMS);
  readonly #density = new Float64Array(ROOMS);
  /** J that pass between two stores in a step for each kelvin by which they differ. */
  readonly #through: Float64Array;
  readonly #out = new Float64Array(OUTPUTS);
  readonly #since = new Float64Array(OUTPUTS).fill(-DAY);
  readonly #people: readonly Person[];
  /** Of each room, whether somebody moves, and when somebody last did; whether its door is open, and since when. */
  readonly #moves = new Uint8Array(ROOMS);
  readonly #moved = new Float64Array(ROOMS).fill(-DAY);
  readonly #door = new Uint8Array(ROOMS);
  readonly #doorSince = new Float64Array(ROOMS).fill(-DAY);
  readonly #hold = new Uint8Array(11);
  #wood = 50;
  #boothWarm = 0.5;
  #head = 16.5;
  #litres = 60.5;
  #low = false;
  #theta = 0.3;
  #minute = 0;
  #weekday: number;
  #shop = false;
  #asleep = false;
  #airingUntil = -1;
  #fanTurns = -1;
  #darkSince = NEVER;
  #brightSince = NEVER;
  #rampFrom = NEVER;
  #meanYard = 4.5;

  constructor(house: House, when: When) {
    const { zones } = house.physics;
    const of = (figure: (zone: (typeof zones)[number]) => number) => Float64Array.from(zones, figure);
    this.#volume = of(({ volume }) => volume);
    this.#loses = of(({ loses }) => loses);
    this.#leaks = of(({ leaks }) => leaks);
    this.#soaks = of(({ soaks, wood = 0 }) => (wood > 0 ? 0 : soaks));
    this.#window = of(({ window }) => window / 100);
    this.#capacity = Float64Array.from([...zones.map(({ stores }) => stores), 0]);
    this.#capacity[WALLS] = (this.#capacity[LOFT] as number) - (this.#volume[LOFT] as number) * FURNISHED;
    this.#capacity[LOFT] = (this.#volume[LOFT] as number) * FURNISHED;
    this.#through = Float64Array.from([
      this.#passes(BENCH, TIMBER, 40),
      this.#passes(BENCH, BOOTH, 10),
      this.#passes(BENCH, WALLS, 15),
      this.#passes(LOFT, WALLS, 600),
    ]);
    this.#outdoors = new Outdoors(when);
    this.#weekday = when.weekday;
    const random = [1, 2, 3, 4, 5].map(seeded);
    const habits: readonly (Habit & { readonly stream: number })[] = [
      { room: BENCH, every: 3000, props: 72_000, stream: 0 },
      { room: TIMBER, every: 14_400, props: 108_000, stream: 1 },
      { room: BOOTH, coat: 6, stream: 2 },
      { room: PORCH, every: 10_800, stream: 3 },
      { room: LOFT, every: 2400, opensAbove: 25, stream: 4 },
      { room: LOFT, breathes: 90, stream: 4 },
    ];
    this.#people = habits.map((habit) => new Person(habit, random[habit.stream] as () => number));
    for (let room = 0; room < ROOMS; room++) this.#perPercent[room] = perPercentAt(this.temperature[room] as number);
    this.#breathe();
  }

  /** Goes on for so many days, and counts what happens in them. */
  run(days: number): void {
    for (const figures of [this.on, this.starts, this.sums, this.kept]) figures.fill(0);
    const end = this.#minute + days * 1440;
    for (; this.#minute < end; this.#minute++) this.#step(this.#minute);
  }

  #passes(one: number, other: number, amount: number): number {
    const both = 1 / (this.#capacity[one] as number) + 1 / (this.#capacity[other] as number);
    return -Math.expm1(-amount * both * STEP) / both;
  }

  #step(minute: number): void {
    const now = minute * 60;
    const ofDay = now % DAY;
    if (ofDay === 0 && minute > 0) this.#weekday = (this.#weekday + 1) % 7;
    this.#keepHours(ofDay / 60, now);
    this.#outdoors.advance(minute);
    this.#letPeople(now);
    this.#sumUp();
    this.#exchangeHeat();
    this.#exchangeWater();
    this.#exchange(this.carbon, 420, this.#breath);
    this.#evaporate();
    this.#keepWater();
    this.#decide(now, ofDay / 60);
    this.#count();
  }

  // ── People ────────────────────────────────────────────────────────────────────────────────────────────────────────

  /** Schedules turn at whole minutes. */
  #keepHours(minute: number, now: number): void {
    const weekday = this.#weekday;
    const [bench, timber, booth, porch, loft, guests] = this.#people as [Person, Person, Person, Person, Person, Person];
    const isWork = weekday < 5;
    const shopTurns = isWork ? minute === 480 || minute === 720 || minute === 780 || minute === 1050 : false;
    if (shopTurns || (weekday === 5 && (minute === 540 || minute === 720))) {
      this.#shop = isWork ? minute === 480 || minute === 780 : minute === 540;
      this.#hold[2] = 0;
      this.#hold[6] = 0;
      for (const one of [bench, timber, porch]) one.turn(this.#shop, now);
    }
    if ((weekday === 1 || weekday === 3) && (minute === 840 || minute === 930)) {
      booth.turn(minute === 840, now);
      if (minute === 930) this.#airingUntil = now + 1200;
    }
    if (isWork ? minute === 400 || minute === 470 || minute === 1060 || minute === 1335 : minute === 480 || minute === 1365)
      loft.turn(isWork ? minute === 400 || minute === 1060 : minute === 480, now);
    if (weekday === 4 && (minute === 1140 || minute === 1320)) guests.turn(minute === 1140, now);
  }

  #letPeople(now: number): void {
    let acted = false;
    for (let one = 0; one < this.#people.length; one++) {
      const person = this.#people[one] as Person;
      while (person.next <= now) {
        acted = true;
        person.act(person.next, this.temperature[person.habit.room] as number, this.#outdoors.temperature);
      }
    }
    if (acted) this.#seePeople(now);
    for (let room = 0; room < ROOMS; room++) if (this.#moves[room] === 1) this.#moved[room] = now;
  }

  #seePeople(now: number): void {
    const doors = [0, 0, 0, 0, 0, 0];
    this.#moves.fill(0);
    for (const { moving, doorOpen, tooWarm, habit } of this.#people) {
      if (moving) this.#moves[habit.room] = 1;
      if (habit.room === LOFT ? tooWarm : doorOpen) doors[habit.room] = 1;
    }
    let turned = false;
    for (let room = 0; room < ROOMS; room++) {
      if (doors[room] === this.#door[room]) continue;
      this.#door[room] = doors[room] as number;
      this.#doorSince[room] = now;
      turned = true;
    }
    if (turned) this.#breathe();
  }

  // ── Rooms ─────────────────────────────────────────────────────────────────────────────────────────────────────────

  /** What doors and fans let in: found again when one has turned. */
  #breathe(): void {
    const [extra, door, out] = [this.#extra, this.#door, this.#out];
    extra[BENCH] = 7 * (door[BENCH] as number);
    extra[BOOTH] = (300 / 18) * (out[BOOTH_FAN] as number);
    extra[LOFT] = 6 * (door[LOFT] as number) + (150 / 110) * (out[LOFT_FAN] as number);
    for (let room = 0; room < ROOMS; room++) {
      const flow = (((this.#leaks[room] as number) + (extra[room] as number)) * (this.#volume[room] as number)) / HOUR;
      this.#flow[room] = flow;
      const loss = (room === LOFT ? 0 : (this.#loses[room] as number)) + flow * AIR;
      this.#cools[room] = -Math.expm1((-loss / (this.#capacity[room] as number)) * STEP);
      this.#clears[room] = -Math.expm1((-flow / (this.#volume[room] as number)) * STEP);
    }
    this.#cools[WALLS] = -Math.expm1((-(this.#loses[LOFT] as number) / (this.#capacity[WALLS] as number)) * STEP);
  }

  #sumUp(): void {
    const [heat, water, breath, out] = [this.#heat, this.#water, this.#breath, this.#out];
    const { daylight } = this.#outdoors;
    const sun = (0.6 / 110) * daylight;
    const dried = 300 * (out[DRYER] as number) * Math.min(1, (this.#density[BENCH] as number) / 15.5);
    const moist = 350 * (out[HUMIDIFIER] as number);
    const timberMoist = 200 * (out[TIMBER_HUMIDIFIER] as number);
    heat[BENCH] = 1800 * (out[HEATER] as number) + 300 * (out[DRYER] as number) + LATENT * (dried - moist) + 2 * sun;
    water[BENCH] = moist - dried;
    heat[TIMBER] = -LATENT * timberMoist;
    water[TIMBER] = timberMoist;
    // The booth's heater is slow: its mean over the step.
    const asked = out[BOOTH_HEATER] as number;
    const gave = asked + ((this.#boothWarm - asked) * (1 - LEFT) * 600) / STEP;
    this.#boothWarm = asked + (this.#boothWarm - asked) * LEFT;
    heat[BOOTH] = 1200 * gave + 90 * (out[BOOTH_FAN] as number);
    water[BOOTH] = 0;
    heat[PORCH] = 0;
    heat[YARD] = 0;
    water[PORCH] = 0;
    water[YARD] = 0;
    const loft = this.temperature[LOFT] as number;
    this.#head = loft + (this.#head - loft) * FOLLOWS;
    const opening = Math.min(1, Math.max(0, ((out[VALVE] as number) - this.#head) / 2 + 0.5));
    const radiator = 3000 * opening * (Math.max(0, 70 - loft) / 50) ** 1.3;
    water[LOFT] = 0;
    heat[LOFT] = radiator;
    heat[WALLS] = 4 * sun;
    breath.fill(0);
    for (let one = 0; one < this.#people.length; one++) {
      const { present, habit } = this.#people[one] as Person;
      if (!present) continue;
      const { room } = habit;
      heat[room] = (heat[room] as number) + 70;
      water[room] = (water[room] as number) + 45;
      breath[room] = (breath[room] as number) + (habit.breathes ?? 18.7);
    }
    heat[WALLS] = (heat[WALLS] as number) + 0.4 * (heat[LOFT] as number);
    heat[LOFT] = 0.6 * (heat[LOFT] as number);
    for (let room = 0; room < ROOMS; room++) this.light[room] = daylight * (this.#window[room] as number);
    this.light[BENCH] = (this.light[BENCH] as number) + 4.2 * (out[LAMPS] as number);
  }

  #exchangeHeat(): void {
    const [temperature, through] = [this.temperature, this.#through];
    this.#move(temperature, this.#capacity, BENCH, TIMBER, through[0] as number);
    this.#move(temperature, this.#capacity, BENCH, BOOTH, through[1] as number);
    this.#move(temperature, this.#capacity, BENCH, WALLS, through[2] as number);
    this.#move(temperature, this.#capacity, LOFT, WALLS, through[3] as number);
    const air = this.#airBeside();
    if (air > 0) this.#move(temperature, this.#capacity, BENCH, TIMBER, this.#passes(BENCH, TIMBER, air * AIR));
    const outside = this.#outdoors.temperature;
    for (let room = 0; room <= ROOMS; room++) {
      const loss =
        room === LOFT
          ? (this.#flow[LOFT] as number) * AIR
          : room === WALLS
            ? (this.#loses[LOFT] as number)
            : (this.#loses[room] as number) + (this.#flow[room] as number) * AIR;
      const before = temperature[room] as number;
      temperature[room] = before + (outside + (this.#heat[room] as number) / loss - before) * (this.#cools[room] as number);
    }
  }

  /** m³/s that bench room and timber store exchange. */
  #airBeside(): number {
    return (60 * (this.#out[TIMBER_FAN] as number) + 3 * 45 * (this.#door[TIMBER] as number)) / HOUR;
  }

  #move(values: Float64Array, capacity: Float64Array, one: number, other: number, moves: number): void {
    const moved = ((values[one] as number) - (values[other] as number)) * moves;
    values[one] = (values[one] as number) - moved / (capacity[one] as number);
    values[other] = (values[other] as number) + moved / (capacity[other] as number);
  }

  #exchangeWater(): void {
    const { water } = this.#outdoors;
    const [density, perPercent, temperature] = [this.#density, this.#perPercent, this.temperature];
    const soaked = this.#soaks;
    for (let room = 0; room < ROOMS; room++) {
      const volume = this.#volume[room] as number;
      const held = (this.humidity[room] as number) * ((perPercent[room] as number) * volume + (soaked[room] as number));
      const now = perPercentAt(temperature[room] as number);
      perPercent[room] = now;
      const holds = now * volume + (soaked[room] as number);
      const flow = this.#flow[room] as number;
      const before = (held / holds) * now;
      const outside = water / (273.15 + (temperature[room] as number));
      const gone = -Math.expm1((-flow / (holds / now)) * STEP);
      density[room] = before + (outside + (this.#water[room] as number) / HOUR / flow - before) * gone;
    }
    // Wood gives to the air of the timber store, and takes from it.
    const now = perPercent[TIMBER] as number;
    const [air, wood] = [this.#volume[TIMBER] as number, 160 / now];
    const both = 1 / air + 1 / wood;
    const moved =
      (((density[TIMBER] as number) - this.#wood * now) * -Math.expm1((-160 / (8 * HOUR) / now) * both * STEP)) / both;
    density[TIMBER] = (density[TIMBER] as number) - moved / air;
    this.#wood += moved / wood / now;
    const beside = this.#airBeside();
    if (beside > 0) {
      const one = (this.#volume[BENCH] as number) + (soaked[BENCH] as number) / (perPercent[BENCH] as number);
      const other = air;
      const apart = 1 / one + 1 / other;
      const passed = (((density[BENCH] as number) - (density[TIMBER] as number)) * -Math.expm1(-beside * apart * STEP)) / apart;
      density[BENCH] = (density[BENCH] as number) - passed / one;
      density[TIMBER] = (density[TIMBER] as number) + passed / other;
    }
    for (let room = 0; room < ROOMS; room++)
      this.humidity[room] = Math.min(100, Math.max(0, (density[room] as number) / (perPercent[room] as number)));
  }

  #exchange(ppm: Float64Array, outdoors: number, gains: Float64Array): void {
    for (let room = 0; room < ROOMS; room++) {
      const before = ppm[room] as number;
      const gain = (((gains[room] as number) * 1000) / HOUR) * (1 / (this.#flow[room] as number));
      ppm[room] = before + (outdoors + gain - before) * (this.#clears[room] as number);
    }
    const beside = this.#airBeside();
    if (beside > 0) this.#move(ppm, this.#volume, BENCH, TIMBER, beside * STEP);
  }

  #evaporate(): void {
    const booth = this.#people[2] as Person;
    this.#breath.fill(0);
    if (booth.wet > 1e-6) {
      const gone = booth.wet * DRIES;
      booth.wet -= gone;
      this.#breath[BOOTH] = gone * 60 * 0.522;
    }
    this.#exchange(this.fumes, 0, this.#breath);
  }

  /** The cistern, and the trough's soil (FAO-56). */
  #keepWater(): void {
    this.#litres = Math.min(60, this.#litres + 0.1 / 60);
    this.#low = this.#litres < (this.#low ? 8.8 : 8);
    const temperature = this.temperature[YARD] as number;
    const saturated = 0.6108 * Math.exp((17.27 * temperature) / (temperature + 237.3));
    const slope = (4098 * saturated) / (temperature + 237.3) ** 2;
    const radiation = 0.77 * (((this.light[YARD] as number) / 110) * 3600e-6);
    const deficit = saturated * (1 - (this.humidity[YARD] as number) / 100);
    const dries = 0.408 * slope * radiation + 0.0674 * (37 / (temperature + 273)) * 2 * deficit;
    const lost = Math.max(0, dries / (slope + 0.0674 * 1.68));
    const stress = Math.min(1, Math.max(0, (this.#theta - 0.12) / 0.09));
    const theta = this.#theta - (lost * stress) / 60 / 1000 / 0.25;
    const above = theta - 0.3;
    this.#theta = Math.max(0, above > 0 ? 0.3 + above * DRAINS : theta);
  }

  // ── Rules ─────────────────────────────────────────────────────────────────────────────────────────────────────────

  /** On below its band, off above it. */
  #keep(place: number, reading: number, low: number, high: number): boolean {
    if (reading < low) this.#hold[place] = 1;
    else if (reading > high) this.#hold[place] = 0;
    return this.#hold[place] === 1;
  }

  #switch(output: number, value: number, now: number, least = 0): void {
    const before = this.#out[output] as number;
    if (value === before || now - (this.#since[output] as number) < least) return;
    this.#out[output] = value;
    this.#since[output] = now;
    if (before === 0) this.starts[output] = (this.starts[output] as number) + 1;
    if (output === TIMBER_FAN || output === BOOTH_FAN || output === LOFT_FAN) this.#breathe();
  }

  /** Sensors round, rules decide on what they read. */
  #decide(now: number, minute: number): void {
    const [out, door, since] = [this.#out, this.#door, this.#doorSince];
    const tenths = (value: number) => Math.floor(value * 10 + 0.5) / 10;
    const bench = tenths(this.temperature[BENCH] as number);
    const damp = tenths(this.humidity[BENCH] as number);
    const timber = tenths(this.humidity[TIMBER] as number);
    const booth = tenths(this.temperature[BOOTH] as number);
    const yard = tenths(this.temperature[YARD] as number);
    const daylight = Math.floor((this.light[BENCH] as number) + 0.5);
    const porchLight = Math.floor((this.light[PORCH] as number) + 0.5);
    const yardLight = Math.floor((this.light[YARD] as number) + 0.5);
    const ppm = Math.floor((this.carbon[LOFT] as number) + 0.5);
    const fumes = Math.floor((this.fumes[BOOTH] as number) + 0.5);
    const openFor = now - (since[BENCH] as number);

    // What is kept only now and then begins anew.
    const closedLong = door[BENCH] === 0 && openFor >= 120;
    if (!closedLong) this.#hold.fill(0, 0, 2);
    const moisten = this.#keep(0, damp, 42, 45) && closedLong;
    this.#switch(HUMIDIFIER, moisten ? 1 : 0, now, out[HUMIDIFIER] === 1 ? 120 : 0);
    const dry = this.#keep(1, -damp, -48, -45) && closedLong && out[HUMIDIFIER] === 0;
    this.#switch(DRYER, dry ? 1 : 0, now, out[DRYER] === 0 ? 300 : 0);
    const warmth = this.#shop ? 20 : 16;
    const heat = this.#keep(2, bench, warmth - 0.5, warmth + 0.5) && !(door[BENCH] === 1 && openFor >= 180);
    this.#switch(HEATER, heat ? 1 : 0, now, out[HEATER] === 1 ? 240 : 360);
    const worked = now - (this.#moved[BENCH] as number) < 600;
    this.#switch(LAMPS, this.#keep(3, daylight, 300, 750) && worked ? 80 : 0, now);

    this.#switch(TIMBER_HUMIDIFIER, this.#keep(4, timber, 46, 54) ? 1 : 0, now, out[TIMBER_HUMIDIFIER] === 1 ? 120 : 0);
    if (timber > 62 && this.#fanTurns < 0) this.#fanTurns = now;
    else if (timber < 55) this.#fanTurns = -1;
    this.#switch(TIMBER_FAN, this.#fanTurns >= 0 && (now - this.#fanTurns) % 1800 < 600 ? 1 : 0, now);

    const vapour = this.#keep(5, -fumes, -25, -10);
    if (this.#airingUntil === now) this.#airingUntil = fumes >= 10 ? now + 1200 : -1;
    this.#switch(BOOTH_FAN, vapour || this.#airingUntil > now ? 1 : 0, now);
    const boothHeat = this.#keep(6, booth, 20.3, 21.7) && this.#shop && fumes < 25;
    this.#switch(BOOTH_HEATER, boothHeat ? 1 : 0, now, out[BOOTH_HEATER] === 1 && fumes < 25 ? 240 : 0);
    this.#switch(BOOTH_LAMP, fumes < 10 ? 60 : 100, now);
    this.#switch(SIGN, fumes < 10 ? 1 : fumes < 25 ? 2 : 3, now);

    if (porchLight >= 40) this.#darkSince = NEVER;
    else if (this.#darkSince === NEVER) this.#darkSince = now;
    if (porchLight <= 90) this.#brightSince = NEVER;
    else if (this.#brightSince === NEVER) this.#brightSince = now;
    if (now - this.#brightSince >= 300) this.#hold[7] = 0;
    else if (now - this.#darkSince >= 180) this.#hold[7] = 1;
    const passed = now - (this.#moved[PORCH] as number);
    this.#switch(PORCH_LAMP, this.#hold[7] === 1 && (this.#shop || passed < 300) ? 1 : 0, now);

    const airy = door[LOFT] === 1 || now - (since[LOFT] as number) < 180;
    this.#switch(VALVE, airy ? 8 : this.#wanted(minute), now);
    const stale = this.#keep(8, -ppm, -1200, -900);
    this.#switch(LOFT_FAN, stale && !(this.#asleep && this.#keep(9, ppm, 1600, 2000)) ? 1 : 0, now);
    this.#switch(AIR_LAMP, stale ? 1 : 0, now);
    this.#lightLoft(now, minute, yardLight);

    this.#meanYard += (yard - this.#meanYard) / 360;
    if (minute === 405 && this.#meanYard > 4 && !this.#low) {
      this.#litres -= 0.6;
      this.#theta += 1 / 250;
      this.starts[PUMP] = (this.starts[PUMP] as number) + 1;
      this.on[PUMP] = (this.on[PUMP] as number) + 50.4;
    }
    const someone = passed < 120 || door[PORCH] === 1 || now - (since[PORCH] as number) < 120;
    this.#switch(YARD_LAMP, someone && (this.light[YARD] as number) < 5 ? 1 : 0, now);
    this.#keepCount(0, damp, 45, 3);
    this.#keepCount(this.#shop ? 1 : 2, bench, warmth, 0.5);
    this.#keepCount(3, timber, 50, 4);
    if (this.#shop) this.#keepCount(4, booth, 21, 0.7);
  }

  /** °C by the hour. */
  #wanted(minute: number): number {
    if (this.#weekday < 5) return minute < 390 || minute >= 1350 ? 17 : minute < 480 ? 20 : minute < 1050 ? 18 : 20.5;
    return minute < 480 || minute >= 1380 ? 17 : 20.5;
  }

  #lightLoft(now: number, minute: number, yardLight: number): void {
    const sat = now - (this.#moved[LOFT] as number);
    if (minute === 1350 && !this.#asleep && sat >= 300) this.#rampFrom = now;
    if (now - this.#rampFrom >= 600) {
      this.#asleep = true;
      this.#rampFrom = NEVER;
    }
    if (this.#asleep && this.#moves[LOFT] === 1 && minute >= 390 && minute < 1320) this.#asleep = false;
    const dim = this.#keep(10, yardLight, 600, 1200);
    const begins = this.#weekday < 5 ? 370 : 450;
    const grows = Math.min((minute - begins) / 30, 1 - (minute - begins - 30) / (this.#weekday < 5 ? 80 : 90));
    const wakes = this.#asleep && grows > 0 ? Math.round(40 * grows) : 0;
    const lit = !this.#asleep && sat < 1200 && dim ? 70 : wakes;
    this.#switch(LIGHTS, this.#rampFrom < NEVER ? Math.round(70 * (1 - (now - this.#rampFrom) / 600)) : lit, now);
  }

  // ── Figures ───────────────────────────────────────────────────────────────────────────────────────────────────────

  #keepCount(place: number, value: number, target: number, slack: number): void {
    const { kept } = this;
    const at = 4 * place;
    const far = Math.abs(value - target);
    kept[at] = (kept[at] as number) + 1;
    if (far <= slack) kept[at + 1] = (kept[at + 1] as number) + 1;
    kept[at + 2] = (kept[at + 2] as number) + far;
    kept[at + 3] = (kept[at + 3] as number) + far * far;
  }

  #count(): void {
    for (let output = 0; output < OUTPUTS; output++)
      if ((this.#out[output] as number) > 0) this.on[output] = (this.on[output] as number) + STEP;
    for (let room = 0; room < ROOMS; room++) {
      this.sums[room] = (this.sums[room] as number) + (this.temperature[room] as number);
      this.sums[ROOMS + room] = (this.sums[ROOMS + room] as number) + (this.humidity[room] as number);
    }
    this.sums[12] = (this.sums[12] as number) + (this.carbon[LOFT] as number);
    this.sums[13] = (this.sums[13] as number) + (this.fumes[BOOTH] as number);
    this.sums[14] = (this.sums[14] as number) + (this.light[BENCH] as number);
    this.sums[15] = (this.sums[15] as number) + 100 * this.#theta;
  }
}

/** e^(-t/τ) of a step: of a heater that lags 10 min, of the valve's head, of a coat that dries, of soil that drains. */
const LEFT = Math.exp(-STEP / 600);
const FOLLOWS = Math.exp(-STEP / 1200);
const DRIES = -Math.expm1(-STEP / 2400);
const DRAINS = Math.exp(-STEP / 7200);
