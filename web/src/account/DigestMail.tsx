import { useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, body } from '../api/client';
import { useChange } from '../api/queries';
import { NumberField } from '../frame/NumberField';
import { useNow } from '../frame/useNow';
import { dayTime } from '../words/dates';

/** The digest by mail, each morning at an hour of one's own. */
export function DigestMail() {
  const now = useNow();
  const known = useQuery({ queryKey: ['digest mail'], queryFn: () => body(api.GET('/api/digest-mail')) });
  const [address, setAddress] = useState<string>();
  const [hour, setHour] = useState<number>();
  const save = useChange((mail: { address: string; hour: number; zone: string }) => api.PUT('/api/digest-mail', { body: mail }));
  const stop = useChange(() => api.DELETE('/api/digest-mail'), 'Not stopped');
  if (known.data === undefined) {
    return null;
  }
  const { mail, canBeSent, lastSent, failedAt, failure } = known.data;
  const zone = mail?.zone ?? Intl.DateTimeFormat().resolvedOptions().timeZone;
  const shown = { address: address ?? mail?.address ?? '', hour: hour ?? mail?.hour ?? 7, zone };
  return (
    <section>
      <h2>Your digest by mail</h2>
      <p className="mid">
        What asks for you, what ends within seven days and what was decided, once a day; the same stands under{' '}
        <Link to="/digest">Digest</Link>.{!canBeSent && ' No mails are sent yet: an administrator sets on Access by which server.'}
      </p>
      <p className="actions">
        <Input
          aria-label="Your mail address"
          placeholder="name@example.org"
          value={shown.address}
          onChange={(event) => setAddress(event.target.value)}
        />
        <span>at</span>
        <NumberField label="Hour of the day" least={0} most={23} width={70} value={shown.hour} change={setHour} />
        <span>o’clock ({zone})</span>
      </p>
      {save.error && (
        <p className="fault-line" role="alert">
          Not kept: {save.error.message}
        </p>
      )}
      <div className="actions">
        <Button
          disabled={shown.address.trim() === ''}
          loading={save.isPending}
          onClick={() => save.mutate(shown, { onSuccess: () => setAddress(undefined) })}
        >
          {mail === undefined ? 'Send it to me' : 'Change it'}
        </Button>
        {mail !== undefined && (
          <Button loading={stop.isPending} onClick={() => stop.mutate(undefined)}>
            Stop it
          </Button>
        )}
        {mail !== undefined && (
          <span className="mid">
            {failure !== undefined && failedAt !== undefined
              ? `it could not be sent ${dayTime(failedAt, now)}, and is tried again: ${failure}`
              : lastSent !== undefined && `sent, or begun, ${dayTime(lastSent, now)}`}
          </span>
        )}
      </div>
    </section>
  );
}
