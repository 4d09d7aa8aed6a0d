// Readings of a real house: a file is dropped, its columns are given to things, the rules run over it, and a threshold is
// picked by how often a signal was how much.
import { Button, Select } from "@mantine/core";
import { type DragEvent, useEffect, useState } from "react";
import type { Distribution, Ran, Reading, RecordingInfo, Subject } from "./messages.js";
import type { House } from "./use-house.js";

interface RecordingProps {
  readonly house: Pick<House, "recorded" | "distributed" | "toRunner">;
  readonly reading: Reading;
  readonly ran: Ran | undefined;
  readonly onSubject: (subject: Subject) => void;
}

export function Recording({ house: { recorded, distributed, toRunner }, reading, ran, onSubject }: RecordingProps) {
  const [isOver, setOver] = useState(false);
  async function read(file: File | undefined): Promise<void> {
    if (file) toRunner({ kind: "open recording", name: file.name, text: await file.text(), modified: file.lastModified });
  }
  function onDrop(event: DragEvent): void {
    event.preventDefault();
    setOver(false);
    void read(event.dataTransfer.files[0]);
  }
  const { recording, broken } = recorded ?? {};
  return (
    <section
      aria-label="Recording"
      className="recording"
      data-over={isOver}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={onDrop}
    >
      <label className="file">
        Drop a recording here, or choose one: CSV, SenML or JSON lines{" "}
        <input
          type="file"
          accept=".csv,.json,.jsonl,.ndjson,.senml,.txt"
          onChange={({ currentTarget }) => void read(currentTarget.files?.[0])}
        />
      </label>
      {broken !== undefined && (
        <p className="wrong" role="alert">
          {broken}
        </p>
      )}
      {recording && <Columns key={recording.name} recording={recording} reading={reading} ran={ran} onSubject={onSubject} />}
      {recording && (
        <Threshold
          key={`${recording.name} threshold`}
          recording={recording}
          reading={reading}
          distributed={distributed}
          toRunner={toRunner}
        />
      )}
    </section>
  );
}

interface ColumnsProps {
  readonly recording: RecordingInfo;
  readonly reading: Reading;
  readonly ran: Ran | undefined;
  readonly onSubject: (subject: Subject) => void;
}

