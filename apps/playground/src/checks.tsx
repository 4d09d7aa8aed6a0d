// What is wrong and what is untested: findings, what no trial tried, and for each sensor the line of its numbers.

import { Button } from "@mantine/core";
import type { Reading as ChartReading } from "@modrik/charts";
import type { LineRow, NumberLine } from "modrik";
import type { Link, Remark } from "./messages.js";
import type { House } from "./use-house.js";

interface ChecksProps {
  readonly house: Pick<House, "findings" | "lines" | "covered" | "toJudge" | "isJudged">;
  readonly problems: readonly Remark[];
  /** What the sensors read at the cursor, by name, in their own units. */
  readonly readings: ReadonlyMap<string, number>;
  readonly onLink: (link: Link) => void;
  readonly onProblem: (problem: Remark) => void;
}

export function Checks({ house, problems, readings, onLink, onProblem }: ChecksProps) {
  const { lines: all, isJudged } = house;
  // Those that are looked at first.
  const lines = [...all.filter(({ sensor }) => readings.has(sensor)), ...all.filter(({ sensor }) => !readings.has(sensor))];
  return (
    <section aria-label="Checks">
      <h3>What reasoning finds</h3>
      {problems.length === 0 ? (
        <p role="status" className={isJudged ? "right" : "quiet"}>
          {isJudged ? "Nothing wrong: no gap, no overlap, no chatter, nothing that waits for ever." : "Checking…"}
        </p>
      ) : (
        <ul>
          {problems.map((problem) => (
            <li key={`${problem.place.file}:${problem.place.from}:${problem.reason}`}>
              <button type="button" className="problem" onClick={() => onProblem(problem)}>
                <span className="quiet">{problem.code}</span> {problem.reason} {problem.remedy}
              </button>
            </li>
          ))}
        </ul>
      )}
      <Covered house={house} onLink={onLink} />
      <h3>Numbers that switch something</h3>
      {lines.length === 0 && <p className="quiet">No rule compares a sensor with a number.</p>}
      {lines.map((line) => (
        <Line key={line.sensor} line={line} reading={readings.get(line.sensor)} />
      ))}
    </section>
  );
}

function Covered({ house: { covered, toJudge }, onLink }: Pick<ChecksProps, "house" | "onLink">) {
  const { share, tested = 0, untested } = covered ?? {};
  const isReckoning = share !== undefined && share < 1;
  const groups = grouped(untested ?? []);
  return (
    <>
      <h3>What no trial tried</h3>
      <div className="fields">
        <Button size="xs" variant="default" disabled={isReckoning} onClick={() => toJudge({ kind: "cover" })}>
          {untested ? "Look again" : "Look what is untested"}
        </Button>
        {isReckoning && <progress max={1} value={share} aria-label="Looked at so far" />}
        {untested && (
          <p role="status">
            {tested} of {tested + untested.length} things were tried
            {untested.length === 0 ? ": every sentence, branch, condition and bound." : "."}
          </p>
        )}
      </div>
      {groups.map(([label, { link, points }]) => (
        <details key={label}>
          <summary>
            {label}: {points.length} untested
          </summary>
          <ul>
            {points.map(({ says, suggestion }) => (
              <li key={says}>
                {says}
                {suggestion !== undefined && (
                  <>
                    ; try <code>{suggestion}</code>
                  </>
                )}
              </li>
            ))}
          </ul>
          {link && (
            <button type="button" className="link" onClick={() => onLink(link)}>
              {link.label}
            </button>
          )}
        </details>
      ))}
    </>
  );
}

type Untested = NonNullable<NonNullable<House["covered"]>["untested"]>;

/** Sentence by sentence. */
function grouped(points: Untested): [string, { link: Link | undefined; points: Untested }][] {
  const groups = new Map<string, { link: Link | undefined; points: Untested }>();
  for (const point of points) {
    const label = point.link?.label ?? "elsewhere";
    const known = groups.get(label);
    groups.set(label, { link: point.link, points: [...(known?.points ?? []), point] });
  }
  return [...groups];
}

interface LineProps {
  readonly line: NumberLine;
  readonly reading: number | undefined;
}

/** Room next to its outermost points, as a share of what lies between them. */
const BESIDE = 0.25;

function Line({ line: { sensor, unit, rows }, reading }: LineProps) {
  const all = [...rows.flatMap(({ points }) => points), ...(reading === undefined ? [] : [reading])];
  const [least, most] = [Math.min(...all), Math.max(...all)];
  const room = BESIDE * (most - least || Math.abs(most) || 1);
  const [low, high] = [least - room, most + room];
  const place = (value: number) => (100 * (value - low)) / (high - low);
  const say = (value: number) => `${Number(value.toPrecision(4))} ${unit}`.trim();
  const points = [...new Set(rows.flatMap((row) => row.points))].sort((a, b) => a - b);
  return (
    <figure className="line">
      <figcaption>
        <strong>{sensor}</strong>{" "}
        <span className="quiet">{reading === undefined ? "" : `reads ${say(reading)} at the cursor`}</span>
      </figcaption>
      <ul>
        {rows.map((row) => (
          <li key={`${row.kind} ${row.name} ${row.sentence ?? ""} ${row.says}`}>
            <span className="name">
              {row.kind} {row.name}: {row.says}
              <span className="unseen">; {inWords(row, say)}</span>
            </span>
            <span className="stretches" aria-hidden="true">
              {row.stretches.map(({ from, to, state }) => (
                <span
                  key={`${from} ${to}`}
                  data-state={state}
                  title={`${from === undefined ? "below" : say(from)} ${to === undefined ? "and above" : `to ${say(to)}`}: ${state}`}
                  style={{ insetInlineStart: `${place(from ?? low)}%`, width: `${place(to ?? high) - place(from ?? low)}%` }}
                />
              ))}
              {reading !== undefined && <span className="reading" style={{ insetInlineStart: `${place(reading)}%` }} />}
            </span>
          </li>
        ))}
      </ul>
      <p className="points" aria-hidden="true">
        {points.map((point) => (
          <span key={point} style={{ insetInlineStart: `${place(point)}%` }}>
            {Number(point.toPrecision(4))}
          </span>
        ))}
      </p>
    </figure>
  );
}

function inWords({ stretches }: LineRow, say: (value: number) => string): string {
  return stretches
    .map(({ from, to, state }) => {
      const where =
        from === undefined ? `below ${say(to ?? 0)}` : to === undefined ? `above ${say(from)}` : `${say(from)} to ${say(to)}`;
      return `${where} ${state}`;
    })
    .join(", ");
}

/** What sensors read at an instant of the axis. */
export function readingsAt(readings: readonly ChartReading[], at: number): ReadonlyMap<string, number> {
  return new Map(
    readings.flatMap(({ thing, unit, times, values }) => {
      const value = values[times.findLastIndex((time) => time <= at)];
      return thing !== undefined && unit !== undefined && typeof value === "number" ? [[thing, value] as const] : [];
    }),
  );
}
