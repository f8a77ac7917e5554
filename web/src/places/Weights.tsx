import { Button } from 'antd';
import { useId, useState } from 'react';
import { Link } from 'react-router';
import { api, body, Refusal, type Schemas } from '../api/client';
import { useSession, useWeights, useWeightsPreview } from '../api/queries';
import { Overtaken } from '../case/Overtaken';
import { useDecision } from '../decisions/useDecision';
import { Heading } from '../frame/Heading';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { useLastAct } from '../frame/lastAct';
import { NumberField } from '../frame/NumberField';
import { useNow } from '../frame/useNow';
import { count, dayTime } from '../words/dates';
import { suggestionWord } from '../words/weighing';

type Values = Schemas['Weights'];

const GROUPS: {
  title: string;
  help: string;
  key: 'openness' | 'likelihoods' | 'vectors' | 'bases' | 'harms';
  most: number;
  words: [string, string][];
}[] = [
  {
    title: 'Openness',
    help: 'how reachable a host is, by its trait facing',
    key: 'openness',
    most: 1,
    words: [
      ['PUBLIC', 'public'],
      ['PARTNER', 'partner'],
      ['INTERNAL', 'internal, or unknown'],
      ['ISOLATED', 'isolated'],
    ],
  },
  {
    title: 'Likelihood without a score',
    help: 'how likely a vulnerability is exploited that nobody scored, by rating',
    key: 'likelihoods',
    most: 1,
    words: [
      ['CRITICAL', 'Critical'],
      ['HIGH', 'High'],
      ['MEDIUM', 'Medium, or unrated'],
      ['LOW', 'Low'],
    ],
  },
  {
    title: 'Attack vector',
    help: 'how easily the vulnerability is reached',
    key: 'vectors',
    most: 1,
    words: [
      ['NETWORK', 'network'],
      ['ADJACENT', 'adjacent'],
      ['LOCAL', 'local'],
      ['PHYSICAL', 'physical'],
    ],
  },
  {
    title: 'Base score where none is given',
    help: 'stands for a missing CVSS base score, by rating',
    key: 'bases',
    most: 10,
    words: [
      ['CRITICAL', 'Critical'],
      ['HIGH', 'High'],
      ['MEDIUM', 'Medium'],
      ['LOW', 'Low'],
    ],
  },
  {
    title: 'Harm of a failure',
    help: 'share of a host that is lost',
    key: 'harms',
    most: 1,
    words: [
      ['REFUSED', 'refused'],
      ['DEGRADED', 'degraded'],
      ['DOWN', 'down'],
    ],
  },
];

const SINGLES: { key: 'knownExploited' | 'hitShare' | 'namedIssue' | 'vagueIssue' | 'cannotBeRemoved'; words: string; most: number }[] = [
  { key: 'knownExploited', words: 'likelihood of a vulnerability that is known to be exploited', most: 1 },
  { key: 'hitShare', words: 'hit share: how likely a vulnerable host is hit when exploitation goes on', most: 1 },
  { key: 'namedIssue', words: 'how likely an open known issue hits a host that it names', most: 1 },
  { key: 'vagueIssue', words: 'how likely one hits that names no hosts', most: 1 },
  { key: 'cannotBeRemoved', words: 'harm of what cannot be removed again, times', most: 10 },
];

