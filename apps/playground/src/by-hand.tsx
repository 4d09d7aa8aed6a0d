// Letting things happen at the cursor: each is a line of a timeline, can be undone, and all of them kept as a trial.
import { Autocomplete, Button, Checkbox, NumberInput, Select, Textarea, TextInput } from "@mantine/core";
import { useState } from "react";
import { type ActKind, actKinds, lineOf } from "./act.js";
import { offeredName, trialText } from "./kept-trial.js";
import type { Files, Ran, Reading, ThingInfo } from "./messages.js";
import type { House } from "./use-house.js";

interface ByHandProps {
  readonly house: Pick<House, "proposed" | "toRunner" | "forget">;
  readonly reading: Reading;
  readonly ran: Ran | undefined;
  readonly zone: string | undefined;
  readonly share: number;
  readonly acts: string;
  readonly onActs: (acts: string) => void;
  readonly canUndo: boolean;
  readonly onUndo: () => void;
  readonly files: Files;
  readonly onKeep: (name: string, file: string, text: string) => void;
}

const MINUTE = 60_000;
const DAY = 86_400_000;

export function ByHand(props: ByHandProps) {
  const { house, reading, ran, zone, share, acts, onActs, canUndo, onUndo } = props;
  const isOfDays = ran?.subject.kind === "days";
  const at = ran ? Math.round((ran.from + share * (ran.to - ran.from)) / MINUTE) * MINUTE : 0;
  const problems = ran?.problems ?? [];
  if (!isOfDays) return <p className="quiet">Go back to the simulated day to let something happen in it.</p>;
  const isOneDay = ran.to - ran.from <= 25 * 3_600_000;
  function add(line: string): void {
    onActs(acts.trim() === "" ? line : `${acts.trimEnd()}\n${line}`);
  }
  return (
    <section className="by-hand" aria-label="By hand">
      <ActForm
        reading={reading}
        zone={zone}
        at={at}
        onAct={(kind, of, value, minutes) => {
          const last = Math.max(ran.from, ...ran.happened.map((one) => one.at));
          add(lineOf({ kind, of, value, minutes }, at, last, isOneDay && at < ran.from + DAY));
        }}
      />
      <div className="fields">
        <Textarea
          className="timeline"
          label="What is let happen, line by line"
          description="Written like the timeline of a trial: change it as you like."
          autosize
          minRows={2}
          maxRows={10}
          spellCheck={false}
          value={acts}
          error={problems.length > 0 ? problems.map(({ line, says }) => `Line ${line}: ${says}`).join(" ") : undefined}
          onChange={({ currentTarget }) => onActs(currentTarget.value)}
        />
        <Button variant="default" size="xs" disabled={!canUndo} onClick={onUndo}>
          Undo
        </Button>
        <Button variant="default" size="xs" disabled={acts.trim() === ""} onClick={() => onActs("")}>
          Nothing happens
        </Button>
        <Button size="xs" disabled={problems.length > 0} onClick={() => house.toRunner({ kind: "propose" })}>
          Keep as trial…
        </Button>
      </div>
      {house.proposed && <Keep {...props} />}
    </section>
  );
}

interface ActFormProps {
  readonly reading: Reading;
  readonly zone: string | undefined;
  readonly at: number;
  readonly onAct: (kind: ActKind, of: string, value: string, minutes: number) => void;
}

function ActForm({ reading, zone, at, onAct }: ActFormProps) {
  const [kind, setKind] = useState<ActKind>("reads");
  const [of, setOf] = useState<string>();
  const [value, setValue] = useState("");
  const [minutes, setMinutes] = useState(30);
  const row = actKinds.find((one) => one.kind === kind);
  const { fits, hasValue, lasts } = row ?? {};
  const isHere = (name: string) => zone !== undefined && name.startsWith(`${zone}.`);
  const fitting = fits ? reading.things.filter(fits) : [];
  // Those of the zone that is looked at first.
  const offered = [...fitting.filter(({ name }) => isHere(name)), ...fitting.filter(({ name }) => !isHere(name))];
  const names =
    kind === "preset"
      ? reading.presets.map(({ name, title = name }) => ({ value: name, label: title }))
      : offered.map(({ name, title }) => ({ value: name, label: title === name ? name : `${title} (${name})` }));
  const chosen = names.some((one) => one.value === of) ? of : names[0]?.value;
  const thing = offered.find(({ name }) => name === chosen);
  const written = typedValue(thing, value);
  const needsThing = fits !== undefined || kind === "preset";
  const isReady = (!needsThing || chosen !== undefined) && (!hasValue || written !== undefined);
  return (
    <form
      className="fields"
      onSubmit={(event) => {
        event.preventDefault();
        if (isReady) onAct(kind, chosen ?? "", written ?? "", minutes);
      }}
    >
      <Select
        label="Let happen"
        size="xs"
        allowDeselect={false}
        value={kind}
        data={actKinds.map(({ kind: value, says }) => ({ value, label: says }))}
        onChange={(next) => next && setKind(next as ActKind)}
      />
      {needsThing && (
        <Select
          label={kind === "preset" ? "Preset" : "Which"}
          size="xs"
          searchable
          allowDeselect={false}
          value={chosen ?? null}
          data={names}
          nothingFoundMessage="The house has none."
          onChange={(next) => next && setOf(next)}
        />
      )}
      {hasValue &&
        (thing?.words ? (
          <Autocomplete label="Value" size="xs" data={[...thing.words]} value={value} onChange={setValue} />
        ) : (
          <TextInput
            label="Value"
            size="xs"
            placeholder={thing?.unit ? `in ${thing.unit}` : ""}
            value={value}
            onChange={({ currentTarget }) => setValue(currentTarget.value)}
          />
        ))}
      {lasts && (
        <NumberInput
          label={lasts === "for" ? "For" : "Within"}
          size="xs"
          min={1}
          max={1440}
          suffix=" min"
          value={minutes}
          onChange={(next) => typeof next === "number" && setMinutes(next)}
        />
      )}
      <Button type="submit" size="xs" disabled={!isReady}>
        Let it happen at {new Date(at).toISOString().slice(11, 16)}
      </Button>
    </form>
  );
}

