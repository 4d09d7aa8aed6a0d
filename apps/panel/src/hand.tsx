// Switching an output by hand: to what, and until when.
import { Button, ColorInput, SegmentedControl, Select, TextInput } from "@mantine/core";
import { type FormEvent, useState } from "react";
import { useAct, Wrong } from "./acting.js";
import type { Output, Schedule } from "./ask.js";
import { useHouse, useHouseTime, useMayAct, useTitle } from "./house.js";
import { momentOf, rangeOf } from "./say.js";

/** What a hand lasts, where nothing is said. */
const USUAL = "usual";
const TIME = "time";
const lengths = ["15 min", "30 min", "1 h", "2 h", "8 h"];

export function Hand({ output }: { readonly output: Output }) {
  const { now } = useHouse();
  const time = useHouseTime();
  const mayAct = useMayAct();
  const title = useTitle();
  const { act, isPending, error, answer, forget } = useAct();
  const { name, words, says, value, unit, range, colour, hand, handEndsWith } = output;
  const [wanted, setWanted] = useState(String(words?.find((word) => word !== value) ?? value ?? ""));
  const [end, setEnd] = useState("30 min");
  const [until, setUntil] = useState("22:00");
  const taken = answer as Output | undefined;
  const { handLasts } = now.house;
  const usualEnd =
    handEndsWith.length > 0
      ? `until ${handEndsWith.map(title).join(" or ")} changes, ${handLasts} at most`
      : `as long as usual, ${handLasts}`;

  function take(event: FormEvent): void {
    event.preventDefault();
    const schedule = end.startsWith("schedule ") ? end.slice("schedule ".length) : undefined;
    const lasts =
      end === USUAL
        ? {}
        : end === TIME
          ? { until }
          : end === "released"
            ? { until: end }
            : schedule
              ? { until: schedule }
              : { lasts: end };
    act({
      path: `/outputs/${encodeURIComponent(name)}/hand`,
      method: "PUT",
      body: { value: asSaid(wanted, output), ...lasts },
      says: (now: Output) =>
        now.hand?.refused === undefined
          ? `${title(name)} is ${now.says}, by hand.`
          : `${title(name)} stays ${now.says}: not permitted.`,
    });
  }

  return (
    <form className="part" onSubmit={take} aria-label="By hand">
      <h3>By hand</h3>
      {hand && (
        <p>
          Switched by hand{hand.who && ` by ${hand.who}`},{" "}
          {endOfHand(hand, (instant) => momentOf(instant, now.house.clock, time), title)}.{" "}
          <Button
            variant="default"
            size="compact-sm"
            disabled={!mayAct || isPending}
            onClick={() => {
              forget();
              act({
                path: `/outputs/${encodeURIComponent(name)}/hand`,
                method: "DELETE",
                says: (now: Output) => `${title(name)} is back with its rules: ${now.says}.`,
              });
            }}
          >
            Release
          </Button>
        </p>
      )}
      <fieldset disabled={!mayAct} className="fields">
        {words ? (
          <SegmentedControl aria-label="To what" data={[...words]} value={wanted} onChange={setWanted} disabled={!mayAct} />
        ) : colour ? (
          <ColorInput label="Colour, or its name" value={wanted} onChange={setWanted} format="hex" fixOnBlur={false} />
        ) : (
          <TextInput
            label={`To what${range ? `, ${rangeOf(range, unit)}` : ""}`}
            value={wanted}
            onChange={({ currentTarget }) => setWanted(currentTarget.value)}
            inputMode="decimal"
          />
        )}
        <Select
          label="Until when"
          allowDeselect={false}
          value={end}
          onChange={(chosen) => chosen && setEnd(chosen)}
          data={[
            { group: "For", items: lengths.map((length) => ({ value: length, label: `for ${length}` })) },
            {
              group: "Until",
              items: [
                { value: TIME, label: "until a time of day…" },
                ...now.schedules.flatMap((one) => scheduleEnd(one, (instant) => momentOf(instant, now.house.clock, time))),
                { value: USUAL, label: usualEnd },
                { value: "released", label: "until somebody releases it" },
              ],
            },
          ]}
        />
        {end === TIME && (
          <TextInput
            type="time"
            label="At"
            required
            value={until}
            onChange={({ currentTarget }) => setUntil(currentTarget.value)}
          />
        )}
        <Button type="submit" loading={isPending} disabled={!mayAct}>
          Switch
        </Button>
      </fieldset>
      <Wrong error={error} />
      {taken?.hand?.refused !== undefined && output.hand && (
        <p className="doubtful" role="alert">
          Guard {taken.hand.refused} does not permit it, so {title(name)} stays {says}. It follows your hand as soon as that is
          permitted. The reason stands below.
        </p>
      )}
    </form>
  );
}

/** A number where one is wanted and nothing but one was typed. */
function asSaid(text: string, { words, colour }: Output): string | number {
  const number = Number(text.replace(",", "."));
  return words || colour || text.trim() === "" || Number.isNaN(number) ? text : number;
}

function scheduleEnd({ name, title = name, open, until }: Schedule, say: (instant: string) => string) {
  if (until === null) return [];
  return [{ value: `schedule ${name}`, label: `until ${title} ${open ? "ends" : "begins"} (${say(until)})` }];
}

/** `until 14:32`, `until it is released`. */
export function endOfHand(
  { until, endsWith }: NonNullable<Output["hand"]>,
  say: (instant: string) => string,
  title: (name: string) => string,
): string {
  if (until === null) return "until it is released";
  const modes = endsWith.map(title).join(" or ");
  return modes === "" ? `until ${say(until)}` : `until ${modes} changes, at the latest ${say(until)}`;
}
