import { api, body } from '../api/client';
import { type ExceptionDraft, useExceptionConsequence } from '../api/queries';
import { count, isoDay } from '../words/dates';
import { useDecisionDraft } from './useDecisionDraft';
import type { Worded } from './useVerdictDraft';

export type Effect = NonNullable<ExceptionDraft['effect']>;

/** An exception while it is worded: what stands in the address, and what it would do. */
export function useExceptionDraft({ page, search, stop, now }: Worded) {
  const about = search.get('about') ?? 'UPDATE';
  // A successor, or the identifier of a known issue; only where it is about one update.
  const ends = about === 'UPDATE' ? (search.get('ends') ?? undefined) : undefined;
  const draft = {
    update: page.update.id,
    scope: about === 'KIND' || about === 'UPDATE' ? about : ('PRODUCT' as const),
    product: about === 'KIND' || about === 'UPDATE' ? undefined : about,
    hosts: search.get('where') ?? '',
    effect: (search.get('effect') ?? 'WITHHELD') as Effect,
    until: search.get('until') ?? isoDay(now, 28),
    reason: search.get('words') ?? '',
    owner: search.get('owner') ?? '',
    measure: search.get('measure') ?? '',
    endsWhen: ends === undefined ? undefined : ends === 'SUCCESSOR' ? ('SUCCESSOR' as const) : ('ISSUE_FIXED' as const),
    endsIssue: ends === undefined || ends === 'SUCCESSOR' ? undefined : ends,
  } satisfies ExceptionDraft;
  const decision = useDecisionDraft({
    version: page.version,
    draft: draft as ExceptionDraft,
    question: { ...draft, reason: '', owner: '', measure: '' },
    usePreview: useExceptionConsequence,
    complete: () => draft.hosts.trim() !== '',
    send: (exception, seen) => body(api.POST('/api/exceptions', { body: exception, params: { header: seen } })),
    said: (made, would) => `Exception no. ${made.number} is made for ${count(would?.named ?? 0, 'host')}.`,
    close: stop,
  });
  const named = decision.consequence?.named ?? 0;
  return { ...decision, draft, about, ends, named };
}
