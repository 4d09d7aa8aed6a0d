// What is offered to those who write: completions, descriptions, hints.
import { parseHouse } from "modrik";
import { describe as describeAt, type HouseText, hints, openHouse, type SourceToken } from "modrik/language";
import { pick, seeded } from "modrik/testing";
import { describe, expect, test } from "vitest";
import { lindenYard, traps } from "./examples.js";
import { houseText } from "./playing.js";

/** The place of `|` in a text, and the text without it. */
function marked(text: string): [text: string, at: number] {
  const at = text.indexOf("|");
  return [text.slice(0, at) + text.slice(at + 1), at];
}

describe("completions", () => {
  const offered = (piece: string) => {
    const [text, at] = marked(houseText(`schedule hours { daily 08:00 to 12:00 } preset cosy { z.o at on } ${piece}`));
    const { from, options } = openHouse({ "a.modrik": text }).completions("a.modrik", at);
    return { begun: text.slice(from, at), labels: options.map(({ label }) => label) };
  };

  test.each<[what: string, piece: string, begun: string, some: string[], none: string[]]>([
    ["things of a zone", "rule r { while z.|", "z.", ["z.x", "z.door", "z.target", "z.o"], ["m", "while"]],
    ["a name begun", "rule r { while z.do|", "z.do", ["z.door"], ["z.x"]],
    ["the last part of a name", "rule r { while doo|", "doo", ["z.door"], ["z.x"]],
    ["words of a sensor", "rule r { while z.door is |", "", ["open", "closed", "unknown"], ["z.x", "day"]],
    ["words of a mode", "rule r { when m becomes n|", "n", ["night"], ["day"]],
    ["words behind has not been", "rule r { while z.door has not been |", "", ["open", "closed"], ["z.x"]],
    ["words of an output", "rule r { hold z.o at |", "", ["on", "off"], ["z.x"]],
    ["words of what is permitted", "guard g { permit z.o |", "", ["on", "off"], ["z.x"]],
    ["outputs to hold", "rule r { hold |", "", ["z.o"], ["z.x", "z.target"]],
    ["what may be set", "rule r { when z.door do { set |", "", ["z.o", "z.target", "m"], ["z.x"]],
    ["schedules", "rule r { while during |", "", ["hours"], ["z.x"]],
    ["presets", "rule r { when z.door do { apply |", "", ["cosy"], ["z.x"]],
    ["units", "rule r { while z.x above 20 |", "", ["°C", "%RH"], ["z.x"]],
    ["a unit begun", "rule r { while z.damp above 20 %|", "%", ["%RH", "%"], ["°C"]],
    ["what begins a sentence", "rule r { |", "", ["while", "keep", "when"], ["set", "zone"]],
    ["steps", "rule r { when z.door do { |", "", ["set", "tell", "wait"], ["zone", "while"]],
    ["declarations", "ru|", "ru", ["rule"], ["while"]],
    ["a function", "let a = me|", "me", ["mean", "median"], ["z.x"]],
    ["in the middle of a word", "rule r { while z.do|or is open hold z.o at on }", "z.do", ["z.door"], []],
  ])("%s", (_, piece, begun, some, none) => {
    const found = offered(piece);
    expect(found.begun).toBe(begun);
    expect(found.labels).toEqual(expect.arrayContaining(some));
    for (const label of none) expect(found.labels).not.toContain(label);
  });

  test("say what a thing is", () => {
    const [text, at] = marked(houseText("rule r { while z.gra|"));
    expect(openHouse({ "a.modrik": text }).completions("a.modrik", at).options).toEqual([
      { label: "z.grade", kind: "thing", detail: "good < fair < poor" },
    ]);
  });

  test("come at every place of a text, broken or not", () => {
    const text = houseText(`rule r { while z.x above z.target until below 18 °C hold z.o at pick by m { day: on, night: off } }
      rule s { when at 07:30 on Mon..Fri do { tell "It is {z.x}." set z.o to on for 5 min } } { } } "`);
    const open = openHouse({ "a.modrik": text });
    for (let at = 0; at <= text.length; at++) {
      const { from, options } = open.completions("a.modrik", at);
      expect(from).toBeLessThanOrEqual(at);
      expect(new Set(options.map(({ label }) => label)).size).toBe(options.length);
    }
  });
});

