// What the house is run under: the weather, which days, dials and modes to be typed as well as nudged, presets.
import { Button, NumberInput, SegmentedControl, Select, TextInput } from "@mantine/core";
import type { Dial, Mode, Value, Weather } from "modrik";
import { isIn, titleOf } from "modrik";
import type { Reading, Setup } from "./messages.js";

interface SettingsProps {
  readonly reading: Reading;
  /** Whose dials are shown, together with those of the whole house. */
  readonly zone: string | undefined;
  readonly setup: Pick<Setup, "weather" | "set" | "from" | "days">;
  /** Of what is run, where no date is chosen. */
  readonly date: string;
  readonly onSetup: (change: Partial<Setup>) => void;
}

const spans = [
  { value: "1", label: "day" },
  { value: "7", label: "week" },
  { value: "31", label: "month" },
];

export function Settings({ reading, zone, setup, date, onSetup }: SettingsProps) {
  const { modes, weathers, presets } = reading;
  const { weather, set, days } = setup;
  const dials = reading.dials.filter(({ name }) => !name.includes(".") || isIn(zone, name));
  const onSet = (name: string, value: Value) => onSetup({ set: { ...set, [name]: value } });
  const isSet = Object.keys(set).length > 0;
  const offered = presets.filter(({ sets }) => Object.keys(sets).length > 0);
  return (
    <section className="settings" aria-label="Dials and weather">
      {weathers.length > 0 && (
        <WeatherSelect weathers={weathers} weather={weather} onWeather={(name) => onSetup({ weather: name })} />
      )}
      <TextInput
        label="From"
        size="xs"
        type="date"
        value={setup.from ?? date}
        onChange={({ currentTarget: { value } }) => /^\d{4}-\d\d-\d\d$/.test(value) && onSetup({ from: value })}
      />
      <div className="field">
        <span className="label" id="span">
          How long
        </span>
        <SegmentedControl
          aria-labelledby="span"
          size="xs"
          value={String(days)}
          onChange={(value) => onSetup({ days: Number(value) })}
          data={spans}
        />
      </div>
      {dials.map((dial) => (
        <DialInput key={dial.name} dial={dial} value={set[dial.name] ?? dial.atFirst} onSet={onSet} />
      ))}
      {modes.map((mode) => (
        <ModeSelect key={mode.name} mode={mode} value={set[mode.name] ?? mode.atFirst} onSet={onSet} />
      ))}
      {offered.length > 0 && (
        <Select
          label="Preset"
          size="xs"
          placeholder="Apply…"
          value={null}
          data={offered.map((one) => ({ value: one.name, label: titleOf(one) }))}
          onChange={(name) => onSetup({ set: { ...set, ...offered.find((one) => one.name === name)?.sets } })}
        />
      )}
      {isSet && (
        <Button className="back" variant="subtle" size="compact-xs" onClick={() => onSetup({ set: {} })}>
          Dials as written
        </Button>
      )}
    </section>
  );
}

function WeatherSelect({
  weathers,
  weather,
  onWeather,
}: {
  readonly weathers: readonly Weather[];
  readonly weather: string | undefined;
  readonly onWeather: (name: string) => void;
}) {
  const known = weathers.some(({ name }) => name === weather);
  return (
    <Select
      label="Weather"
      size="xs"
      allowDeselect={false}
      data={weathers.map((one) => ({ value: one.name, label: titleOf(one) }))}
      value={(known ? weather : weathers[0]?.name) ?? null}
      onChange={(name) => name && onWeather(name)}
    />
  );
}

type OnSet = (name: string, value: Value) => void;

function DialInput({ dial, value, onSet }: { dial: Dial; value: Value; onSet: OnSet }) {
  const { type, range, step = 1 } = dial;
  const label = titleOf(dial);
  if (type.kind === "words") return <WordSelect label={label} name={dial.name} words={type.words} value={value} onSet={onSet} />;
  if (type.kind === "time") {
    return (
      <TextInput
        label={label}
        size="xs"
        type="time"
        value={timeText(Number(value))}
        onChange={({ currentTarget }) => {
          const [hours, minutes] = currentTarget.value.split(":").map(Number);
          if (hours !== undefined && minutes !== undefined) onSet(dial.name, (hours * 60 + minutes) * 60e3);
        }}
      />
    );
  }
  if (type.kind !== "number") return <TextInput label={label} size="xs" value={String(value)} readOnly />;
  return (
    <NumberInput
      label={label}
      size="xs"
      suffix={type.unit === "" ? "" : ` ${type.unit}`}
      step={step}
      clampBehavior="strict"
      {...(range && { min: range[0], max: range[1] })}
      value={Number(value)}
      onChange={(typed) =>
        typeof typed === "number" && (!range || (typed >= range[0] && typed <= range[1])) && onSet(dial.name, typed)
      }
    />
  );
}

function ModeSelect({ mode, value, onSet }: { mode: Mode; value: Value; onSet: OnSet }) {
  return <WordSelect label={`${titleOf(mode)} at first`} name={mode.name} words={mode.type.words} value={value} onSet={onSet} />;
}

interface WordSelectProps {
  readonly label: string;
  readonly name: string;
  readonly words: readonly string[];
  readonly value: Value;
  readonly onSet: OnSet;
}

function WordSelect({ label, name, words, value, onSet }: WordSelectProps) {
  return (
    <Select
      label={label}
      size="xs"
      allowDeselect={false}
      data={[...words]}
      value={String(value)}
      onChange={(word) => word && onSet(name, word)}
    />
  );
}

function timeText(ms: number): string {
  const minutes = Math.floor(ms / 60e3);
  return `${String(Math.floor(minutes / 60)).padStart(2, "0")}:${String(minutes % 60).padStart(2, "0")}`;
}
