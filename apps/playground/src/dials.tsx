// The dials and modes of the house and the weather around it, each to be typed into as well as nudged.
import { NumberInput, Select, TextInput } from "@mantine/core";
import type { Dial, Mode, Value, Weather } from "modrik";
import { isIn, titleOf } from "modrik";
import type { Reading } from "./messages.js";

interface DialsProps {
  readonly reading: Reading;
  /** Whose dials are shown, beside those of the whole house. */
  readonly zone: string | undefined;
  readonly weather: string | undefined;
  readonly set: Readonly<Record<string, Value>>;
  readonly onWeather: (name: string) => void;
  readonly onSet: (name: string, value: Value) => void;
}

export function Dials({ reading, zone, weather, set, onWeather, onSet }: DialsProps) {
  const { modes, weathers } = reading;
  const dials = reading.dials.filter(({ name }) => !name.includes(".") || isIn(zone, name));
  return (
    <section className="dials" aria-label="Dials and weather">
      {weathers.length > 0 && <WeatherSelect weathers={weathers} weather={weather} onWeather={onWeather} />}
      {dials.map((dial) => (
        <DialInput key={dial.name} dial={dial} value={set[dial.name] ?? dial.atFirst} onSet={onSet} />
      ))}
      {modes.map((mode) => (
        <ModeSelect key={mode.name} mode={mode} value={set[mode.name] ?? mode.atFirst} onSet={onSet} />
      ))}
    </section>
  );
}

function WeatherSelect({
  weathers,
  weather,
  onWeather,
}: { weathers: readonly Weather[] } & Pick<DialsProps, "weather" | "onWeather">) {
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

function DialInput({ dial, value, onSet }: { dial: Dial; value: Value; onSet: DialsProps["onSet"] }) {
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

function ModeSelect({ mode, value, onSet }: { mode: Mode; value: Value; onSet: DialsProps["onSet"] }) {
  return <WordSelect label={`${titleOf(mode)} at first`} name={mode.name} words={mode.type.words} value={value} onSet={onSet} />;
}

interface WordSelectProps extends Pick<DialsProps, "onSet"> {
  readonly label: string;
  readonly name: string;
  readonly words: readonly string[];
  readonly value: Value;
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
