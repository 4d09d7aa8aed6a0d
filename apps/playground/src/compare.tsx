// The day next to another: with other dials, another text, an earlier version; and one dial tried over its range.
import { Button, NumberInput, Select } from "@mantine/core";
import { lazy, Suspense, useEffect, useState } from "react";
import type { Comparison, Look, Reading, Setup, TuningResult } from "./messages.js";
import type { House } from "./use-house.js";
import { type Version, versionNames } from "./versions.js";

const Drawn = lazy(async () => ({ default: (await import("@modrik/look/drawn")).Drawn }));
const Plain = lazy(async () => ({ default: (await import("@modrik/look/drawn")).Plain }));

interface CompareProps {
  readonly house: Pick<House, "compared" | "tuned" | "toRunner" | "toJudge" | "forget">;
  readonly reading: Reading;
  readonly setup: Setup;
  readonly look: Look | undefined;
  readonly versions: readonly Version[];
  /** The variant that was held, if one was. */
  readonly held: Setup | undefined;
  readonly onHold: (setup: Setup | undefined) => void;
  readonly onSet: (name: string, value: Setup["set"][string]) => void;
  readonly onRestore: (setup: Setup) => void;
}

const HELD = "held";

export function Compare(props: CompareProps) {
  const { house, setup, versions, held, onHold, onRestore } = props;
  const { toRunner } = house;
  const [chosen, setChosen] = useState<string | null>(held ? HELD : null);
  const names = versionNames(versions);
  const version = versions.find(({ id }) => String(id) === chosen);
  const other = chosen === HELD ? held : version?.setup;
  const name = chosen === HELD ? "held" : (names.find(({ value }) => value === chosen)?.label ?? "");
  useEffect(() => {
    toRunner({ kind: "beside", setup: other, name });
    return () => toRunner({ kind: "beside", setup: undefined, name: "" });
  }, [other, name, toRunner]);
  const { comparison, broken } = house.compared ?? {};
  return (
    <section aria-label="Compare">
      <div className="fields">
        <Button
          size="xs"
          variant="default"
          onClick={() => {
            onHold(setup);
            setChosen(HELD);
          }}
        >
          Hold this one
        </Button>
        <Select
          label="Beside"
          size="xs"
          clearable
          placeholder="nothing"
          value={chosen}
          data={[...(held ? [{ value: HELD, label: "the one that is held" }] : []), ...names]}
          onChange={setChosen}
        />
        {other && (
          <Button size="xs" variant="subtle" onClick={() => onRestore(other)}>
            Go back to that one
          </Button>
        )}
      </div>
      {!other && (
        <p className="quiet">
          Hold the house as it is, then change a dial or its text: both are drawn over one another. Earlier versions of the text
          can be laid beside it too.
        </p>
      )}
      {other && broken !== undefined && (
        <p className="wrong" role="alert">
          {broken}
        </p>
      )}
      {other && comparison && <Compared comparison={comparison} />}
      <Tune {...props} />
    </section>
  );
}

