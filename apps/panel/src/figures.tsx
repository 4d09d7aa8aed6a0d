// What a stretch of the past comes to: how often and how long outputs were on, what they used, how well values were kept.
import type { Chart } from "./ask.js";
import { figureOf, lengthOf } from "./say.js";

export function Figures({ figures: { outputs, kept } }: Pick<Chart, "figures">) {
  if (outputs.length + kept.length === 0) return null;
  const hasEnergy = outputs.some(({ energy }) => energy !== undefined);
  return (
    <div className="figures">
      {outputs.length > 0 && (
        <table>
          <caption>Outputs</caption>
          <thead>
            <tr>
              <th scope="col">what</th>
              <th scope="col">starts</th>
              <th scope="col">on for</th>
              <th scope="col">share</th>
              {hasEnergy && <th scope="col">kWh</th>}
            </tr>
          </thead>
          <tbody>
            {outputs.map(({ name, title, starts, onTime, share, energy }) => (
              <tr key={name}>
                <th scope="row">{title}</th>
                <td>{starts}</td>
                <td>{lengthOf(onTime)}</td>
                <td>{Math.round(100 * share)} %</td>
                {hasEnergy && <td>{energy === undefined ? "" : energy.toFixed(2)}</td>}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {kept.length > 0 && (
        <table>
          <caption>Kept values</caption>
          <thead>
            <tr>
              <th scope="col">what</th>
              <th scope="col">by rule</th>
              <th scope="col">in band</th>
              <th scope="col">lowest</th>
              <th scope="col">highest</th>
            </tr>
          </thead>
          <tbody>
            {kept.map(({ rule, says, unit, inBand, lowest, highest }) => (
              <tr key={`${rule} ${says}`}>
                <th scope="row">{says}</th>
                <td>{rule}</td>
                <td>{inBand === null ? "did not apply" : `${(100 * inBand).toFixed(1)} %`}</td>
                <td>{lowest === null ? "" : `${figureOf(lowest)} ${unit}`}</td>
                <td>{highest === null ? "" : `${figureOf(highest)} ${unit}`}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
