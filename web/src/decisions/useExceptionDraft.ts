import { api, body, type Schemas } from '../api/client';
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
  const decision = useDecisionDraft<ExceptionDraft, Schemas['ExceptionConsequence'], Made>({
    version: page.version,
    draft: draft as ExceptionDraft,
    question: { ...draft, reason: '', owner: '', measure: '' },
    usePreview: useExceptionConsequence,
    complete: () => draft.hosts.trim() !== '',
    send: (exception, seen, would) =>
      (would?.grounds.length ?? 0) > 0
        ? body(api.POST('/api/exceptions/proposals', { body: exception, params: { header: seen } }))
        : body(api.POST('/api/exceptions', { body: exception, params: { header: seen } })),
    said: (made, would) =>
      'lapsesAt' in made
        ? `Proposed: an exception for ${count(would?.consequence.named ?? 0, 'host')}. It holds nothing until an approver says so.`
        : `Exception no. ${made.number} is made for ${count(would?.consequence.named ?? 0, 'host')}.`,
    close: stop,
  });
  return {
    ...decision,
    consequence: decision.consequence?.consequence,
    /** Why it needs an approver; none: it does not. */
    grounds: decision.consequence?.grounds ?? [],
    draft,
    about,
    ends,
    named: decision.consequence?.consequence.named ?? 0,
  };
}

/** What became of it: it was made, or it waits for an approver. */
type Made = Schemas['MadeException'] | Schemas['Proposed'];
