import type { Schemas } from '../api/client';
import { chainWords } from '../words/sentences';

/** Every clause that matched, in order; the first is the one that holds. */
export function Chain({ chain, now }: { chain: Schemas['RuleMatchView'][]; now: Date }) {
  return (
    <ol className="problems" aria-label="Chain of reasons">
      {chain.map((match, index) => (
        <li key={`${match.clause} ${match.source}`} className={index === 0 ? 'strong' : ''}>
          {chainWords(match, now)}
          {index === 0 ? ' (this holds)' : ''}
        </li>
      ))}
    </ol>
  );
}
