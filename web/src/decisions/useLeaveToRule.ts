import { App } from 'antd';
import { useState } from 'react';
import { api, body, type Schemas } from '../api/client';
import { count } from '../words/dates';
import { briefSuggestion } from '../words/weighing';
import { useDecision } from './useDecision';

interface Leaving {
  cases: { id: string; version: string }[];
  /** For which they are left to it; none: all that have hosts which lack it. */
  populations: string[];
  /** What the numbers suggest otherwise, and for what. */
  against: { name: string; suggestion?: Schemas['SuggestionView'] }[];
  /** What was done, in words. */
  said: string;
  close: () => void;
}

/** Leaves cases to the rule by one key, all of them or none. What the numbers speak against is said first, and asked for once more. */
export function useLeaveToRule({ cases, populations, against, said, close }: Leaving): () => void {
  const { message } = App.useApp();
  const draft = { updates: cases.map((one) => one.id), populations };
  const words = JSON.stringify(draft);
  const [warned, setWarned] = useState('');
  const leaving = useDecision({
    version: cases.map((one) => one.version).join(', '),
    draft,
    send: (request, seen) => body(api.POST('/api/acknowledgements', { body: request, params: { header: seen } })),
    said: () => said,
    close: () => {
      setWarned('');
      close();
    },
    notDone: 'Not left to the rule',
  });
  return () => {
    if (cases.length === 0 || leaving.pending) {
      return;
    }
    if (against.length > 0 && warned !== words) {
      setWarned(words);
      const [first, ...others] = against;
      const suggested = first?.suggestion === undefined ? 'another' : briefSuggestion(first.suggestion);
      message.warning(
        `The numbers suggest ${suggested} for ${first?.name}${others.length > 0 ? ` and something else for ${count(others.length, 'other')}` : ''}. Press L once more to leave ${cases.length > 1 ? 'them' : 'it'} to the rule all the same.`,
        8,
      );
      return;
    }
    leaving.submit();
  };
}
