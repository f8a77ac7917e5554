import { Button, Input } from 'antd';
import { useState } from 'react';
import { api, body, Refusal, type Schemas } from '../api/client';
import { useChange, useSession } from '../api/queries';
import { useLastAct } from '../frame/lastAct';
import { day } from '../words/dates';

/** That a host is retired and why, or where it can be retired: it then counts nowhere until it reports again. */
export function Retirement({ host, now }: { host: Schemas['HostView']; now: Date }) {
  const analyst = useSession().data?.role === 'ANALYST';
  const [reason, setReason] = useState<string | undefined>();
  const { done, takeBackThese } = useLastAct();
  const retire = useChange((why: string) =>
    body(api.POST('/api/hosts/{name}/retirement', { params: { path: { name: host.name } }, body: { reason: why } })),
  );
  const undo = `/api/hosts/${encodeURIComponent(host.name)}/retirement`;
  if (host.retirement !== undefined) {
    return (
      <section>
        <h2>Retired</h2>
        <p className="flat">
          {day(host.retirement.at, now)}, {host.retirement.author}: {host.retirement.reason}. It counts nowhere; what stands here is as it
          last was. Its next report brings it back.{' '}
          {analyst && (
            <button type="button" className="plain link mid" onClick={() => takeBackThese({ words: `${host.name} is retired.`, undo })}>
              Bring it back
            </button>
          )}
        </p>
      </section>
    );
  }
  if (!analyst) {
    return null;
  }
  const send = () =>
    retire.mutate(reason ?? '', {
      onSuccess: (retired) => {
        setReason(undefined);
        done({ words: `${host.name} is retired and counts nowhere.`, undo: retired.undo });
      },
    });
  return (
    <section>
      {reason === undefined ? (
        <button type="button" className="plain link" onClick={() => setReason('')}>
          Retire this host …
        </button>
      ) : (
        <div className="formlines">
          <label htmlFor="retirement">It is there no more, because</label>
          <Input
            id="retirement"
            autoFocus
            maxLength={2000}
            placeholder="scrapped, replaced by another"
            value={reason}
            onChange={(event) => setReason(event.target.value)}
            onPressEnter={send}
          />
          {retire.error instanceof Refusal && (
            <p className="fault-line" role="alert">
              Not retired: {retire.error.message}
            </p>
          )}
          <div className="actions">
            <Button type="primary" loading={retire.isPending} onClick={send}>
              Retire
            </Button>
            <Button onClick={() => setReason(undefined)}>Cancel</Button>
          </div>
        </div>
      )}
    </section>
  );
}
