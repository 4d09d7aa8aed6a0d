// What is wrong with the text, each a way to its place.
import type { Remark } from "./messages.js";

interface ProblemsProps {
  readonly problems: readonly Remark[];
  readonly onProblem: (problem: Remark) => void;
}

export function Problems({ problems, onProblem }: ProblemsProps) {
  return (
    <section className="problems" aria-label="Problems" aria-live="polite">
      {problems.length > 0 && (
        <ul>
          {problems.map((problem) => (
            <li key={`${problem.place.file}:${problem.place.from}:${problem.code}:${problem.reason}`}>
              <button type="button" className="problem" onClick={() => onProblem(problem)}>
                <span className="quiet">
                  {problem.place.file}:{problem.place.line}
                </span>{" "}
                <span className={problem.severity === "error" ? "wrong" : "doubtful"}>{problem.reason}</span> {problem.remedy}
              </button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