describe("what is written is what was offered:", () => {
  const samples: Readonly<Record<string, string>> = {
    ...lindenYard,
    ...Object.fromEntries(Object.entries(traps).map(([name, text]) => [`traps/${name}`, text])),
  };

  test.each(Object.keys(samples))("every word of the language, and every name, in %s", (file) => {
    const text = samples[file] as string;
    const open = openHouse(file in lindenYard ? lindenYard : { [file]: text });
    const missing: string[] = [];
    const tokens = open.tokens(file).filter(({ kind }) => kind === "keyword" || kind === "name");
    const known = new Set([...open.places.keys(), ...open.house.modes.flatMap(({ type }) => type.words)]);
    // A share of them: each place is read from the top.
    const step = Math.ceil(tokens.length / 150);
    for (let index = 0; index < tokens.length; index += step) {
      const { from, to, kind } = tokens[index] as SourceToken;
      const word = text.slice(from, to);
      if (kind === "name" && !known.has(word)) continue;
      const labels = open.completions(file, from).options.map(({ label }) => label);
      const offered = labels.some((label) => label === word || label.startsWith(`${word} `) || label.endsWith(`.${word}`));
      if (!offered && !isDeclared(text, from))
        missing.push(`${text.slice(Math.max(0, from - 40), to)} ← ${labels.slice(0, 5).join("/")}`);
    }
    expect(missing).toEqual([]);
  });

  /** Whether a name is given here: nobody can know it beforehand. */
  function isDeclared(text: string, at: number): boolean {
    return /(?:zone|sensor|output|dial|mode|group|let|countdown|preset|schedule|profile|rule|guard|trial|weather|wire|through|each)\s+$|:\s+$|[/<]\s*$/.test(
      text.slice(0, at),
    );
  }
});

describe("descriptions", () => {
  const rules = `let warm = z.x above z.target
    rule held { while warm hold z.o at on }
    guard shut { permit z.o on only while z.door is closed }
    schedule hours { daily 08:00 to 13:00 }
    zone w { sensor y: lx rule dim { while y below 3 lx hold z.o at on } }`;
  test.each<[what: string, place: string, says: string[]]>([
    ["an output", "while warm hold z.|o", ["z.o: on/off", "guard shut: permit z.o on only while z.door is closed"]],
    ["a dial", "above z.tar|get", ["z.target: 20 °C of 10..30 °C; used by warm"]],
    ["a let", "while wa|rm", ["warm = z.x above z.target"]],
    ["a rule", "rule he|ld", ["held", "while warm hold z.o at on"]],
    ["a guard", "guard |shut", ["shut", "permit z.o on only while z.door is closed"]],
    ["a schedule, at its last letter", "schedule hours|", ["hours: now, until 13:00"]],
    ["a thing by its short name", "while |y below", ["w.y: lx"]],
    ["no thing", "whi|le warm", []],
  ])("of %s", (_, place, says) => {
    const text = houseText(rules);
    const [piece, within] = marked(place);
    const open = openHouse({ "a.modrik": text });
    const found = describeAt(open, "a.modrik", text.indexOf(piece) + within, { at: Date.parse("2026-03-14T12:00Z") });
    const lines = found ? [found.says.says, ...found.says.because.map((one) => one.says)] : [];
    expect(lines.slice(0, says.length)).toEqual(says.length === 0 ? [] : says);
    if (says.length === 0) expect(found).toBeUndefined();
  });
});

