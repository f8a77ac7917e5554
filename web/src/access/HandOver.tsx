import { Button } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, body } from '../api/client';
import { usePeople, useResponsibilities } from '../api/queries';
import { useDecision } from '../decisions/useDecision';
import { Choose } from '../frame/Choose';
import { Failed, Loading } from '../frame/Loading';
import { count } from '../words/dates';

const MOST_LINES = 12;

/** All that somebody answers for, given to somebody else. */
export function HandOver({ person, close }: { person: string; close: () => void }) {
  const held = useResponsibilities(person);
  const people = usePeople();
  const [to, setTo] = useState<string>();
  const handing = useDecision({
    version: '',
    draft: { from: person, to: to ?? '' },
    send: (draft, { 'Idempotency-Key': key }) =>
      body(api.POST('/api/responsibilities/hand-overs', { body: draft, params: { header: { 'Idempotency-Key': key } } })),
    said: (done) => `${count(done.handedOver, 'thing')} handed over from ${person} to ${to}.`,
    close,
  });
  if (held.isLoadingError) {
    return <Failed what={`What ${person} answers for`} error={held.error} again={held.refetch} />;
  }
  if (held.data === undefined) {
    return <Loading what={`what ${person} answers for`} />;
  }
  const { held: lines, populations } = held.data;
  return (
    <section
      className="sheet"
      aria-label="Handing over"
      onKeyDown={(event) => {
        if (event.key === 'Escape') {
          close();
        }
      }}
    >
      {lines.length === 0 ? (
        <div>{person} answers for no exception and sees to no case.</div>
      ) : (
        <div className="sentence">
          <b>Hand over</b> all that {person} answers for to{' '}
          <Choose
            label="Who takes over"
            all="somebody"
            value={to}
            options={(people.data ?? [])
              .filter((one) => one.name !== person)
              .map((one) => [one.name, `${one.name}, ${one.role.toLowerCase()}`] as const)}
            change={setTo}
          />
          .
        </div>
      )}
      <div className="consequence">
        {lines.slice(0, MOST_LINES).map((one) => (
          <div key={one.words}>
            <Link to={one.path}>{one.words}</Link>
          </div>
        ))}
        {lines.length > MOST_LINES && <div className="mid">and {lines.length - MOST_LINES} more</div>}
        {populations.length > 0 && (
          <div>
            {person} owns {populations.join(', ')}: another owner is written on <Link to="/populations">Populations</Link>.
          </div>
        )}
        {handing.refused && (
          <div role="alert" className="strong">
            {handing.refused.message}
          </div>
        )}
      </div>
      <div className="actions">
        {lines.length > 0 && (
          <Button type="primary" disabled={to === undefined} loading={handing.pending} onClick={handing.submit}>
            Hand over {count(lines.length, 'thing')}
          </Button>
        )}
        <Button onClick={close}>{lines.length > 0 ? 'Cancel' : 'Close'}</Button>
      </div>
    </section>
  );
}
