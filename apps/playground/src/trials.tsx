// The trials of the house on the axis of the chart above: when each runs, what it expects when, and how near it came.
import { TextInput } from "@mantine/core";
import { type CSSProperties, useState } from "react";
import type { Link, Ran, TrialLine } from "./messages.js";

interface TrialsProps {
  readonly trials: readonly TrialLine[];
  readonly isJudged: boolean;
  readonly ran: Ran | undefined;
  readonly onTrial: (name: string) => void;
  readonly onLink: (link: Link) => void;
}

const DAY = 86_400_000;

export function Trials({ trials, isJudged, ran, onTrial, onLink }: TrialsProps) {
  const [sought, setSought] = useState("");
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = trials.filter(({ name, title, passed }) => {
    const text = `${name} ${title} ${passed ? "passed" : "failed"}`.toLowerCase();
    return words.every((word) => text.includes(word));
  });
  if (trials.length === 0)
    return (
      <p className="quiet">{isJudged ? "No trials yet. Let something happen by hand, and keep it as a trial." : "Judging…"}</p>
    );
  return (
    <section aria-label="Trials">
      <div className="fields">
        <p role="status">
          <Verdict trials={trials} isJudged={isJudged} />
        </p>
        {trials.length > 6 && (
          <TextInput
            aria-label="Show only trials with"
            placeholder="Show only…"
            size="xs"
            value={sought}
            onChange={({ currentTarget }) => setSought(currentTarget.value)}
          />
        )}
      </div>
      <ul className="trials">
        {shown.map((trial) => (
          <Trial key={trial.name} trial={trial} ran={ran} onTrial={onTrial} onLink={onLink} />
        ))}
      </ul>
    </section>
  );
}

/** How all of them went, in a sentence. */
export function Verdict({ trials, isJudged }: Pick<TrialsProps, "trials" | "isJudged">) {
  const failed = trials.filter(({ passed }) => !passed).length;
  if (trials.length === 0)
    return (
      <span className="quiet" data-judged={isJudged}>
        {isJudged ? "No trials yet." : "Judging…"}
      </span>
    );
  const one = failed === 0 ? "Its trial passes." : "Its trial fails.";
  const many = failed === 0 ? `All ${trials.length} trials pass.` : `${failed} of ${trials.length} trials fail.`;
  const says = trials.length === 1 ? one : many;
  return (
    <span className={failed === 0 ? "right" : "wrong"} data-judged={isJudged}>
      {says}
    </span>
  );
}

interface TrialProps extends Pick<TrialsProps, "ran" | "onTrial" | "onLink"> {
  readonly trial: TrialLine;
}

function Trial({ trial, ran, onTrial, onLink }: TrialProps) {
  const { name, title, passed, broken, from, lasts, verdicts, margin, place } = trial;
  const isShown = ran?.subject.kind === "trial" && ran.subject.name === name;
  const failed = verdicts.find((verdict) => !verdict.passed);
  return (
    <li data-passed={passed} data-shown={isShown}>
      <button type="button" className="name" aria-pressed={isShown} onClick={() => onTrial(name)}>
        <span aria-hidden="true">{passed ? "✓" : "✗"}</span> {name}
        <span className="unseen">{passed ? ", passed" : ", failed"}</span>
      </button>
      <span className="track" aria-hidden="true">
        <span className="runs" style={span(ran, from, from + lasts)} />
        {verdicts.map((verdict) => (
          <span
            key={verdict.says}
            className={verdict.from === verdict.to ? "claim instant" : "claim"}
            data-passed={verdict.passed}
            style={span(ran, verdict.from, verdict.to)}
          />
        ))}
      </span>
      <span className="about">
        {place && (
          <button type="button" className="link" onClick={() => onLink({ label: name, place })}>
            {place.file}:{place.line}
          </button>
        )}{" "}
        {broken !== undefined ? (
          <span className="wrong">{broken}</span>
        ) : failed ? (
          <span className="wrong">not so: {failed.says}</span>
        ) : (
          <>
            {margin !== undefined && <span className="quiet">by {margin} · </span>}
            {title}
          </>
        )}
      </span>
    </li>
  );
}

/** Where a stretch of a day stands on what is shown; what lies outside is not seen. */
function span(ran: Ran | undefined, from: number, to: number): CSSProperties {
  const begins = ran ? ran.from % DAY : 0;
  const length = ran ? Math.min(DAY, ran.to - ran.from) : DAY;
  const [left, right] = [from, to].map((at) => Math.min(1, Math.max(0, (at - begins) / length))) as [number, number];
  if (to < begins || from > begins + length) return { display: "none" };
  return { insetInlineStart: `${100 * left}%`, width: `${100 * (right - left)}%` };
}