function Columns({ recording: { name, form, notes, columns: all }, reading, ran, onSubject }: ColumnsProps) {
  const targets = [
    ...reading.things.map((one) => ({ name: one.name, title: one.title })),
    ...[...reading.dials, ...reading.modes].map((one) => ({ name: one.name, title: one.title ?? one.name })),
  ];
  const [columns, setColumns] = useState<Readonly<Record<string, string>>>(() => guessed(all, targets));
  const count = Object.values(columns).filter(Boolean).length;
  return (
    <>
      <p className="quiet">
        {name}: {form}, {all.length} columns. {notes.join(" ")}
      </p>
      <div className="wide">
        <table>
          <caption>Which column is which thing</caption>
          <thead>
            <tr>
              <th scope="col">column</th>
              <th scope="col">reports</th>
              <th scope="col">the first</th>
              <th scope="col">is</th>
            </tr>
          </thead>
          <tbody>
            {all.map((column) => (
              <tr key={column.name}>
                <th scope="row">{column.name}</th>
                <td>{column.count}</td>
                <td>{column.first}</td>
                <td>
                  <Select
                    aria-label={`${column.name} is`}
                    size="xs"
                    searchable
                    clearable
                    placeholder="left out"
                    value={columns[column.name] || null}
                    data={targets.map((one) => ({ value: one.name, label: one.name }))}
                    onChange={(thing) => setColumns((before) => ({ ...before, [column.name]: thing ?? "" }))}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="fields">
        <Button size="xs" disabled={count === 0} onClick={() => onSubject({ kind: "recording", columns })}>
          Run the rules over it
        </Button>
      </div>
      {ran?.subject.kind === "recording" && ran.differences && (
        <ul aria-label="What the rules would have done">
          {ran.differences.map(({ output, says }) => (
            <li key={output}>{says}</li>
          ))}
        </ul>
      )}
    </>
  );
}

/** Columns by the names of things: whole, or by their last part where only one thing has it. */
function guessed(
  columns: RecordingInfo["columns"],
  targets: readonly { readonly name: string; readonly title: string }[],
): Record<string, string> {
  const plain = (text: string) => text.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, "");
  return Object.fromEntries(
    columns.map(({ name }) => {
      const same = targets.find((one) => one.name === name) ?? targets.find((one) => plain(one.name) === plain(name));
      if (same) return [name, same.name];
      const alike = targets.filter((one) => plain(one.title) === plain(name) || one.name.endsWith(`.${name}`));
      return [name, alike.length === 1 ? (alike[0]?.name ?? "") : ""];
    }),
  );
}

interface ThresholdProps {
  readonly recording: RecordingInfo;
  readonly reading: Reading;
  readonly distributed: House["distributed"];
  readonly toRunner: House["toRunner"];
}

function Threshold({ recording, reading, distributed, toRunner }: ThresholdProps) {
  // What outputs did is nothing to switch by.
  const figures = recording.figures.filter(
    ({ name }) => !reading.things.some((one) => one.role === "output" && one.name === name),
  );
  const [name, setName] = useState<string | null>(figures[0]?.name ?? null);
  const [side, setSide] = useState<string | null>(null);
  useEffect(() => {
    if (name !== null) toRunner({ kind: "distribute", name, side: (side as "below" | "above" | null) ?? undefined });
  }, [name, side, toRunner]);
  if (figures.length === 0) return <p className="quiet">It has no numbers to pick a threshold from.</p>;
  const { distribution, broken } = distributed ?? {};
  return (
    <section aria-label="Pick a threshold">
      <h3>Pick a threshold</h3>
      <div className="fields">
        <Select
          label="Signal"
          size="xs"
          searchable
          allowDeselect={false}
          value={name}
          data={figures.map((one) => one.name)}
          onChange={setName}
        />
        <Select
          label="Something is to be done"
          size="xs"
          clearable
          placeholder="on its usual side"
          value={side}
          data={["below", "above"]}
          onChange={setSide}
        />
      </div>
      {broken !== undefined && (
        <p className="wrong" role="alert">
          {broken}
        </p>
      )}
      {distribution && distribution.thresholds.name === name && <Distributed distribution={distribution} />}
    </section>
  );
}

function Distributed({ distribution: { thresholds, bins } }: { readonly distribution: Distribution }) {
  const { unit = "", side, candidates, suggested } = thresholds;
  const most = Math.max(...bins.map(({ share }) => share));
  const say = (value: number) => `${Number(value.toPrecision(4))} ${unit}`.trim();
  return (
    <>
      <p role="status">
        {suggested ? (
          <>
            Two points that its noise does not cross: <code>{suggested.says}</code>, {suggested.aDay.toFixed(1)} times a day.
          </>
        ) : (
          "No pair of points fits: its noise is as wide as all it did."
        )}
      </p>
      <div className="bins" role="img" aria-label={`How often ${thresholds.name} was how much; the table has the figures`}>
        {bins.map(({ from, to, share }) => (
          <span
            key={from}
            style={{ height: `${(100 * share) / most}%` }}
            title={`${say(from)} to ${say(to)}: ${(100 * share).toFixed(1)} %`}
          />
        ))}
      </div>
      <p className="ends" aria-hidden="true">
        <span>{say(bins[0]?.from ?? 0)}</span>
        <span>{say(bins.at(-1)?.to ?? 0)}</span>
      </p>
      <div className="wide">
        <table>
          <caption>What each threshold would have meant</caption>
          <thead>
            <tr>
              <th scope="col">{side}</th>
              <th scope="col">of the time</th>
              {(candidates[0]?.crossings ?? []).map(({ hold }) => (
                <th key={hold} scope="col">
                  begins a day{hold > 0 ? `, held ${hold / 60_000} min` : ""}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {candidates.map(({ value, beyond, crossings }) => (
              <tr key={value}>
                <th scope="row">{say(value)}</th>
                <td>{(100 * beyond).toFixed(1)} %</td>
                {crossings.map(({ hold, aDay }) => (
                  <td key={hold}>{aDay.toFixed(1)}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
