import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { Term } from '../frame/Term';
import { flipWords, harmWords, inHosts, points, suggestionWords } from '../words/weighing';
import type { CaseRow } from './rows';

/** Why the numbers suggest what they do for the row at the bar, and what would turn them. */
export function Suggested({ row, weights }: { row: CaseRow; weights: number[] }) {
  const { beam, suggestion } = row;
  const weighings = row.populations.flatMap((one) => (one.weighing === undefined ? [] : [{ name: one.name, weighing: one.weighing }]));
  if (beam === undefined || suggestion === undefined) {
    return null;
  }
  const harm = [...new Set(weighings.flatMap((one) => one.weighing.harm))];
  return (
    <section className="suggested" aria-label="Why this is suggested">
      <h3>
        {row.populations.map((one) => one.name).join(', ')}: {suggestionWords(suggestion)}
      </h3>
      <p>
        <span className="ember">Waiting costs {points(beam.exposure)}</span>, {inHosts(beam.exposure, weights)};{' '}
        <span className="violet">installing costs {points(beam.hazard.middle)}</span>, {inHosts(beam.hazard.middle, weights)}.{' '}
        {harm.length === 0 ? 'No harm is in evidence.' : `Harm is in evidence: ${harm.map(harmWords).join('; ')}.`}
      </p>
      <p>
        <Term name="flip point">Would change with</Term>:
      </p>
      <ul>
        {weighings.length === 1
          ? flips(weighings[0]?.weighing).map((words) => <li key={words}>{words}</li>)
          : weighings.map(({ name, weighing }) => (
              <li key={name}>
                {name}: {flips(weighing).join('; ')}
              </li>
            ))}
      </ul>
      <p className="mid">
        What the numbers suggest is never done by itself. <Link to="/weights">Weights</Link>
      </p>
    </section>
  );
}

function flips(weighing: Schemas['WeighingView'] | undefined): string[] {
  return weighing === undefined || weighing.flips.length === 0
    ? ['nothing within the ranges that are tried']
    : weighing.flips.map((flip) => flipWords(flip, weighing.suggestion));
}