/** What was typed, with the thing's own unit where it has none; nothing where it is not a value. */
function typedValue(thing: ThingInfo | undefined, typed: string): string | undefined {
  const text = typed.trim().replace(/^(-?\d+),(\d+)/, "$1.$2");
  if (!thing || text === "") return undefined;
  if (text === "unknown") return text;
  if (thing.words) return thing.words.includes(text) ? text : undefined;
  if (/^-?\d+(\.\d+)?$/.test(text)) return thing.unit ? `${text} ${thing.unit}` : text;
  return text;
}

function Keep({ house, files, zone, onKeep }: ByHandProps) {
  const { head = "", offers: all = [], broken } = house.proposed ?? {};
  const isHere = (says: string) => zone !== undefined && says.includes(`${zone}.`);
  const offers = [...all.filter(isHere), ...all.filter((says) => !isHere(says))];
  const names = Object.values(files).join("\n");
  const [name, setName] = useState(() => offeredName(names));
  const [title, setTitle] = useState("");
  const [ticked, setTicked] = useState<readonly string[]>([]);
  const trialFiles = Object.keys(files).filter((file) => /^trials\//.test(file));
  const [file, setFile] = useState(trialFiles[0] ?? "trials/kept.modrik");
  const isTaken = new RegExp(`\\btrial\\s+${name}\\b`).test(names);
  const isNamed = /^\p{L}[\p{L}\p{N}_]*$/u.test(name);
  const wrong = !isNamed ? "A word of letters, digits and _." : isTaken ? "There is a trial of that name." : undefined;
  if (broken !== undefined)
    return (
      <p className="wrong" role="alert">
        This cannot be a trial as it is. {broken}
      </p>
    );
  return (
    <form
      className="keep"
      aria-label="Keep as trial"
      onSubmit={(event) => {
        event.preventDefault();
        if (wrong === undefined && ticked.length > 0) {
          onKeep(name, file, trialText({ name, title, head, expectations: ticked }));
          house.forget({ proposed: undefined });
        }
      }}
    >
      <p>
        The trial begins at the hour before the first of them, on the simulated rooms, with what the sensors read then. Tick what
        it is to expect; all of these were so when it was tried.
      </p>
      <div className="fields">
        <TextInput
          label="Name"
          size="xs"
          value={name}
          error={wrong}
          onChange={({ currentTarget }) => setName(currentTarget.value)}
        />
        <TextInput
          label="In a sentence"
          size="xs"
          value={title}
          onChange={({ currentTarget }) => setTitle(currentTarget.value)}
        />
        <Autocomplete
          label="In file"
          size="xs"
          data={[...new Set([...trialFiles, "trials/kept.modrik"])]}
          value={file}
          onChange={setFile}
        />
      </div>
      <Checkbox.Group value={[...ticked]} onChange={setTicked} label="It expects">
        <ul className="offers">
          {offers.map((one) => (
            <li key={one}>
              <Checkbox size="xs" value={one} label={one} />
            </li>
          ))}
        </ul>
      </Checkbox.Group>
      <div className="fields">
        <Button type="submit" size="xs" disabled={wrong !== undefined || ticked.length === 0 || !/\.modrik$/.test(file)}>
          Write the trial
        </Button>
        <Button variant="default" size="xs" onClick={() => house.forget({ proposed: undefined })}>
          Cancel
        </Button>
      </div>
    </form>
  );
}
