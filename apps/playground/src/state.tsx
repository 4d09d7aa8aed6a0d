// What is wrong with the text, or how its trials went.
import type { Reading, Remark, TrialLine } from "./messages.js";

interface StateProps {
  readonly reading: Reading | undefined;
  /** Found by reasoning. */
  readonly findings: readonly Remark[];
  readonly trials: readonly TrialLine[] | undefined;
  readonly onProblem: (problem: Remark) => void;
}

/** Errors alone while there are any; else how the trials went, and warnings. */
export function State({ reading, findings, trials, onProblem }: StateProps) {
  const problems = [...(reading?.problems ?? []), ...findings];
  return (
    <section className="state" aria-label="Problems and trials" aria-live="polite">
      {reading?.sound === false ? undefined : <Trials trials={trials ?? []} />}
      {problems.length > 0 && <Problems problems={problems} onProblem={onProblem} />}
    </section>
  );
}

function Problems({ problems, onProblem }: { problems: readonly Remark[]; onProblem: StateProps["onProblem"] }) {
  return (
    <ul>
      {problems.map((problem) => (
        <li key={`${problem.place.file}:${problem.place.from}:${problem.code}`}>
          <button type="button" className="problem" onClick={() => onProblem(problem)}>
            <span className="quiet">
              {problem.place.file}:{problem.place.line}
            </span>{" "}
            <span className={problem.severity === "error" ? "wrong" : "doubtful"}>{problem.reason}</span> {problem.remedy}
          </button>
        </li>
      ))}
    </ul>
  );
}

function Trials({ trials }: { trials: readonly TrialLine[] }) {
  const failed = trials.filter(({ passed }) => !passed);
  if (trials.length === 0) return <p className="quiet">No trials yet.</p>;
  if (failed.length === 0) return <span className="right">All {trials.length} trials pass.</span>;
  return (
    <ul>
      {failed.map(({ name, title, failed: says }) => (
        <li key={name}>
          <span className="wrong">Trial {name} fails:</span> expected {says}. <span className="quiet">{title}</span>
        </li>
      ))}
    </ul>
  );
}