describe("hints", () => {
  const shown = (text: string) => {
    const open = openHouse({ "a.modrik": text });
    expect(open.problems).toEqual([]);
    return hints(open, { at: Date.parse("2026-03-14T12:00Z") }).map(({ at, says }) => {
      const line = text.slice(text.lastIndexOf("\n", at - 1) + 1, at).trim();
      return `${line} ← ${says}`;
    });
  };

  test("stand at the end of the line they are about", () => {
    const rules = `rule warm {
  keep z.x at z.target ± 1 K
    raise with z.o
}
rule told {
  when z.door has been open for 5 min
  or when at z.evening
  do { tell "x" }
}
rule hot {
  while z.x above z.target + 3 K
  hold z.o at on
}
schedule hours {
  daily 08:00 to 13:00
}`;
    expect(shown(houseText(rules))).toEqual([
      "raise with z.o ← on below 19 °C, off above 21 °C",
      "when z.door has been open for 5 min ← once, 5 min after it began",
      "or when at z.evening ← next 22:30",
      "while z.x above z.target + 3 K ← z.target + 3 K is 23 °C now",
      "schedule hours { ← now, until 13:00",
    ]);
  });

  test("of a repeated sentence come one after another", () => {
    const text = `house "A" { clock "UTC" }
zone a { sensor t: °C dial d: 1..30 °C, at first 10 °C output o: on/off }
zone b { sensor t: °C dial d: 1..30 °C, at first 20 °C output o: on/off }
for each z in a, b {
  rule r_{z} {
    keep z.t at z.d ± 1 K raise with z.o
  }
}`;
    expect(shown(text)).toEqual([
      "keep z.t at z.d ± 1 K raise with z.o ← on below 9 °C, off above 11 °C · on below 19 °C, off above 21 °C",
    ]);
  });
});

describe("renaming", () => {
  const rules = `rule r { while z.x above z.target hold z.o at on when z.x.age above 5 min do { tell "{z.x} {m}" } }
    zone w { sensor y: lx output q: on/off rule s { while y below 3 lx hold q at on } }
    let all = min(every x)
    trial u { from 2026-03-14 08:00 given w.y is 5 lx at 08:10 person pauses r expect z.o is off }`;

  const renamed = (from: string, to: string, text = houseText(rules)) => {
    const result = openHouse({ "a.modrik": text }).rename(from, to);
    return "refused" in result ? result.refused : (result.text.files["a.modrik"] as string);
  };

  test("a schedule from a calendar, whose file keeps its name", () => {
    const text = houseText('schedule free from calendar "free.ics" rule r { while during free hold z.o at on }');
    const result = openHouse({ "a.modrik": text }, { calendars: { "free.ics": [] } }).rename("free", "away");
    expect("refused" in result ? result.refused : result.text.files["a.modrik"]).toContain(
      'schedule away from calendar "free.ics"',
    );
  });

  test.each<[what: string, from: string, to: string, now: string[]]>([
    ["an output", "z.o", "z.out", ["output out: on/off", "hold z.out at on", "expect z.out is off"]],
    ["by its short name within its zone", "w.y", "w.lux", ["sensor lux: lx", "while lux below 3 lx", "given w.lux is 5 lx"]],
    ["a rule, also where it is paused", "r", "warm", ["rule warm {", "person pauses warm"]],
    ["a mode, and not the words of others", "m", "phase", ["mode phase: day/night", "{phase}"]],
    ["a zone with all that is in it", "w", "work", ["zone work {", "while y below", "given work.y is"]],
  ])("%s", (_, from, to, now) => {
    const text = renamed(from, to);
    for (const piece of now) expect(text).toContain(piece);
    expect(parseHouse({ "a.modrik": text }).problems).toEqual([]);
    expect(renamed(to, from, text)).toBe(houseText(rules));
  });

  test.each<[what: string, from: string, to: string, why: RegExp]>([
    ["what is not there", "z.q", "z.r", /nothing called "z.q"/],
    ["to a name that is taken", "z.o", "z.door", /name of something else/],
    ["into another zone", "z.o", "w.o", /another zone/],
    ["to what is no name", "z.o", "z.a b", /is not a name/],
    ["to a word of the language", "m", "until", /it is a word of the language/],
    ["what goes by its last name alone", "z.x", "z.warm", /There is no .*called "x"|would be wrong|no longer mean z.warm/],
    ["to more parts", "m", "z.m", /cannot replace/],
  ])("not %s", (_, from, to, why) => {
    expect(renamed(from, to)).toMatch(why);
  });

  test("not where a repeat makes a name of it", () => {
    const repeat = 'for each k in z, w { rule t_{k} { when m is day do { tell "{k}" } } }';
    expect(renamed("w", "work", houseText(`zone w { sensor y: lx } ${repeat}`))).toMatch(/A repeat, .* Change it by hand/);
  });

  test("there and back leaves the demo house as it was", () => {
    const open = openHouse(lindenYard, { calendars: { "holidays.ics": [] } });
    expect(open.house.name).toBe("Linden Yard");
    const names = [...open.places.keys()].filter((name) => !/temperature|humidity|_\d$/.test(name));
    for (const name of names.filter((_, index) => index % 9 === 0)) {
      const renamed = (text: HouseText, from: string, to: string): HouseText => {
        const result = text.rename(from, to);
        if ("refused" in result) throw new Error(`${from}: ${result.refused}`);
        return result.text;
      };
      const back = renamed(renamed(open, name, `${name}_x`), `${name}_x`, name);
      expect(back.files, name).toEqual(lindenYard);
    }
  });
});