function Compared({ comparison: { chart, names, rows, same } }: { readonly comparison: Comparison }) {
  return (
    <>
      {rows.length === 0 ? (
        <p role="status">All {same} figures are the same.</p>
      ) : (
        <>
          <Suspense fallback={<p className="quiet">Drawing…</p>}>
            {(chart.readings?.length ?? 0) > 0 && <Drawn chart={chart} label="Moment of both days; arrow keys move it" />}
          </Suspense>
          <div className="wide">
            <table>
              <caption>Figures that differ; * the better one. {same} are the same.</caption>
              <thead>
                <tr>
                  <th scope="col">figure</th>
                  {names.map((name) => (
                    <th key={name} scope="col">
                      {name}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {rows.map(({ label, values, best }) => (
                  <tr key={label}>
                    <th scope="row">{label}</th>
                    {values.map((value, place) => (
                      <td key={names[place]}>
                        {value}
                        {best.includes(place) && " *"}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </>
      )}
    </>
  );
}

/** So many settings are tried at most: a person waits for them. */
const MOST = 60;

function Tune({ house, reading, setup, look, onSet }: CompareProps) {
  const numbers = reading.dials.filter(({ type }) => type.kind === "number");
  // Those of the zone that is looked at first.
  const isHere = (of: string) => look?.zone !== undefined && of.startsWith(`${look.zone}.`);
  const dials = [...numbers.filter((one) => isHere(one.name)), ...numbers.filter((one) => !isHere(one.name))];
  const [name, setName] = useState<string>();
  const dial = dials.find((one) => one.name === name) ?? dials[0];
  const [low, high] = dial?.range ?? [0, 10];
  const [range, setRange] = useState<{
    readonly of: string;
    readonly from: number;
    readonly to: number;
    readonly step: number;
  }>();
  if (!dial) return null;
  const usual = { of: dial.name, from: low, to: high, step: Math.max(dial.step ?? 0, Number(((high - low) / 8).toPrecision(1))) };
  const { from, to, step } = range?.of === dial.name ? range : usual;
  const count = step > 0 && to >= from ? Math.floor((to - from) / step + 1e-9) + 1 : 0;
  const { share, result, broken } = house.tuned ?? {};
  const isTrying = share !== undefined && share < 1;
  const change = (part: "from" | "to" | "step") => (value: string | number) =>
    typeof value === "number" && setRange({ of: dial.name, from, to, step, [part]: value });
  return (
    <section className="tune" aria-label="Tune one dial">
      <h3>Which value is best</h3>
      <form
        className="fields"
        onSubmit={(event) => {
          event.preventDefault();
          if (look) house.toJudge({ kind: "tune", knob: `${dial.name}=${from}..${to}/${step}`, days: setup.days, look });
        }}
      >
        <Select
          label="Dial"
          size="xs"
          allowDeselect={false}
          value={dial.name}
          data={dials.map((one) => ({ value: one.name, label: one.title ?? one.name }))}
          onChange={(next) => next && setName(next)}
        />
        <NumberInput label="From" size="xs" value={from} onChange={change("from")} />
        <NumberInput label="To" size="xs" value={to} onChange={change("to")} />
        <NumberInput label="Step" size="xs" min={0} value={step} onChange={change("step")} />
        <Button type="submit" size="xs" disabled={count < 1 || count > MOST || isTrying}>
          Try {count} values
        </Button>
        {isTrying && (
          <>
            <progress max={1} value={share} aria-label="Tried so far" />
            <Button size="xs" variant="default" onClick={() => house.toJudge({ kind: "stop tuning" })}>
              Stop
            </Button>
          </>
        )}
      </form>
      {count > MOST && (
        <p className="doubtful">
          These are {count} values; at most {MOST} are tried here.
        </p>
      )}
      {broken !== undefined && (
        <p className="wrong" role="alert">
          {broken}
        </p>
      )}
      {result && <Tuned result={result} onSet={(value) => onSet(dial.name, value)} />}
    </section>
  );
}

function Tuned({
  result: { says, head, rows, chart },
  onSet,
}: {
  readonly result: TuningResult;
  readonly onSet: (value: number) => void;
}) {
  const best = rows.find(({ isBest }) => isBest);
  return (
    <>
      <p role="status">
        {says}{" "}
        {best && !best.isToday && (
          <Button size="compact-xs" variant="default" onClick={() => onSet(Number(best.value))}>
            Set it
          </Button>
        )}
      </p>
      <Suspense fallback={<p className="quiet">Drawing…</p>}>
        <Plain chart={chart} label="Distance from the target against starts a day; the table has the same figures" />
      </Suspense>
      <div className="wide">
        <table>
          <thead>
            <tr>
              {[...head, ""].map((one) => (
                <th key={one} scope="col">
                  {one}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(({ cells, isToday, isBest, isFront }) => (
              <tr key={cells[0]}>
                {cells.map((cell, place) =>
                  place === 0 ? (
                    <th key={head[place]} scope="row">
                      {cell}
                    </th>
                  ) : (
                    <td key={head[place]}>{cell}</td>
                  ),
                )}
                <td>{[isToday && "now", isFront && "front", isBest && "best"].filter(Boolean).join(", ")}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