/** By which weights everything is weighed; a change is seen on the present docket before it is saved. */
export default function Weights() {
  const page = useWeights();
  const now = useNow();
  const analyst = useSession().data?.role === 'ANALYST';
  const [draft, setDraft] = useState<Values | undefined>();
  const preview = useWeightsPreview(draft, page.data?.version ?? '');
  const save = useDecision({
    version: page.data?.version ?? '',
    draft,
    send: (values, seen) => body(api.PUT('/api/weights', { body: values as Values, params: { header: seen } })),
    said: () => 'The weights are saved.',
    close: () => {
      setDraft(undefined);
      // Out of the field, so that a letter is a key again.
      (document.activeElement as HTMLElement | null)?.blur();
    },
  });
  const ready = draft !== undefined && preview.data !== undefined && !preview.isPlaceholderData && !preview.isError && !save.reading;
  const send = () => ready && save.submit();
  const { takeBack } = useLastAct();
  useKeys({ 'Ctrl+Enter': () => analyst && send(), Escape: () => setDraft(undefined), u: () => analyst && takeBack() });

  if (page.isLoadingError) {
    return <Failed what="The weights" error={page.error} again={page.refetch} />;
  }
  if (!page.data) {
    return <Loading what="the weights" />;
  }
  const values = draft ?? page.data.weights;
  const fields = { disabled: !analyst };
  const change = (part: Partial<Values>) => setDraft({ ...values, ...part });
  const fault = preview.error ?? (save.overtaken ? undefined : save.refused);
  return (
    <main>
      <div className="head">
        <Heading>Weights</Heading>
        <span className="mid">
          One point is one tier-4 host lost.{' '}
          {page.data.since === undefined ? 'Never changed here.' : `Last changed ${dayTime(page.data.since, now)} by ${page.data.author}.`}
        </span>
        <span className="space" />
        {analyst && (
          <button type="button" className="plain link" onClick={() => setDraft(page.data.usual)}>
            Reset to defaults
          </button>
        )}
      </div>
      <div className="weights">
        <section>
          <fieldset>
            <legend>
              What a host costs <span className="mid">in points, by tier</span>
            </legend>
            {[1, 2, 3, 4].map((tier) => (
              <Weight
                key={tier}
                words={`tier ${tier}`}
                value={values.tiers[tier - 1]}
                usual={page.data.usual.tiers[tier - 1]}
                most={1000}
                change={(value) => change({ tiers: values.tiers.map((old, index) => (index === tier - 1 ? value : old)) })}
                {...fields}
              />
            ))}
          </fieldset>
          {GROUPS.map((group) => (
            <fieldset key={group.key}>
              <legend>
                {group.title} <span className="mid">{group.help}</span>
              </legend>
              {group.words.map(([name, words]) => (
                <Weight
                  key={name}
                  words={words}
                  value={(values[group.key] as Record<string, number>)[name]}
                  usual={(page.data.usual[group.key] as Record<string, number>)[name]}
                  most={group.most}
                  change={(value) => change({ [group.key]: { ...values[group.key], [name]: value } })}
                  {...fields}
                />
              ))}
            </fieldset>
          ))}
          <fieldset>
            <legend>Single weights</legend>
            {SINGLES.map((single) => (
              <Weight
                key={single.key}
                words={single.words}
                value={values[single.key]}
                usual={page.data.usual[single.key]}
                most={single.most}
                change={(value) => change({ [single.key]: value })}
                {...fields}
              />
            ))}
          </fieldset>
        </section>
        <section className="beside" aria-label="What it would change" aria-live="polite">
          {draft === undefined && (
            <p className="empty">
              <strong>Nothing is changed yet.</strong>
              {analyst
                ? 'Change a number, and what it does to the present docket stands here before anything is saved.'
                : 'Only an analyst can change the weights.'}
            </p>
          )}
          {draft !== undefined && fault instanceof Refusal && (
            <p className="fault-line" role="alert">
              {fault.message}
            </p>
          )}
          {save.overtaken && <Overtaken message={save.refused?.message ?? ''} reading={save.reading} />}
          {draft !== undefined && preview.data !== undefined && <Effects preview={preview.data} />}
          {draft !== undefined && (
            <div className="actions">
              <Button type="primary" disabled={!ready} loading={save.pending} onClick={send}>
                Save these weights
              </Button>
              <span className="mid">
                <kbd>Ctrl</kbd> <kbd>Enter</kbd>
              </span>
              <Button onClick={() => setDraft(undefined)}>Cancel</Button>
            </div>
          )}
        </section>
      </div>
      <Legend>
        <Key name="Ctrl Enter">save</Key>
        <Key name="Escape">leave them as they were</Key>
        <Key name="U">take the last one back</Key>
        <Key name="?">keys</Key>
      </Legend>
    </main>
  );
}

function Weight({
  words,
  value,
  usual,
  most,
  change,
  disabled,
}: {
  words: string;
  value: number | undefined;
  usual: number | undefined;
  most: number;
  change: (value: number) => void;
  disabled: boolean;
}) {
  const id = useId();
  return (
    <div className="weight">
      <label htmlFor={id}>{words}</label>
      <NumberField
        id={id}
        least={0}
        most={most}
        whole={false}
        width={90}
        value={value}
        disabled={disabled}
        change={(typed) => typed !== undefined && change(typed)}
      />
      <span className="mid">{value !== usual && `default ${usual}`}</span>
    </div>
  );
}

function Effects({ preview }: { preview: Schemas['WeightsPreview'] }) {
  if (preview.differences.length === 0) {
    return <p>They are the same as those that hold.</p>;
  }
  return (
    <>
      <p>
        Changes {preview.differences.join(', ')}.{' '}
        <b>
          {preview.suggestions === 0 ? 'No suggestion changes' : `${count(preview.suggestions, 'suggestion')} would be another`},{' '}
          {count(preview.moved, 'case')} would stand elsewhere
        </b>{' '}
        of those that need judgement.
      </p>
      <table className="list" aria-label="Cases that would change">
        <thead>
          <tr>
            <th>Case</th>
            <th>Place</th>
            <th>Tilt</th>
            <th>Suggestion</th>
          </tr>
        </thead>
        <tbody>
          {preview.effects.slice(0, 30).map((effect) => (
            <tr key={effect.id}>
              <td>
                <Link to={`/cases/${encodeURIComponent(effect.id)}`}>{effect.title}</Link>
              </td>
              <td>{effect.placeBefore === effect.placeAfter ? effect.placeBefore : `${effect.placeBefore} → ${effect.placeAfter}`}</td>
              <td>
                {effect.tiltBefore.toFixed(2)} → {effect.tiltAfter.toFixed(2)}
              </td>
              <td>
                {effect.before === effect.after ? (
                  suggestionWord(effect.after)
                ) : (
                  <>
                    {suggestionWord(effect.before)} → <b>{suggestionWord(effect.after)}</b>
                  </>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {preview.effects.length > 30 && <p className="mid">and {preview.effects.length - 30} more</p>}
    </>
  );
}
