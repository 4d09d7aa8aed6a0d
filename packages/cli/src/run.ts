// The commands: words in, an exit code out. Each one's work is imported when it is used, so that every one starts fast.
import { relative } from "node:path";
import { Command, CommanderError } from "commander";
import { version } from "../package.json";
import { CallError } from "./call-error.js";
import type { Io } from "./io.js";

/** Fine; the house or a trial fell short; the call was wrong. */
const FELL_SHORT = 1;
const WRONG_CALL = 2;

const HOUSE = "[house]";
const HOUSE_IS = "a .modrik file or a folder of them (default: this folder)";

/** Said again, it is one more; never said, none: see below. */
const collect = (value: string, before: readonly string[] = []) => [...before, value];

/** @param done called with whether all was fine, when a command has done its work */
function program(io: Io, done: (fine: boolean) => void): Command {
  const modrik = new Command("modrik")
    .description("Write, test and explain the rules of a house.")
    .version(version)
    .helpCommand(false)
    .showHelpAfterError("(see `modrik --help`, and `modrik COMMAND --help` for an example)")
    .configureOutput({ writeOut: (text) => io.out.write(text), writeErr: (text) => io.err.write(text) })
    .exitOverride()
    .hook("preAction", (_, one) => {
      // As a default in its own place it would stand in the help.
      for (const option of one.options)
        if (option.parseArg === collect && one.getOptionValue(option.attributeName()) === undefined)
          one.setOptionValue(option.attributeName(), []);
    });

  const command = (name: string, says: string, example: string) =>
    modrik.command(name).description(says).addHelpText("after", `\nExample:\n  ${example}`).exitOverride();

  const SIMULATED = "how many days to simulate (default: 1)";
  const OR_RECORDED = `${SIMULATED}, or to take of a recording (default: all)`;
  const inWeather = (it: Command, days = SIMULATED) =>
    it
      .option("--days <n>", days)
      .option("--from <date>", "first day, e.g. 2026-01-15 (default: that of the first simulated trial)")
      .option("--weather <name>", "one of the weathers of the house (default: its first)")
      .option("--seed <n>", "random seed for the simulated people (default: 1)")
      .option("--set <dial=value>", "set a dial or mode, e.g. bench.moisture=48; may be repeated", collect);

  const simulated = (it: Command) =>
    inWeather(it, OR_RECORDED)
      .option("--trial <name>", "take the run of a trial instead of a simulated one")
      .option(
        "--recording <file>",
        "take recorded readings instead (.csv, .jsonl, .senml, or the .db of a running house): the rules run over them and move nothing",
      );

  const measured = (it: Command) =>
    it
      .option("--price <per kWh>", "what a kWh costs, for the cost of what outputs use, e.g. 0.31")
      .option("--cycles <n>", "lengths on and off of the latest so many cycles (default: all)");

  command(
    "new",
    "Start a house of your own: choose what annoys you, get a rule and its trial.",
    "modrik new my-house --from dry_air",
  )
    .argument("<folder>", "a new folder")
    .option("--from <name>", "start with this, without asking: dry_air, cold_room, dark_room, stale_air, open_door, dry_pump")
    .option("--room <name>", 'name of the room (default: "Room")')
    .option("--clock <zone>", "its IANA time zone, e.g. Europe/Zurich (default: that of this machine)")
    .option("--set <number=value>", "another number than the usual one, e.g. wanted=50 with dry_air; may be repeated", collect)
    .action(async (folder, options) => done(await (await import("./commands/new.js")).newHouse(folder, options, io)));

  command("check", "Find what is wrong with a house without running it.", "modrik check examples/linden-yard")
    .argument(HOUSE, HOUSE_IS)
    .option("--fix", "offer automatic fixes: missing units, misspelt names, sentences in another order")
    .option("--yes", "with --fix: apply them without asking")
    .option("--show", "print, for each confirmed problem, the timeline that shows it, as a trial to keep")
    .option("--strict", "exit with 1 on warnings, too")
    .option("--json", "problems as JSON")
    .action(async (house, options) => done(await (await import("./commands/check.js")).check(house, options, io)));

  measured(
    simulated(
      command(
        "simulate",
        "Run the rules on the simulated house, or over a recording, and measure what came of it.",
        "modrik simulate examples/linden-yard --days 1 --chart day.png",
      ),
    ),
  )
    .argument(HOUSE, HOUSE_IS)
    .option("--zone <name>", "only one zone")
    .option("--report <file>", "one page with figures, chart, notices, problems and the rules in force (.html)")
    .option("--log <file>", "write what happened, with rule and cause (.csv, .jsonl, .senml; - prints it)")
    .option("--chart <file>", "draw the run (.png, .svg, or .html with a cursor that reads all values)")
    .option("--dark", "draw it on a dark page")
    .option("--json", "the figures as JSON")
    .action(async (house, options) => done(await (await import("./commands/simulate.js")).simulateHouse(house, options, io)));

  command("test", "Run the trials of a house.", "modrik test examples/linden-yard --only lamp")
    .argument(HOUSE, HOUSE_IS)
    .option("--only <text>", "only trials with this text in their name or title")
    .option("--stop-at-failure", "stop at the first trial that fails")
    .option("--watch", "run again whenever a file of the house is saved")
    .option(
      "--chart [file]",
      "add a small chart to each failure; or, with a file (.png, .svg, .html), draw the one trial that --only chooses",
    )
    .option("--margins", "how close each trial came to failing, the closest first")
    .option("--coverage", "what no trial covers: sentences, branches, conditions, limits")
    .option("--trace <file>", "the coverage as a tracefile (LCOV), for other viewers")
    .option("--mutants", "change the rules, one mistake at a time, and list those no trial finds")
    .option("--hunt", "search for a timeline that breaks a guard, or a never, always or whenever")
    .option("--seed <n>", "with --hunt: random seed", "1")
    .option("--tries <n>", "with --hunt: timelines to try for each promise", "200")
    .option("--results <file>", "write the results as JUnit XML")
    .option("--log <file>", "write what happened in the trials, with rule and cause (.csv, .jsonl, .senml; - prints it)")
    .option("--json", "verdicts as JSON")
    .action(async (house, options) => {
      // What stands after --chart is its file only where it is a picture: else it is the house.
      const { chart } = options;
      const isPicture = typeof chart !== "string" || /\.(png|svg|html)$/i.test(chart);
      const said = isPicture ? { house, options } : { house: house ?? chart, options: { ...options, chart: true } };
      done(await (await import("./commands/test.js")).test(said.house, said.options, io));
    });

  simulated(
    command(
      "why",
      "Explain the state of something at a time of a simulated run, why it is not different, or why a notice was sent.",
      "modrik why bench.humidifier --at 10:15 examples/linden-yard\n  modrik why not porch.lamp --at 18:30 examples/linden-yard\n  modrik why notice 1 --trial open_door examples/linden-yard",
    ),
  )
    .argument(
      "<what...>",
      "an output, sensor, dial, let or rule, e.g. bench.heater; or: not OUTPUT [VALUE]; or: notice N; followed by the house folder",
    )
    .option("--live", "of the running house, or of what it kept when it ran last")
    .option("--db <file>", "with --live: its file (default: the one beside the house)")
    .option(
      "--at <time>",
      'required, except for notices and with --live: a time of the first day, e.g. 10:15, or "2026-01-16 06:40"; with --live the last such time (default: now)',
    )
    .option("--json", "the explanation as JSON")
    .action(async (words, options) => done(await (await import("./commands/why.js")).explain(words, options, io)));

  command(
    "show",
    "Describe the house in sentences: which rules control each output, exact switch points, what comes next.",
    "modrik show examples/linden-yard --only dry_wood --set bench.moisture=48",
  )
    .argument(HOUSE, HOUSE_IS)
    .option("--only <name>", "only one zone, rule or thing, e.g. bench or bench.heater")
    .option("--at <date and time>", 'list what comes next from this time on, e.g. "2026-01-15 10:00" (default: now)')
    .option("--set <dial=value>", "set a dial or mode, e.g. bench.moisture=48; may be repeated", collect)
    .option("--json", "the tree as JSON")
    .action(async (house, options) => done(await (await import("./commands/show.js")).show(house, options, io)));

  command("format", "Format the files of a house.", "modrik format examples/linden-yard --check")
    .argument(HOUSE, HOUSE_IS)
    .option("--check", "change nothing; exit with 1 if a file is not formatted")
    .action(async (house, options) => done(await (await import("./commands/format.js")).format(house, options, io)));

  command(
    "rename",
    "Rename a thing, a zone or a rule in all files of a house.",
    "modrik rename bench.lamps bench.light examples/linden-yard",
  )
    .argument("<old>", "its full name, e.g. bench.lamps")
    .argument("<new>", "the new name, e.g. bench.light")
    .argument(HOUSE, HOUSE_IS)
    .action(async (from, to, house) => done(await (await import("./commands/rename.js")).rename(from, to, house, io)));

  inWeather(
    command(
      "compare",
      "Compare houses, or settings of one, in the same days, weather and people: the figures in which they differ.",
      "modrik compare examples/linden-yard --vary bench.slack=1,3,5 --zone bench\n  modrik compare examples/three-ways/two_limits.modrik examples/three-ways/fixed_cycle.modrik examples/three-ways/target.modrik --days 7",
    ),
    OR_RECORDED,
  )
    .argument("[houses...]", "two or more .modrik files or folders of them; or one, with --vary")
    .option(
      "--vary <what=values>",
      "settings of one house: a dial or mode, e.g. bench.slack=1,3,5, or a number that stands in a rule, e.g. fumes_out:25 ppm=20,30",
      collect,
    )
    .option(
      "--recording <file>",
      "take recorded readings instead (.csv, .jsonl, .senml, or the .db of a running house): the rules run over them and move nothing",
    )
    .option("--zone <name>", "only one zone")
    .option("--price <per kWh>", "what a kWh costs, e.g. 0.31")
    .option("--chart <file>", "draw kept values and what drives them over one another (.png, .svg or .html)")
    .option("--dark", "draw it on a dark page")
    .option("--json", "the figures as JSON")
    .action(async (houses, options) => done(await (await import("./commands/compare.js")).compareHouses(houses, options, io)));

  inWeather(
    command(
      "tune",
      "Try settings of one or two dials or numbers, each in the same simulated days, and recommend one.",
      "modrik tune examples/linden-yard --vary bench.slack=1..6/1 --days 2",
    ),
  )
    .argument(HOUSE, HOUSE_IS)
    .option(
      "--vary <what=values>",
      "a dial or mode with a range and step, or a list: bench.slack=1..6/0.5, bench.slack=1,3,5; or a number that stands in a rule: fumes_out:25 ppm=15..40/5; once or twice",
      collect,
    )
    .option("--rule <name>", "whose kept value is the measure of comfort (default: that of a rule that goes by what is varied)")
    .option("--price <per kWh>", "what a kWh costs, e.g. 0.31")
    .option("--chart <file>", "draw the settings and the front of best choices (.png, .svg or .html)")
    .option("--dark", "draw it on a dark page")
    .option("--json", "the figures as JSON")
    .action(async (house, options) => done(await (await import("./commands/tune.js")).tuneHouse(house, options, io)));

  command(
    "measure",
    "Measure a recording: noise, step, interval and gaps of its signals; what a threshold would have meant; what a zone loses.",
    "modrik measure examples/linden-yard/fortnight.csv examples/linden-yard\n  modrik measure examples/linden-yard/fortnight.csv examples/linden-yard --threshold porch.daylight\n  modrik measure examples/linden-yard/fortnight.csv examples/linden-yard --loss bench",
  )
    .argument("<file>", "a recording: .csv, .jsonl or .senml")
    .argument(HOUSE, `${HOUSE_IS}; without one, only what the file itself says`)
    .option("--threshold <sensor>", "what thresholds of it would have meant, and a pair of points to write into a rule")
    .option("--at <value>", "with --threshold: a value to look at, in its own unit; may be repeated", collect)
    .option("--side <side>", "with --threshold: what counts, below or above (default: below for light, temperature, humidity)")
    .option("--loss <zone>", "heat loss of a zone in W/K, with its uncertainty")
    .option("--outdoors <sensor>", "with --loss: the sensor outdoors (default: the coldest of the other zones)")
    .option("--clock <zone>", "without a house: the IANA time zone of times without an offset, e.g. Europe/Zurich")
    .option("--json", "the figures as JSON")
    .action(async (file, house, options) =>
      done(await (await import("./commands/measure.js")).measureFile(file, house, options, io)),
    );

  command(
    "convert",
    "Convert a house to JSON, or back, or to TypeScript; a recording between CSV, JSON lines and SenML.",
    "modrik convert examples/linden-yard linden-yard.json\n  modrik convert examples/night-oven night-oven.ts\n  modrik convert examples/linden-yard/fortnight.csv fortnight.senml",
  )
    .argument("[in]", "a house: a .modrik file or a folder of them, or a .json file; or a recording: .csv, .jsonl, .senml")
    .argument("[out]", "a .json, .modrik or .ts file; or a .csv, .jsonl or .senml file")
    .option("--clock <zone>", "of a recording: the IANA time zone of times without an offset, e.g. Europe/Zurich")
    .option("--long", "write CSV with a row for each report, not a column for each thing")
    .option("--force", "overwrite an existing file")
    .option("--schema", "print the JSON Schema of a house instead")
    .action(async (from, to, options) => done(await (await import("./commands/convert.js")).convert(from, to, options, io)));

  const live = (it: Command) =>
    it
      .option("--weather <name>", "of simulated devices: one of the weathers of the house (default: its first)")
      .option("--seed <n>", "of simulated devices: random seed for the people (default: 1)")
      .option(
        "--fault <text>",
        "of simulated devices: what befalls one, as in a trial, e.g. 'bench.heater refuses'; may be repeated",
        collect,
      )
      .option("--db <file>", "the file that keeps what the house remembers, its journal and its history")
      .option("--json", "what is said of the running house as lines of JSON");

  live(
    command(
      "run",
      "Run the house on its devices over MQTT, simulated or real, until it is stopped.",
      "modrik run examples/linden-yard --devices simulated --speed 60\n  modrik run examples/linden-yard --mqtt mqtt://localhost --dry",
    ),
  )
    .argument(HOUSE, HOUSE_IS)
    .option(
      "--mqtt <url>",
      "the broker: mqtt://, mqtts://, ws:// or wss://; user and password from MODRIK_MQTT_USER and MODRIK_MQTT_PASSWORD",
    )
    .option("--mqtt-ca <file>", "whom to trust over TLS, in PEM")
    .option("--mqtt-cert <file>", "our own certificate, in PEM")
    .option("--mqtt-key <file>", "its key, in PEM")
    .option("--life-sign <topic>", 'a topic that says "yes" as long as the house runs, and "no" from then on')
    .option("--devices <kind>", "simulated: rooms, weather and people of the house instead of real devices")
    .option("--speed <n>", "with simulated devices: how many times as fast as real")
    .option(
      "--dry",
      "decide and keep everything, send nothing, and say what would have been sent: to try rules beside another system",
    )
    .option(
      "--listen <place>",
      "where the panel is and the house answers over HTTP: a port, or an address and a port (default: 127.0.0.1, any free port)",
    )
    .option(
      "--keep <time>",
      "how long the history is kept whole; what is older is thinned to the mean, least and greatest of each hour (default: 400d)",
    )
    .option(
      "--try-outputs",
      "try every output, one at a time, never against a guard: ask what was seen, or read what devices confirm, and end",
    )
    .option("--on-stop <what>", "what outputs do when the house is stopped: keep or rest (default: keep)")
    .action(async (house, options) => done(await (await import("./commands/run.js")).runHouse(house, options, io)));

  live(
    command(
      "demo",
      "Run a house on simulated devices with a broker of its own, its panel and the playground: all on this machine.",
      "modrik demo --speed 60\n  modrik demo examples/linden-yard --fault 'bench.heater refuses'",
    ),
  )
    .argument("[house]", "a .modrik file or a folder of them (default: Linden Yard)")
    .option("--port <n>", "the port to listen on, on 127.0.0.1; 0 takes any free one", "4810")
    .option("--speed <n>", "how many times as fast as real", "60")
    .action(async (house, options) => done(await (await import("./commands/demo.js")).demo(house, options, io)));

  command("help", "Say what a command does and takes, as its --help does.", "modrik help why")
    .argument("[command]", "its name (default: all of them)")
    .action((name?: string) => {
      const found = name === undefined ? modrik : modrik.commands.find((one) => one.name() === name);
      const names = modrik.commands.map((one) => one.name());
      if (!found) throw new CallError(`There is no command "${name}".`, `There are: ${names.join(", ")}.`);
      found.outputHelp();
      done(true);
    });

  return modrik;
}

