import { Button, Input, Modal, Select } from 'antd';
import { type KeyboardEvent, type ReactNode, useId, useRef, useState } from 'react';
import { api, body, Refusal, type Schemas } from '../api/client';
import { useSession } from '../api/queries';
import { useDecision } from '../decisions/useDecision';
import { NumberField } from '../frame/NumberField';
import { count } from '../words/dates';

type Page = Schemas['CaseView'];

const CLASSES = [
  { value: 'REFUSED', label: 'refused: did not install' },
  { value: 'DEGRADED', label: 'degraded: something works worse' },
  { value: 'DOWN', label: 'down: host or service unusable' },
] as const;

type FailureClass = (typeof CLASSES)[number]['value'];

/** A short form over the page; Ctrl Enter sends it, Escape leaves it. */
export function Form({
  title,
  close,
  send,
  sending,
  error,
  children,
}: {
  title: string;
  close: () => void;
  send: () => void;
  sending: boolean;
  error: unknown;
  children: ReactNode;
}) {
  const keys = (event: KeyboardEvent) => {
    if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      send();
    }
  };
  const form = useRef<HTMLDivElement>(null);
  const focus = () => form.current?.querySelector<HTMLElement>('textarea, input')?.focus();
  return (
    <Modal afterOpenChange={(open) => open && focus()} open title={title} onCancel={close} footer={null} width={520} destroyOnHidden>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: a shortcut for the button below */}
      <div ref={form} className="formlines" onKeyDown={keys}>
        {children}
        {error instanceof Refusal && (
          <p className="fault-line" role="alert">
            Not taken: {error.message}
          </p>
        )}
        <div className="actions">
          <Button type="primary" loading={sending} onClick={send}>
            {title}
          </Button>
          <span className="mid">
            <kbd>Ctrl</kbd> <kbd>Enter</kbd>
          </span>
          <Button onClick={close}>Cancel</Button>
        </div>
      </div>
    </Modal>
  );
}

export function Field({ label, children }: { label: string; children: (id: string) => ReactNode }) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id}>{label}</label>
      {children(id)}
    </div>
  );
}

/** A failure as the service desk hears it: paste names, say what happened, done. */
export function FailureDialog({ update, close }: { update: string; close: () => void }) {
  const [hosts, setHosts] = useState('');
  const [others, setOthers] = useState<number>();
  const [words, setWords] = useState('');
  const [code, setCode] = useState('');
  const [failureClass, setClass] = useState<FailureClass>('DEGRADED');
  const [where, setWhere] = useState('');
  const [source, setSource] = useState('');
  const role = useSession().data?.role;
  const tell = useDecision({
    version: '',
    draft: { update, hosts, others: others ?? 0, words, code, failureClass, where, source },
    send: (draft, { 'Idempotency-Key': key }) =>
      body(api.POST('/api/failure-reports', { body: draft, params: { header: { 'Idempotency-Key': key } } })),
    said: (taken) => {
      const unknown = taken.unknown.length === 0 ? '' : ` Not known here and left out: ${taken.unknown.join(', ')}.`;
      return `Told of ${count(taken.hosts.length, 'host')}${(others ?? 0) > 0 ? ` and ${others} elsewhere` : ''} that failed with ${update}.${unknown}`;
    },
    close,
  });
  return (
    <Form title="Report the failure" close={close} send={tell.submit} sending={tell.pending} error={tell.refused}>
      <Field label={`Hosts of ours that failed with ${update}: paste names as they come`}>
        {(id) => (
          <Input.TextArea id={id} rows={3} value={hosts} onChange={(e) => setHosts(e.target.value)} placeholder="ksk-012, ksk-013 …" />
        )}
      </Field>
      <Field label="What happened">
        {(id) => <Input.TextArea id={id} rows={2} maxLength={4000} value={words} onChange={(e) => setWords(e.target.value)} />}
      </Field>
      <Field label="How bad">{(id) => <Select id={id} value={failureClass} onChange={setClass} options={[...CLASSES]} />}</Field>
      <Field label="Code or symptom, where there is one">
        {(id) => <Input id={id} maxLength={500} value={code} onChange={(e) => setCode(e.target.value)} />}
      </Field>
      <Field label="Hosts elsewhere that it tells of">
        {(id) => <NumberField id={id} least={0} most={10_000_000} width={120} value={others} change={setOthers} placeholder="none" />}
      </Field>
      {(others ?? 0) > 0 && (
        <>
          <Field label="With these traits, where told">
            {(id) => <Input id={id} value={where} onChange={(e) => setWhere(e.target.value)} placeholder="reader = R2" />}
          </Field>
          {role !== 'DESK' && (
            <Field label="Which site tells it, if not you">
              {(id) => <Input id={id} maxLength={500} value={source} onChange={(e) => setSource(e.target.value)} placeholder="you" />}
            </Field>
          )}
        </>
      )}
    </Form>
  );
}

