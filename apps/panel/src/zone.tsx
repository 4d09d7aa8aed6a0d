// A zone: what is measured in it, what is done about it and why, and the dials it is done by.
import { Anchor } from "@mantine/core";
import { unbroken } from "@modrik/look/unbroken";
import type { Dial, Output, Reading, Zone } from "./ask.js";
import { endOfHand } from "./hand.js";
import { useHouse, useHouseTime, useTitle } from "./house.js";
import { hrefOf, usePlace } from "./place.js";
import { ageOf, lengthOf, momentOf } from "./say.js";

export function ZoneSection({ zone }: { readonly zone: Zone }) {
  const { now } = useHouse();
  const outputs = now.outputs.filter(({ name }) => zone.outputs.includes(name));
  const dials = now.dials.filter(({ name }) => zone.dials.includes(name));
  const { name, title = name, sensors } = zone;
  return (
    <section className="zone" aria-labelledby={`zone-${name}`}>
      <h2 id={`zone-${name}`}>
        {title}{" "}
        <Anchor className="aside" href={hrefOf({ view: "history", of: name })} aria-label={`History of ${title}`}>
          history
        </Anchor>
      </h2>
      <ul className="rows">
        {sensors.map((reading) => (
          <ReadingRow key={reading.name} reading={reading} />
        ))}
        {outputs.map((output) => (
          <OutputRow key={output.name} output={output} />
        ))}
      </ul>
      {dials.length > 0 && (
        <ul className="rows dials">
          {dials.map((dial) => (
            <DialRow key={dial.name} dial={dial} />
          ))}
        </ul>
      )}
    </section>
  );
}

/** What it is called within its zone. */
function ownName(name: string, title: string | undefined): string {
  return title ?? (name.split(".")[1] ?? name).replaceAll("_", " ");
}

/** Older than half the time after which it is unknown. */
function isOld({ heardAt, goneAt }: Reading, time: number): boolean {
  if (heardAt === undefined || goneAt === undefined) return false;
  const [heard, gone] = [Date.parse(heardAt), Date.parse(goneAt)];
  return time > heard + (gone - heard) / 2;
}

function ReadingRow({ reading }: { readonly reading: Reading }) {
  const time = useHouseTime();
  const [, go] = usePlace();
  const { name, title, value, says, heardAt } = reading;
  const age = heardAt === undefined ? "" : ageOf(time - Date.parse(heardAt));
  return (
    <li>
      <button type="button" className="row" data-old={isOld(reading, time)} onClick={() => go({ open: name })}>
        <span className="name">{ownName(name, title)}</span>
        <span className={value === null && says === "unknown" ? "value doubtful" : "value"}>{says}</span>
        <span className="age quiet">{age}</span>
      </button>
    </li>
  );
}

function OutputRow({ output }: { readonly output: Output }) {
  const { now } = useHouse();
  const time = useHouseTime();
  const title = useTitle();
  const [, go] = usePlace();
  const { name, says, isOn, briefly, stays, hand, colour, value, disobeys } = output;
  const say = (instant: string) => momentOf(instant, now.house.clock, time);
  const still = stays && `${lengthOf(Date.parse(stays.until) - time)} more: ${stays.says}`;
  const byHand = hand && `by hand${hand.who ? ` (${hand.who})` : ""}, ${endOfHand(hand, say, title)}`;
  const [zone = ""] = name.split(".");
  // Within its zone a thing is called by its own name.
  const short = briefly.replaceAll(`${zone}.`, "");
  const reason = hand && hand.refused === undefined ? byHand : [still, short].filter(Boolean).join(" · ");
  return (
    <li>
      <button type="button" className="row output" data-lit={isOn} onClick={() => go({ open: name })}>
        <span className="name">{ownName(name, output.title)}</span>
        <span className="value">
          {colour && typeof value === "string" && <span className="swatch" style={{ background: value }} aria-hidden="true" />}
          {says}
        </span>
        <span className="reason quiet">
          {disobeys && <span className="wrong">its device says otherwise · </span>}
          {unbroken(reason || "")}
        </span>
      </button>
    </li>
  );
}

function DialRow({ dial: { name, title, says } }: { readonly dial: Dial }) {
  const [, go] = usePlace();
  return (
    <li>
      <button type="button" className="row" onClick={() => go({ open: name })}>
        <span className="name quiet">{ownName(name, title)}</span>
        <span className="value">{says}</span>
      </button>
    </li>
  );
}