describe("a text that is open", () => {
  const calendars = { calendars: { "holidays.ics": [] } };
  const known = ({ house, problems, allowances, spoken, uses, places }: HouseText) =>
    JSON.stringify({ house, problems, allowances, spoken, uses, places: [...places] });

  test("is the same as one that is opened anew, whatever is written into it, and reads only what was changed", () => {
    const random = seeded(4);
    let open = openHouse(lindenYard, calendars);
    const pieces = ["}", "{", " is ", "bench.door", '"', "# x\n", "rule q { hold bench.heater at on }", "20 °C", "\n", ""];
    for (let round = 0; round < 60; round++) {
      const file = pick(random, Object.keys(open.files));
      const before = open.files[file] as string;
      const at = Math.floor(random() * before.length);
      const cut = Math.floor(random() * 12);
      const text = before.slice(0, at) + pick(random, pieces) + before.slice(at + cut);
      const changed = open.with(file, text);
      expect(known(changed), `round ${round}`).toBe(known(openHouse(changed.files, calendars)));
      // Back again, so that the house stays one that means something.
      open = round % 5 === 0 ? changed : changed.with(file, before);
    }
  });

  test("is itself where nothing changes, and forgets a file that is gone", () => {
    const open = openHouse(lindenYard, calendars);
    expect(open.with("rules.modrik", lindenYard["rules.modrik"])).toBe(open);
    const { house } = open.with("rules.modrik", undefined);
    expect(house.rules.map(({ name }) => name)).not.toContain("dry_wood");
    expect(open.with("more.modrik", "rule more { hold bench.dryer at on }").house.rules.map(({ name }) => name)).toContain(
      "more",
    );
  });

  test("names the recordings that its trials replay, and not what a comment says", () => {
    const trial = (file: string) => `{ replay "${file}" from 2026-03-14 08:00 to 2026-03-14 09:00 expect z.o is on }`;
    const text = `${houseText(`trial t ${trial("a.csv")} trial u ${trial("b.csv")} trial v ${trial("a.csv")}`)}\n# replay "c.csv"`;
    const open = openHouse({ "a.modrik": text });
    expect(open.replays).toEqual(["a.csv", "b.csv"]);
    expect(open.problems.map(({ code }) => code)).toEqual(["unknown-name", "unknown-name", "unknown-name"]);
    const record = [{ at: Date.parse("2026-03-14T08:00Z"), name: "z.x", value: 20 }];
    expect(open.beside({ recordings: { "a.csv": record, "b.csv": record } }).problems).toEqual([]);
  });

  test("is told by its tokens: in order, apart, and with nothing but blanks between them", () => {
    for (const [file, text] of Object.entries({ ...lindenYard, ...traps })) {
      const open = openHouse({ [file]: text });
      let end = 0;
      for (const { from, to, kind } of open.tokens(file)) {
        expect(text.slice(end, from), `${file} before ${from}`).toMatch(/^\s*$/);
        expect(to).toBeGreaterThan(from);
        expect(kind === "comment").toBe(text[from] === "#");
        end = to;
      }
      expect(text.slice(end)).toMatch(/^\s*$/);
    }
  });

  test.each<[what: string, text: string, keywords: string[]]>([
    [
      "a word that may be a name too is a name where it is one",
      "rule r { hold z.o at on when z.door do { set m to day } }",
      ["rule", "hold", "at", "when", "do", "set", "to"],
    ],
    ["what is skipped is no word of the language", "rule r { keep hold hold }", ["rule", "keep"]],
    [
      "words that stand together are words each",
      "trial t { from 2026-03-14 08:00 at 08:10 the house restarts expect z.o is on }",
      ["trial", "from", "at", "the", "house", "restarts", "expect", "is"],
    ],
  ])("%s", (_, piece, keywords) => {
    const base = houseText("");
    const open = openHouse({ "a.modrik": base + piece });
    const found = open.tokens("a.modrik").filter(({ kind, from }) => kind === "keyword" && from >= base.length);
    expect(found.map(({ from, to }) => (base + piece).slice(from, to))).toEqual(keywords);
  });

  test.each<[what: string, before: string, offers: string[], not: string[]]>([
    ["within braces of a text", 'rule r { when z.door do { tell "It is {z.', ["z.x", "z.o"], ["through"]],
    ["not within a text", 'rule r { when z.door do { tell "It is th', [], ["through"]],
    ["not in a comment", "rule r { # while z.", [], ["z.x"]],
    ["what is known of a sensor behind its dot", "rule r { while z.door.", ["z.door.age"], ["z.x.age"]],
    [
      "the short names of a zone's own things",
      "zone v { sensor own: open/closed rule r { while own is ",
      ["open", "closed"],
      ["z.x"],
    ],
    [
      "behind what is broken, what fits what was written last",
      "rule r { while z.x abov 20 °C hold z.o at ",
      ["on", "off"],
      ["z.x"],
    ],
    ["of a group the words of its outputs", "group g = z.o rule r { hold g at ", ["on", "off"], ["z.x"]],
    ["colours of a lamp", "zone v { output l: 0..100 % output c: colour of l rule r { hold c at ", ["warm_white"], ["on"]],
    ["words that are just being declared", "zone v { output l: low/high, at rest ", ["low", "high"], ["on"]],
    ["kinds of values", "zone v { sensor s: ", ["°C", "time", "press", "colour of"], ["z.x"]],
    ["days", "schedule s { Mon..", ["Fri"], ["daily"]],
    ["months", "schedule s { daily 08:00 to 12:00 except ", ["Dec"], []],
    ["the ways to a person", 'wire w { notices phone to "p" } rule r { when z.door do { tell "x" through ', ["phone"], []],
    ["what happens in a trial", "trial t { from 2026-03-14 08:00 at 08:10 person ", ["sets", "pauses"], []],
    ["claims of a trial, and nowhere else", "trial t { from 2026-03-14 08:00 expect ", ["told", "never"], []],
    ["no claims in a rule", "rule r { while ", ["z.x", "during", "not"], ["told", "sent"]],
  ])("offers %s", (_, before, offers, not) => {
    const text = houseText(before);
    const at = text.indexOf(before) + before.length;
    const labels = openHouse({ "a.modrik": text.slice(0, at) })
      .completions("a.modrik", at)
      .options.map(({ label }) => label);
    expect(labels).toEqual(expect.arrayContaining(offers));
    for (const label of not) expect(labels).not.toContain(label);
  });
});
