// What is wrong with the text, or how its trials went.
import type { Problem } from "modrik";
import type { Reading, TrialLine } from "./messages.js";

interface StateProps {
  readonly reading: Reading | undefined;
  readonly trials: readonly TrialLine[] | undefined;
  readonly onProblem: (problem: Problem) => void;
}

export function State({ reading, trials, onProblem }: StateProps) {
  return (
    <section className="state" aria-label="Problems and trials" aria-live="polite">
      {reading && reading.problems.length > 0 ? (
        <Problems problems={reading.problems} onProblem={onProblem} />
      ) : (
        <Trials trials={trials ?? []} />
      )}
    </section>
  );
}

function Problems({ problems, onProblem }: { problems: readonly Problem[]; onProblem: StateProps["onProblem"] }) {
  return (
    <ul>
      {problems.map((problem) => (
        <li key={`${problem.place.file}:${problem.place.from}`}>
          <button type="button" className="problem" onClick={() => onProblem(problem)}>
            <span className="quiet">
              {problem.place.file}:{problem.place.line}
            </span>{" "}
            <span className="wrong">{problem.reason}</span> {problem.remedy}
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
