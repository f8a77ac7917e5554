import { Button, Input } from 'antd';
import { useState } from 'react';
import { api, body, type Schemas } from '../api/client';
import { useChange } from '../api/queries';
import { count } from '../words/dates';
import styles from './PastedHosts.module.css';

/** A list of hosts pasted from a ticket or a spreadsheet becomes a condition; names that nobody here has are told. */
export function PastedHosts({ take }: { take: (where: string) => void }) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState('');
  const [named, setNamed] = useState<Schemas['Named'] | undefined>();
  const read = useChange(() => body(api.POST('/api/host-names', { body: { text } })), 'Not read');
  if (!open) {
    return (
      <>
        <button type="button" className="plain link" onClick={() => setOpen(true)}>
          Paste a list of hosts
        </button>
        {named !== undefined && <Unknown named={named} />}
      </>
    );
  }
  const submit = () =>
    read.mutate(undefined, {
      onSuccess: (found) => {
        setNamed(found);
        if (found.where !== '') {
          take(found.where);
          setOpen(false);
        }
      },
    });
  return (
    <div className={styles.paste}>
      <Input.TextArea
        aria-label="Names of hosts"
        placeholder="names with commas, spaces or line breaks between them"
        autoFocus
        autoSize={{ minRows: 2, maxRows: 8 }}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      {named !== undefined && <Unknown named={named} />}
      <div className="actions">
        <Button disabled={text.trim() === ''} loading={read.isPending} onClick={submit}>
          Use these hosts
        </Button>
        <Button onClick={() => setOpen(false)}>Cancel</Button>
      </div>
    </div>
  );
}

function Unknown({ named }: { named: Schemas['Named'] }) {
  const unknown = named.unknown.length + named.moreUnknown;
  return unknown === 0 ? null : (
    <div role="status">
      <span className="strong">{count(unknown, 'name')}</span> {unknown === 1 ? 'is' : 'are'} no host here: {named.unknown.join(', ')}
      {named.moreUnknown > 0 && ` and ${named.moreUnknown} more`}
    </div>
  );
}
