// What lies open next to the page: one thing, what it is and why, and what may be done to it.
import { Anchor, Drawer } from "@mantine/core";
import { useMediaQuery } from "@mantine/hooks";
import { DialForm } from "./dial.js";
import { Hand } from "./hand.js";
import { useHouse, useHouseTime, useTitle } from "./house.js";
import { CountdownForm, ModeForm } from "./modes.js";
import { hrefOf, usePlace } from "./place.js";
import { lengthOf, momentOf } from "./say.js";
import { Why, WhyNot } from "./why.js";

export function OpenThing() {
  const [{ open }, go] = usePlace();
  const title = useTitle();
  const isNarrow = useMediaQuery("(max-width: 620px)");
  return (
    <Drawer.Root
      opened={open !== undefined}
      onClose={() => go({ open: undefined })}
      position="right"
      size={isNarrow ? "100%" : 520}
      transitionProps={{ duration: 0 }}
    >
      <Drawer.Overlay />
      <Drawer.Content className="open">
        <div className="open-head">
          <Drawer.Title className="open-title">{open === undefined ? "" : title(open)}</Drawer.Title>
          <Drawer.CloseButton aria-label="Close" />
        </div>
        <Drawer.Body>{open !== undefined && <Thing key={open} name={open} />}</Drawer.Body>
      </Drawer.Content>
    </Drawer.Root>
  );
}

function Thing({ name }: { readonly name: string }) {
  const { now } = useHouse();
  const output = now.outputs.find((one) => one.name === name);
  const dial = now.dials.find((one) => one.name === name);
  const mode = now.modes.find((one) => one.name === name);
  const countdown = now.countdowns.find((one) => one.name === name);
  const reading = now.zones.flatMap(({ sensors }) => sensors).find((one) => one.name === name);
  const [zone = ""] = name.split(".");
  const note = [output, dial, mode, countdown, reading].find((one) => one?.note !== undefined)?.note;
  return (
    <>
      <p className="quiet">
        <code>{name}</code>
        {note !== undefined && ` · ${note}`}
      </p>
      {output && (
        <p className="large">
          <strong>{output.says}</strong>
          <Since instant={output.since} />
        </p>
      )}
      {reading && (
        <p className="large">
          <strong>{reading.says}</strong>
          {reading.heardAt !== undefined && <Since instant={reading.heardAt} word="heard" />}
        </p>
      )}
      {output?.disobeys && <p className="wrong">Its device says that it does something else.</p>}
      {output?.tried !== undefined && <p className="quiet">When the outputs were tried: {output.tried}.</p>}
      {output && <Hand output={output} />}
      {dial && <DialForm dial={dial} />}
      {mode && <ModeForm mode={mode} />}
      {countdown && <CountdownForm countdown={countdown} />}
      <section className="part">
        <h3>Why, and what comes next</h3>
        <Why of={name} follows={[output?.since, output?.says, reading?.says, dial?.says, mode?.value].join(" ")} />
      </section>
      {output && <WhyNot of={name} words={output.words ?? []} value={output.says} />}
      {name.includes(".") && (
        <p>
          <Anchor href={hrefOf({ view: "history", of: zone })}>
            History of {now.zones.find((one) => one.name === zone)?.title ?? zone}
          </Anchor>
        </p>
      )}
    </>
  );
}

function Since({ instant, word = "since" }: { readonly instant: string | undefined; readonly word?: string }) {
  const { now } = useHouse();
  const time = useHouseTime();
  if (instant === undefined) return null;
  return (
    <span className="quiet">
      {" "}
      {word} {momentOf(instant, now.house.clock, time)}, {lengthOf(time - Date.parse(instant))}
      {word === "heard" && " ago"}
    </span>
  );
}
