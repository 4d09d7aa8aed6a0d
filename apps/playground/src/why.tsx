// Why every output is as it is at the chosen moment.
import type { Explanation } from "modrik";
import type { Explained } from "./use-house.js";

export function Why({ explained }: { explained: Explained | undefined }) {
  return (
    <section className="why" aria-label="Why" aria-live="polite">
      {explained ? (
        <>
          <h2>At {explained.when}</h2>
          <ul>
            {explained.outputs.map((output) => (
              <Sentence key={output.says} explanation={output} />
            ))}
          </ul>
        </>
      ) : (
        <p className="quiet">Click into the day, or move along it with the arrow keys, to see why.</p>
      )}
    </section>
  );
}

function Sentence({ explanation: { says, because } }: { explanation: Explanation }) {
  return (
    <li>
      {because.length > 0 ? <strong>{says}</strong> : says}
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
