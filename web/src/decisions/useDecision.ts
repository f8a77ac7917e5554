import { useRef, useState } from 'react';
import { Refusal, UNREACHED } from '../api/client';
import { useChange, useRefresh } from '../api/queries';
import { randomKey } from '../api/randomKey';
import { useLastAct } from '../frame/lastAct';

/** What goes with every decision: the version of what it is about, as it was seen, and a key by which the same one, sent twice, is carried out once. */
export interface Seen {
  'If-Match': string;
  'Idempotency-Key': string;
}

interface Sending<Draft, Answer> {
  /** Of what is decided on, as it stands on screen; of several with commas. */
  version: string;
  draft: Draft;
  send: (draft: Draft, seen: Seen) => Promise<Answer>;
  /** What was done, in words. */
  said: (answer: Answer) => string;
  close: () => void;
  /** Where there is no place to show a refusal: the words before it. */
  notDone?: string;
}

/** A server that cannot be reached, or has no room, is asked again with the same words. */
export const passes = (refusal: Refusal) => refusal.status === UNREACHED || refusal.status >= 500;

/**
 * The one way in which a decision is sent. It is refused if somebody changed what it is about meanwhile; then that is read, and the same words may be sent
 * again. Once it is done, one key takes it back at the address that its answer told.
 */
export function useDecision<Draft, Answer extends { undo?: string }>({
  version,
  draft,
  send,
  said,
  close,
  notDone,
}: Sending<Draft, Answer>) {
  const { done } = useLastAct();
  const refresh = useRefresh();
  const words = JSON.stringify(draft);
  // What is sent twice, after a broken connection, is one decision; with other words it is another request.
  const key = useRef({ of: '', value: '' });
  const [tried, setTried] = useState({ words: '', version: '' });
  const sending = useChange((worded: Draft) => {
    const of = JSON.stringify(worded);
    if (key.current.of !== of) {
      key.current = { of, value: randomKey() };
    }
    return send(worded, { 'If-Match': version, 'Idempotency-Key': key.current.value });
  }, notDone);
  // What is worded anew has not been refused.
  const refused = sending.error instanceof Refusal && tried.words === words ? sending.error : undefined;
  const overtaken = refused?.status === 412;
  return {
    refused,
    /** Somebody changed it since it was seen. */
    overtaken,
    /** What they did has not been read yet; a second try would be refused like the first. */
    reading: overtaken && tried.version === version,
    passing: refused !== undefined && passes(refused),
    pending: sending.isPending,
    submit: () => {
      setTried({ words, version });
      sending.mutate(draft, {
        onSuccess: (answer) => {
          // The same words, said again later, are another decision.
          key.current = { of: '', value: '' };
          done({ words: said(answer), undo: answer.undo });
          close();
        },
        onError: () => void refresh(),
      });
    },
  };
}