export function IssueDialog({ page, close }: { page: Page; close: () => void }) {
  const [words, setWords] = useState('');
  const [failureClass, setClass] = useState<FailureClass>('DEGRADED');
  const [where, setWhere] = useState('');
  const tell = useDecision({
    version: page.version,
    draft: {
      updates: [page.update.id],
      fixedBy: [],
      words,
      state: 'OPEN' as const,
      failureClass,
      where: where.trim() === '' ? undefined : where,
    },
    send: (draft, seen) => body(api.POST('/api/known-issues', { body: draft, params: { header: seen } })),
    said: () => `Reported a known issue of ${page.update.id}.`,
    close,
  });
  return (
    <Form title="Report the known issue" close={close} send={tell.submit} sending={tell.pending} error={tell.refused}>
      <Field label={`What is wrong with ${page.update.id}`}>
        {(id) => <Input.TextArea id={id} rows={3} maxLength={4000} value={words} onChange={(e) => setWords(e.target.value)} />}
      </Field>
      <Field label="How bad">{(id) => <Select id={id} value={failureClass} onChange={setClass} options={[...CLASSES]} />}</Field>
      <Field label="Which hosts it touches, as a condition; empty where nobody can tell">
        {(id) => (
          <Input id={id} value={where} onChange={(e) => setWhere(e.target.value)} placeholder="reader = R2 and spool_free_mb < 300" />
        )}
      </Field>
    </Form>
  );
}

export function NoteDialog({ page, close }: { page: Page; close: () => void }) {
  const [where, setWhere] = useState('');
  const [reason, setReason] = useState('');
  const note = useDecision({
    version: page.version,
    draft: { update: page.update.id, where, reason },
    send: (draft, seen) => body(api.POST('/api/not-affected-notes', { body: draft, params: { header: seen } })),
    said: () => `Noted that hosts where ${where} are not affected.`,
    close,
  });
  return (
    <Form title="Note it" close={close} send={note.submit} sending={note.pending} error={note.refused}>
      <Field label={`${page.update.id} does not affect hosts where`}>
        {(id) => <Input id={id} value={where} onChange={(e) => setWhere(e.target.value)} placeholder="fingerprint_signin is not set" />}
      </Field>
      <Field label="because">
        {(id) => (
          <Input
            id={id}
            maxLength={2000}
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            placeholder="nobody can reach the vulnerability there"
          />
        )}
      </Field>
    </Form>
  );
}

export function DismissFailureDialog({ page, hosts, first, close }: { page: Page; hosts: string[]; first: string; close: () => void }) {
  const [host, setHost] = useState(first);
  const [reason, setReason] = useState('');
  const dismiss = useDecision({
    version: page.version,
    draft: { update: page.update.id, host, reason },
    send: (draft, seen) => body(api.POST('/api/dismissed-failures', { body: draft, params: { header: seen } })),
    said: () => `Dismissed the failure of ${host}.`,
    close,
  });
  return (
    <Form title="Dismiss the failure" close={close} send={dismiss.submit} sending={dismiss.pending} error={dismiss.refused}>
      <Field label="The failure on">
        {(id) => (
          <Select id={id} showSearch value={host} onChange={setHost} options={hosts.map((name) => ({ value: name, label: name }))} />
        )}
      </Field>
      <Field label={`was not by ${page.update.id}, because`}>
        {(id) => (
          <Input id={id} maxLength={2000} value={reason} onChange={(e) => setReason(e.target.value)} placeholder="a cable was unplugged" />
        )}
      </Field>
    </Form>
  );
}
