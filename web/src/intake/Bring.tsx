import { App, Button, Input, Progress } from 'antd';
import { type DragEvent, type FormEvent, useRef, useState } from 'react';
import { api, type Beside, body, type Schemas, sendFiles } from '../api/client';
import { useChange, useRefresh } from '../api/queries';
import { count } from '../words/dates';
import styles from './Bring.module.css';
import { HostTableDialog } from './HostTableDialog';
import { WhosePackages } from './WhosePackages';

/** The longest document that the server reads, in bytes. */
const LONGEST = 64 * 1024 * 1024;

/** Files sent together, so that a long list shows its progress. An index of a repository goes with what it names. */
const TOGETHER = 20;

/** Where documents come in: dropped, chosen, or fetched from an address. */
export function Bring({ namespaces }: { namespaces: string[] }) {
  const [over, setOver] = useState(false);
  const [sent, setSent] = useState<{ done: number; all: number } | undefined>();
  const [table, setTable] = useState<File | undefined>();
  const [beside, setBeside] = useState<Beside>({});
  const input = useRef<HTMLInputElement>(null);
  const { message } = App.useApp();
  const refresh = useRefresh();

  const bring = async (chosen: File[]) => {
    const files = chosen.filter((file) => file.size <= LONGEST);
    for (const file of chosen.filter((f) => f.size > LONGEST)) {
      message.error(`${file.name} was not sent: it is longer than 64 MB.`, 8);
    }
    const tables = files.filter((file) => /\.(csv|tsv)$/i.test(file.name));
    setTable(tables[0]);
    if (tables.length > 1) {
      message.info(`One table at a time: ${tables[0]?.name} is shown, ${count(tables.length - 1, 'other')} not.`);
    }
    const others = files.filter((file) => !tables.includes(file));
    if (others.length === 0) {
      return;
    }
    const results: Schemas['IntakeResult'][] = [];
    setSent({ done: 0, all: others.length });
    try {
      for (const batch of batches(others)) {
        results.push(...(await sendFiles(batch, beside)));
        setSent({ done: results.length, all: others.length });
      }
    } catch (error) {
      message.error(
        `${results.length} of ${others.length} were sent, the others not: ${error instanceof Error ? error.message : 'the connection broke'}`,
        10,
      );
    }
    setSent(undefined);
    refresh();
    const refused = results.filter((r) => r.outcome === 'REJECTED').length;
    if (results.length > 0) {
      message.info(`${count(results.length - refused, 'document')} read${refused > 0 ? `, ${refused} refused: see why below` : ''}.`);
    }
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    void bring([...event.dataTransfer.files]);
  };
  return (
    <section
      aria-label="Bring documents in"
      className={`drop noprint${over ? ' over' : ''}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      <Button loading={sent !== undefined} onClick={() => input.current?.click()}>
        Choose files
      </Button>
      <span className={styles.words}>
        or drop them here: advisories (CSAF, OSV, rpm updateinfo), update notices, hosts (inventory, CycloneDX, CSV), populations, exploit
        probabilities, exploited vulnerabilities, OpenVEX, known issues, failure reports.
        <span className="mid"> Each is read by itself; the good ones of a batch are kept.</span>
        {sent && (
          <Progress
            aria-label="Documents sent"
            size="small"
            percent={Math.round((100 * sent.done) / sent.all)}
            format={() => `${sent.done} of ${sent.all}`}
          />
        )}
      </span>
      <FromAddress beside={beside} />
      <WhosePackages namespaces={namespaces} beside={beside} change={setBeside} />
      <input
        ref={input}
        type="file"
        multiple
        hidden
        aria-label="Files to bring in"
        onChange={(event) => {
          void bring([...(event.target.files ?? [])]);
          event.target.value = '';
        }}
      />
      {table && <HostTableDialog key={`${table.name} ${table.size}`} file={table} close={() => setTable(undefined)} />}
    </section>
  );
}

/** Batches of files; with an index of a repository among them they stay together. */
function batches(files: File[]): File[][] {
  if (files.some((file) => file.name === 'repomd.xml')) {
    return [files];
  }
  return Array.from({ length: Math.ceil(files.length / TOGETHER) }, (_, i) => files.slice(i * TOGETHER, (i + 1) * TOGETHER));
}

function FromAddress({ beside }: { beside: Beside }) {
  const [address, setAddress] = useState('');
  const { message } = App.useApp();
  const fetching = useChange(() =>
    body(api.POST('/api/documents/imports', { body: { address, namespace: beside.namespace, distro: beside.distro } })),
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    fetching.mutate(undefined, {
      onSuccess: (result) => {
        setAddress('');
        message.info(result.outcome === 'REJECTED' ? `${result.name} was fetched and refused: see why below.` : `${result.name} was read.`);
      },
    });
  };
  return (
    <form onSubmit={submit} className={styles.form}>
      <Input
        aria-label="Address to fetch from"
        placeholder="https:// … fetch one from its address"
        className={styles.address}
        value={address}
        onChange={(e) => setAddress(e.target.value)}
      />
      <Button htmlType="submit" loading={fetching.isPending} disabled={address.trim() === ''}>
        Fetch
      </Button>
      {fetching.error && (
        <span className={`fault-line ${styles.line}`} role="alert">
          Not fetched: {fetching.error.message}
        </span>
      )}
    </form>
  );
}
