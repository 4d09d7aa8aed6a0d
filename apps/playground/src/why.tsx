// Why things are as they are at the cursor, or why not; each with the lines of the rules behind it, and what comes next.
import { unbroken } from "@modrik/look/unbroken";
import type { Explanation } from "modrik";
import { useEffect } from "react";
import type { Link, Said, ThingInfo } from "./messages.js";
import type { House } from "./use-house.js";

interface WhyProps {
  readonly house: Pick<House, "explained" | "next" | "toRunner">;
  readonly things: readonly ThingInfo[];
  readonly onLink: (link: Link) => void;
  /** One thing, or all outputs of the zone. */
  readonly onThing: (thing: string | undefined) => void;
}

/** How long the cursor rests before what comes next is calculated. */
const REST_MS = 350;

export function Why({ house: { explained, next, toRunner }, things, onLink, onThing }: WhyProps) {
  const { thing, share } = explained ?? {};
  const isOutput = things.some(({ name, role }) => name === thing && role === "output");
  useEffect(() => {
    if (thing === undefined || share === undefined || !isOutput) return;
    const timer = setTimeout(() => toRunner({ kind: "next", share, thing }), REST_MS);
    return () => clearTimeout(timer);
  }, [thing, share, isOutput, toRunner]);
  if (!explained)
    return (
      <p className="quiet">
        Click into the day, or move along it with the arrow keys, to see why. A click on an output's band asks for that output
        alone, on a stretch where it is off for why not.
      </p>
    );
  const coming = next && next.thing === thing && next.share === share ? next.says : undefined;
  return (
    <section className="why" aria-label="Why" aria-live="polite">
      <h2>
        At {explained.when}
        {thing !== undefined && (
          <>
            {" "}
            <button type="button" className="plain" onClick={() => onThing(undefined)}>
              all outputs
            </button>
          </>
        )}
      </h2>
      {explained.said.length === 0 && <p className="quiet">No output is in this zone.</p>}
      <ul>
        {explained.said.map((one) => (
          <OneSaid key={one.thing} said={one} onLink={onLink} {...(thing === undefined && { onThing })} />
        ))}
      </ul>
      {isOutput && (
        <>
          <h3>What comes next</h3>
          {coming ? (
            <ul>
              <Sentence explanation={coming} />
            </ul>
          ) : (
            <p className="quiet">Reckoning…</p>
          )}
        </>
      )}
    </section>
  );
}

interface OneSaidProps {
  readonly said: Said;
  readonly onLink: (link: Link) => void;
  readonly onThing?: (thing: string) => void;
}

function OneSaid({ said: { thing, explanation, links }, onLink, onThing }: OneSaidProps) {
  return (
    <Sentence explanation={explanation}>
      {links.map((link) => (
        <button key={link.label} type="button" className="link" onClick={() => onLink(link)}>
          {link.label}
        </button>
      ))}
      {onThing && (
        <button type="button" className="link" aria-label={`only this: ${thing}`} onClick={() => onThing(thing)}>
          only this
        </button>
      )}
    </Sentence>
  );
}

function Sentence({ explanation: { says, because }, children }: { explanation: Explanation; children?: React.ReactNode }) {
  return (
    <li>
      {because.length > 0 ? <strong>{unbroken(says)}</strong> : unbroken(says)} {children}
      {because.length > 0 && (
        <ul>
          {because.map((part, index) => (
            <Sentence key={index} explanation={part} />
          ))}
        </ul>
      )}
    </li>
  );
}
