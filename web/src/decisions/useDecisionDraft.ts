import type { UseQueryResult } from '@tanstack/react-query';
import { Refusal } from '../api/client';
import { useKeys } from '../frame/keys';
import { useSettled } from '../frame/useSettled';
import { passes, type Seen, useDecision } from './useDecision';

interface Wording<Draft, Preview, Answer> {
  version: string;
  draft: Draft;
  /** What of the draft its consequence hangs on. */
  question: Draft;
  /** Asks for the consequence. */
  usePreview: (question: Draft, version: string) => UseQueryResult<Preview>;
  /** True if the draft says all that it must, and would do something. */
  complete: (preview: Preview) => boolean;
  /** What is to be confirmed by a second press; asked for as the first comes. */
  confirm?: () => boolean;
  /** The consequence is the one that was shown. */
  send: (draft: Draft, seen: Seen, consequence: Preview | undefined) => Promise<Answer>;
  /** What was done, in words. */
  said: (answer: Answer, consequence: Preview | undefined) => string;
  close: () => void;
}

/**
 * A decision while it is worded: its consequence is asked for once the typing rests, and it can be sent, with Ctrl and Enter too, as soon as what is shown is
 * the consequence of what is worded.
 */
export function useDecisionDraft<Draft, Preview, Answer extends { undo?: string }>(wording: Wording<Draft, Preview, Answer>) {
  const { version, draft, send, close } = wording;
  const question = JSON.stringify(wording.question);
  const asked = useSettled(question);
  const preview = wording.usePreview(JSON.parse(asked) as Draft, version);
  const decision = useDecision({
    version,
    draft,
    send: (worded: Draft, seen) => send(worded, seen, preview.data),
    said: (answer) => wording.said(answer, preview.data),
    close,
  });
  const misworded = preview.error instanceof Refusal ? preview.error : undefined;
  /** What is wrong with the words, or why they were refused; that somebody else was quicker is told apart. */
  const fault = misworded ?? (decision.overtaken ? undefined : decision.refused);
  const passing = misworded ? passes(misworded) : decision.passing;
  const ready =
    asked === question &&
    !preview.isPlaceholderData &&
    preview.data !== undefined &&
    (fault === undefined || passing) &&
    !decision.reading &&
    wording.complete(preview.data);
  const submit = () => {
    if (ready && (wording.confirm?.() ?? true)) {
      decision.submit();
    }
  };
  useKeys({ 'Ctrl+Enter': submit });
  return {
    consequence: preview.data,
    fault,
    ready,
    submit,
    overtaken: decision.overtaken,
    reading: decision.reading,
    refused: decision.refused,
    pending: decision.pending,
  };
}
