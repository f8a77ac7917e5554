import { useRef, useState } from 'react';
import { Refusal, type Schemas, UNREACHED } from '../api/client';
import { useChange, useRefresh } from '../api/queries';
import { useLastAct } from '../frame/lastAct';
import { randomKey } from '../words/randomKey';

/** What goes with every decision: the version of the case that was seen, and a key by which the same one, sent twice, is carried out once. */
export interface Seen {
  'If-Match': string;
  'Idempotency-Key': string;
}

/**
 * The one way in which a worded decision is sent. It is refused if somebody decided on the case meanwhile; then that is read, and the same words may be sent
 * again. Once it is done, one key takes it back at the address that its answer told.
 *
 * @param send sends what was worded
 * @param said what was done, in words
 */
export function useDecision<Draft, Answer extends { undo: string }>(
  page: Schemas['CaseView'],
  draft: Draft,
  send: (draft: Draft, seen: Seen) => Promise<Answer>,
  said: (answer: Answer) => string,
  close: () => void,
) {
  const { done } = useLastAct();
  const refresh = useRefresh();
  const words = JSON.stringify(draft);
  // A sentence that is sent twice, after a broken connection, is one decision; a changed sentence is another request.
  const key = useRef({ of: '', value: '' });
  const [tried, setTried] = useState({ words: '', version: '' });
  const sending = useChange((worded: Draft) => {
    const of = JSON.stringify(worded);
    if (key.current.of !== of) {
      key.current = { of, value: randomKey() };
    }
    return send(worded, { 'If-Match': page.version, 'Idempotency-Key': key.current.value });
  });
  // What is worded anew has not been refused.
  const refused = sending.error instanceof Refusal && tried.words === words ? sending.error : undefined;
  const overtaken = refused?.status === 412;
  return {
    refused,
    /** Somebody decided on the case since it was seen. */
    overtaken,
    /** What they decided has not been read yet; a second try would be refused like the first. */
    reading: overtaken && tried.version === page.version,
    /** A server that cannot be reached, or has no room, is asked again with the same words. */
    passing: refused !== undefined && (refused.status === UNREACHED || refused.status >= 500),
    pending: sending.isPending,
    submit: () => {
      setTried({ words, version: page.version });
      sending.mutate(draft, {
        onSuccess: (answer) => {
          done({ words: said(answer), undo: answer.undo });
          close();
        },
        onError: () => void refresh(),
      });
    },
  };
}
