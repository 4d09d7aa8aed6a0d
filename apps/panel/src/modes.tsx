// Modes and countdowns: set, started for another time, stopped.
import { Button, SegmentedControl, TextInput } from "@mantine/core";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useAct, Wrong } from "./acting.js";
import { ask, type Countdown, type Explanation, type Mode, queryOf } from "./ask.js";
import { useHouseTime, useMayAct, useTitle } from "./house.js";
import { lengthOf } from "./say.js";
import { Sentences } from "./why.js";

export function ModeForm({ mode: { name, words, value } }: { readonly mode: Mode }) {
  const title = useTitle();
  const mayAct = useMayAct();
  const { act, isPending, error } = useAct();
  const points = useQuery({
    queryKey: ["points", name, value],
    queryFn: () => ask<Explanation[]>(`/dials/${encodeURIComponent(name)}/points${queryOf({ value })}`),
    placeholderData: keepPreviousData,
  });
  return (
    <section className="part">
      <SegmentedControl
        aria-label={title(name)}
        data={[...words]}
        value={value}
        disabled={!mayAct || isPending}
        onChange={(word) =>
          act({
            path: `/modes/${encodeURIComponent(name)}`,
            method: "PUT",
            body: { value: word },
            says: `${title(name)} is ${word}.`,
          })
        }
      />
      <Wrong error={error} />
      {points.data && points.data.length > 0 && (
        <>
          <h3>What uses it</h3>
          <Sentences of={points.data} />
        </>
      )}
    </section>
  );
}

export function CountdownForm({ countdown: { name, running, until, usual } }: { readonly countdown: Countdown }) {
  const title = useTitle();
  const time = useHouseTime();
  const mayAct = useMayAct();
  const { act, isPending, error } = useAct();
  const [lasts, setLasts] = useState(usual);
  const path = `/countdowns/${encodeURIComponent(name)}`;
  return (
    <section className="part">
      <p className="large">
        {running && until !== undefined ? <strong>{lengthOf(Date.parse(until) - time)} left</strong> : "not running"}
      </p>
      <fieldset disabled={!mayAct} className="fields">
        <TextInput label="For how long" value={lasts} onChange={({ currentTarget }) => setLasts(currentTarget.value)} />
        <Button
          loading={isPending}
          disabled={!mayAct}
          onClick={() =>
            act({
              path,
              method: "PUT",
              body: { running: true, ...(lasts !== usual && { lasts }) },
              says: `${title(name)} runs for ${lasts}.`,
            })
          }
        >
          {running ? "Start again" : "Start"}
        </Button>
        {running && (
          <Button
            variant="default"
            disabled={!mayAct}
            onClick={() => act({ path, method: "PUT", body: { running: false }, says: `${title(name)} is stopped.` })}
          >
            Stop
          </Button>
        )}
      </fieldset>
      <Wrong error={error} />
    </section>
  );
}
