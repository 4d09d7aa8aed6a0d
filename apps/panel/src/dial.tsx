// A dial: typed exactly or nudged by its step, with what it would do shown next to it before it is set.
import { Button, NativeSelect, TextInput } from "@mantine/core";
import { useDebouncedValue } from "@mantine/hooks";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useAct, Wrong } from "./acting.js";
import { ask, type Dial, type Explanation, queryOf } from "./ask.js";
import { useHouse, useHouseTime, useMayAct, useTitle } from "./house.js";
import { figureOf, momentOf, rangeOf } from "./say.js";
import { Sentences } from "./why.js";

export function DialForm({ dial }: { readonly dial: Dial }) {
  const { now } = useHouse();
  const time = useHouseTime();
  const title = useTitle();
  const mayAct = useMayAct();
  const { act, isPending, error, forget } = useAct();
  const { name, says, unit, range, step, words, before, who } = dial;
  const [typed, setTyped] = useState<string>();
  const draft = typed ?? says;
  const [asked] = useDebouncedValue(draft, 150);
  const points = useQuery({
    queryKey: ["points", name, asked],
    queryFn: () => ask<Explanation[]>(`/dials/${encodeURIComponent(name)}/points${queryOf({ value: asked })}`),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const path = `/dials/${encodeURIComponent(name)}`;

  function set(value: string | number): void {
    act(
      { path, method: "PUT", body: { value }, says: (dial: Dial) => `${title(name)} is ${dial.says}.` },
      { onSuccess: () => setTyped(undefined) },
    );
  }

  function nudge(by: number): void {
    const number = Number.parseFloat(draft.replace(",", "."));
    if (Number.isNaN(number)) return;
    const [low, high] = range ? [Number(range[0]), Number(range[1])] : [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY];
    const next = Math.min(high, Math.max(low, Number((number + by).toFixed(6))));
    forget();
    setTyped(unit ? `${figureOf(next)} ${unit}` : figureOf(next));
  }

  return (
    <form
      className="part"
      aria-label={title(name)}
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        set(draft);
      }}
    >
      <fieldset disabled={!mayAct} className="fields">
        {words ? (
          <NativeSelect
            label="Value"
            value={draft}
            data={[...words]}
            onChange={({ currentTarget }) => setTyped(currentTarget.value)}
          />
        ) : (
          <>
            {step !== undefined && (
              <Button variant="default" aria-label={`Less by ${step}`} onClick={() => nudge(-step)}>
                −
              </Button>
            )}
            <TextInput
              label={`Value${range ? `, ${rangeOf(range, unit)}` : ""}`}
              value={draft}
              onFocus={({ currentTarget }) => currentTarget.select()}
              onChange={({ currentTarget }) => {
                forget();
                setTyped(currentTarget.value);
              }}
            />
            {step !== undefined && (
              <Button variant="default" aria-label={`More by ${step}`} onClick={() => nudge(step)}>
                +
              </Button>
            )}
          </>
        )}
        <Button type="submit" loading={isPending} disabled={!mayAct || draft === says}>
          Set
        </Button>
      </fieldset>
      <Wrong error={error ?? points.error} />
      {points.data && !points.error && (
        <div aria-live="polite">
          {points.data.length === 0 ? (
            <p className="quiet">No rule has a switch point by it now.</p>
          ) : (
            <>
              <h3>{draft === says ? "What it does" : `What ${draft} would do`}</h3>
              <Sentences of={points.data} />
            </>
          )}
        </div>
      )}
      {before && (
        <p className="quiet">
          Was {before.says} until {momentOf(before.until, now.house.clock, time)}
          {who !== undefined && `, when ${who} changed it`}.{" "}
          <Button variant="default" size="compact-sm" disabled={!mayAct || isPending} onClick={() => set(before.value)}>
            Back to {before.says}
          </Button>
        </p>
      )}
    </form>
  );
}