/**
 * Runs a command.
 * @param words what is written after `modrik`
 * @returns 0: fine. 1: the house or a trial fell short. 2: the call was wrong
 */
export async function run(words: readonly string[], io: Io): Promise<number> {
  let code = 0;
  try {
    await program(io, (fine) => {
      if (!fine) code = FELL_SHORT;
    }).parseAsync(words, { from: "user" });
    return code;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : WRONG_CALL;
    if (error instanceof CallError) io.err.write(`${error.message}\n${error.remedy ? `  ${error.remedy}\n` : ""}`);
    else if (isSystemError(error))
      io.err.write(`${sayPath(error, io)} cannot be used: ${sayings[error.code] ?? error.message}.\n`);
    else throw error;
    return WRONG_CALL;
  }
}

interface SystemError extends Error {
  readonly code: string;
  readonly path?: string;
}

/** What a disk refuses is no fault of the program. */
function isSystemError(error: unknown): error is SystemError {
  return error instanceof Error && "syscall" in error && "code" in error;
}

/** As it was said: from the folder the command runs in. */
function sayPath({ path }: SystemError, { cwd }: Io): string {
  if (path === undefined) return "The file";
  const near = relative(cwd, path);
  return near.startsWith("..") ? path : near;
}

const sayings: Readonly<Record<string, string>> = {
  EACCES: "no permission",
  EPERM: "no permission",
  ENOENT: "there is no such file or folder",
  EEXIST: "it already exists",
  ENOTDIR: "part of its path is not a folder",
  EISDIR: "it is a folder",
  ENOSPC: "the disk is full",
  EROFS: "the disk is read-only",
};
