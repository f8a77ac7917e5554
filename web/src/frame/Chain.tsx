import type { Schemas } from '../api/client';
import { chainWords } from '../words/sentences';

/** Every clause that matched, in order; the first is the one that holds. */
export function Chain({ chain, now }: { chain: Schemas['FindingView'][]; now: Date }) {
  return (
    <ol className="problems" aria-label="Chain of reasons">
      {chain.map((finding, index) => (
        <li key={`${finding.clause} ${finding.source}`} className={index === 0 ? 'strong' : ''}>
          {chainWords(finding, now)}
          {index === 0 ? ' (this holds)' : ''}
        </li>
      ))}
    </ol>
  );
}
