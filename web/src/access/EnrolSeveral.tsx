import { useQueryClient } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { api, body, Refusal } from '../api/client';
import { count } from '../words/dates';

type Made = { host: string; token: string };
type Refused = { host: string; why: string };

/** A token for enrolment for each of several hosts, as one file; those that could not be made are named with why. */
export function EnrolSeveral({ days }: { days: number | undefined }) {
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const [text, setText] = useState('');
  const [left, setLeft] = useState(0);
  const [made, setMade] = useState<Made[]>([]);
  const [refused, setRefused] = useState<Refused[]>([]);
  const hosts = [
    ...new Set(
      text
        .split(/[\n,;]+/)
        .map((name) => name.trim())
        .filter((name) => name !== ''),
    ),
  ];
  const make = async () => {
    setMade([]);
    setRefused([]);
    for (const [place, host] of hosts.entries()) {
      setLeft(hosts.length - place);
      try {
        const token = await body(api.POST('/api/tokens', { body: { name: `enrol ${host}`, scope: 'ENROL', host, formats: [], days } }));
        setMade((before) => [...before, { host, token: token.token }]);
      } catch (error) {
        setRefused((before) => [...before, { host, why: error instanceof Refusal ? error.message : 'the server cannot be reached' }]);
      }
    }
    setLeft(0);
    client.invalidateQueries({ queryKey: ['tokens'] });
  };
  if (!open) {
    return (
      <p>
        <button type="button" className="plain link" onClick={() => setOpen(true)}>
          Enrol several hosts
        </button>
      </p>
    );
  }
  return (
    <div>
      <Input.TextArea
        aria-label="Names of the hosts to enrol"
        placeholder="names of hosts, with line breaks or commas between them"
        autoFocus
        autoSize={{ minRows: 2, maxRows: 8 }}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <div className="actions">
        <Button disabled={hosts.length === 0} loading={left > 0} onClick={make}>
          {left > 0 ? `${left} to go` : `Make ${count(hosts.length, 'token')} for enrolment`}
        </Button>
        <Button onClick={() => setOpen(false)}>Close</Button>
      </div>
      {left === 0 && made.length > 0 && (
        <p className="flat" role="status">
          {count(made.length, 'token is', 'tokens are')} made, each good once:{' '}
          <a href={`data:text/csv;charset=utf-8,${encodeURIComponent(asTable(made))}`} download="enrolment.csv">
            the file with all of them
          </a>
          , to be had this once.
        </p>
      )}
      {refused.map((one) => (
        <p key={one.host} className="fault-line" role="alert">
          Not made for {one.host}: {one.why}
        </p>
      ))}
    </div>
  );
}

/** Comma-separated values (RFC 4180). */
function asTable(made: Made[]): string {
  const cell = (text: string) => `"${text.replaceAll('"', '""')}"`;
  return ['host,token', ...made.map((one) => `${cell(one.host)},${cell(one.token)}`)].join('\r\n');
}
