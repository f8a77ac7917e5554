import { useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, body, type Schemas } from '../api/client';
import { useDecision } from '../decisions/useDecision';
import { Heading } from '../frame/Heading';
import { HostNames } from '../frame/HostNames';
import { Failed, Loading } from '../frame/Loading';
import { useLastAct } from '../frame/lastAct';
import { useAddress } from '../frame/useAddress';
import { useNow } from '../frame/useNow';
import { Mark } from '../look/Mark';
import { count, dayTime, lastDay } from '../words/dates';
import { reasonWords } from '../words/sentences';
import styles from './Objection.module.css';

type Overridden = Schemas['OverriddenView'];

/** A force that goes over an exception: whoever answers for that reads it here, whatever else they may see, and may object. */
export default function Objection() {
  const now = useNow();
  const [search] = useAddress();
  const force = Number(search.get('force') ?? Number.NaN);
  const exception = Number(search.get('exception') ?? Number.NaN);
  const named = Number.isInteger(force) && Number.isInteger(exception);
  const over = useQuery({
    queryKey: ['objection', force, exception],
    queryFn: () => body(api.GET('/api/objections', { params: { query: { force, exception } } })),
    enabled: named,
    retry: false,
  });
  if (over.isLoadingError || !named) {
    return <Failed what="This force" error={over.error ?? new Error('its number cannot be read')} again={over.refetch} />;
  }
  return over.data === undefined ? <Loading what="this force" /> : <Overridden over={over.data} now={now} />;
}

function Overridden({ over, now }: { over: Overridden; now: Date }) {
  const { takeBackThese } = useLastAct();
  const because = reasonWords(over.reasons, over.words);
  const name = over.title || over.update;
  return (
    <main>
      <div className="head">
        <Heading>Exception no. {over.exception} is gone over</Heading>
      </div>
      <div className="page">
        <section className="sheet" aria-label="The force">
          <div className="sentence">
            <Mark name="FORCE" size={20} /> <b>Force</b>{' '}
            {over.opensCase ? <Link to={`/cases/${encodeURIComponent(over.update)}`}>{name}</Link> : name} for {over.population}
            {over.narrowing !== undefined && <> where {over.narrowing}</>} due {dayTime(over.due, now)}
            {because !== '' && <>, because {because}</>}.
          </div>
          <div className="mid">
            No. {over.force} by {over.author}
          </div>
          <div className="sentence">
            <Mark name="EXCEPTION" size={20} /> It goes over the exception where {over.where}, until{' '}
            {lastDay(over.until, now, over.timeZone)}, because {over.reason}
            {over.measure !== '' && <>; meanwhile {over.measure}</>}; owner {over.owner}.
          </div>
          {over.hosts.count === 0 ? (
            <div className="mid">It reaches none of its hosts now: something else is in force for them, or they have it.</div>
          ) : (
            <div>
              It reaches <span className="strong">{count(over.hosts.count, 'host')}</span> of it that{' '}
              {over.hosts.count === 1 ? 'lacks' : 'lack'} {over.update}: <HostNames hosts={over.hosts} />
            </div>
          )}
        </section>
        {over.objections.length > 0 && (
          <section className={styles.part}>
            <h2>Objections</h2>
            {over.objections.map((one) => (
              <div key={one.number}>
                {one.words}{' '}
                <span className="mid">
                  {one.author}, {dayTime(one.createdAt, now)}
                </span>{' '}
                {one.yours && (
                  <button
                    type="button"
                    className="plain link mid"
                    onClick={() =>
                      takeBackThese({ words: `the objection to force no. ${over.force}.`, undo: `/api/objections/${one.number}` })
                    }
                  >
                    Take back
                  </button>
                )}
              </div>
            ))}
            <p className="mid">They hold nothing back by themselves: the case is judged again by whoever judges it.</p>
          </section>
        )}
        {over.mayObject ? (
          <Objecting over={over} />
        ) : (
          <p className="mid">
            {new Date(over.due) <= now
              ? `It is due: speak to ${over.author}.`
              : `${over.owner}, who answers for the exception, may object.`}
          </p>
        )}
      </div>
    </main>
  );
}

function Objecting({ over }: { over: Overridden }) {
  const [words, setWords] = useState('');
  const objecting = useDecision({
    version: '',
    draft: { force: over.force, exception: over.exception, words: words.trim() },
    send: (draft, { 'Idempotency-Key': key }) =>
      body(api.POST('/api/objections', { body: draft, params: { header: { 'Idempotency-Key': key } } })),
    said: () => `Objected: ${over.author}, and whoever judges the case, are told.`,
    close: () => setWords(''),
  });
  const ready = words.trim() !== '' && !objecting.pending;
  return (
    <section className={styles.part}>
      <h2>Object</h2>
      <Input.TextArea
        aria-label="What is against it"
        rows={3}
        maxLength={2000}
        value={words}
        placeholder="What would happen to these hosts, and until when they need to stay as they are"
        onChange={(event) => setWords(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && event.ctrlKey && ready) {
            objecting.submit();
          }
        }}
      />
      {objecting.refused && (
        <p role="alert" className="strong">
          {objecting.refused.message}
        </p>
      )}
      <div className="actions">
        <Button type="primary" disabled={!ready} loading={objecting.pending} onClick={objecting.submit}>
          Object
        </Button>
        <span className="mid">
          <kbd>Ctrl</kbd> <kbd>Enter</kbd>
        </span>
      </div>
    </section>
  );
}
