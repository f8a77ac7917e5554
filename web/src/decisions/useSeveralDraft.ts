import { useState } from 'react';
import { api, body, type Schemas } from '../api/client';
import { useSeveralConsequences } from '../api/queries';
import { isLetGo } from '../words/answers';
import { hindrance, type SeveralAsked, sentencesOf, severalWords } from './several';
import { useDecisionDraft } from './useDecisionDraft';

/** One answer for several cases while it is worded: what it would do on each, and which of them cannot be decided together with others. */
export function useSeveralDraft(
  strips: Schemas['Strip'][],
  asked: SeveralAsked,
  reasons: Schemas['VerdictDraft']['reasons'],
  words: string,
  now: Date,
  close: () => void,
) {
  const [armed, setArmed] = useState(false);
  const version = strips.map((strip) => strip.version).join(', ');
  const question = { sentences: sentencesOf(strips, asked, [], '') };
  const preview = useSeveralConsequences(question, version);
  const told = new Map((preview.data ?? []).map((one) => [one.update, one]));
  // Those start a pilot who were seen, whoever has reported meanwhile.
  const seen = (update: string) => told.get(update)?.worded[0]?.pilot?.sample.map((host) => host.name);
  const draft = {
    sentences: sentencesOf(strips, asked, reasons, words).map((one) => ({
      ...one,
      pilot: one.pilot && { ...one.pilot, hosts: seen(one.update) },
    })),
  };
  const letGo = isLetGo({ type: asked.type, until: asked.until } as Schemas['AnswerDraft'], now);
  const releasesUpgrade = asked.type !== 'BLOCK' && strips.some((strip) => strip.kind === 'UPGRADE');
  const everywhere = asked.only.length === 0;
  const decision = useDecisionDraft({
    version,
    draft,
    question,
    usePreview: useSeveralConsequences,
    complete: (all) =>
      reasons.length + words.trim().length > 0 &&
      strips.length > 0 &&
      strips.every(
        (strip) =>
          hindrance(
            strip,
            asked,
            all.find((one) => one.update === strip.id),
          ) === undefined,
      ),
    confirm: () => {
      setArmed(true);
      return armed || !(everywhere || releasesUpgrade);
    },
    send: (request, header) => body(api.POST('/api/verdicts/several', { body: request, params: { header } })),
    said: () => `${severalWords(asked, strips.length, now)}.`,
    close,
  });
  return {
    ...decision,
    told: new Map((decision.consequence ?? []).map((one) => [one.update, one])),
    letGo,
    everywhere,
    releasesUpgrade,
    armed: armed && (everywhere || releasesUpgrade),
  };
}
