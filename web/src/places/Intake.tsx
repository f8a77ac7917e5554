import { App, Button } from 'antd';
import { type DragEvent, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { sendFiles } from '../api/client';
import { type Outcome, useChange, useDocuments, useSession } from '../api/queries';
import { Failed, Loading } from '../frame/Loading';
import { useNow } from '../frame/useNow';
import { count, dayTime } from '../words/dates';

const OUTCOMES: Record<Outcome, string> = { TAKEN: 'taken', KNOWN: 'known already', OLDER: 'older than known', REFUSED: 'refused' };

/** The longest document that the server reads, in bytes. */
const LONGEST = 64 * 1024 * 1024;

/** What came in, from whom, and what was refused and why. */
export default function Intake() {
  const [search, setSearch] = useSearchParams();
  const outcome = (search.get('outcome') ?? undefined) as Outcome | undefined;
  const documents = useDocuments(outcome);
  const now = useNow();
  const mayImport = useSession().data?.role !== 'READER';
  const first = documents.data?.pages[0];
  const rows = documents.data?.pages.flatMap((page) => page.documents) ?? [];
  const choice = (which: Outcome | undefined, words: string) => (
    <Link to={which === undefined ? '/intake' : `/intake?outcome=${which}`} aria-current={outcome === which}>
      {words}
    </Link>
  );
  return (
    <main>
      <div className="head">
        <h1>What came in</h1>
        {first && (
          <span className="mid">
            {count(first.hosts, 'host')} {first.hosts === 1 ? 'reports' : 'report'}
            {first.lastHostReport !== undefined && `, the newest ${dayTime(first.lastHostReport, now)}`}; {first.unknownHosts} not heard
            from lately
          </span>
        )}
        <span className="space" />
        <span className="choices">
          {choice(undefined, 'All')}
          {choice('REFUSED', `Refused ${first?.refused ?? ''}`)}
          {choice('TAKEN', 'Taken')}
        </span>
      </div>
      <div className="page">
        {mayImport && <Drop />}
        {documents.isError && <Failed what="What came in" error={documents.error} again={documents.refetch} />}
        {documents.isPending && <Loading what="what came in" />}
        {documents.data && rows.length === 0 && (
          <p className="empty">
            <strong>{outcome === 'REFUSED' ? 'Nothing was refused.' : 'Nothing has come in yet.'}</strong>
            {outcome !== 'REFUSED' && 'Each document stands here with how it fared. Host reports without a problem are only counted above.'}
            {outcome === 'REFUSED' && (
              <Button type="link" onClick={() => setSearch({})}>
                Show all
              </Button>
            )}
          </p>
        )}
        {rows.length > 0 && (
          <table className="list" style={{ marginTop: 14 }}>
            <thead>
              <tr>
                <th scope="col">Received</th>
                <th scope="col">Document</th>
                <th scope="col">What it is</th>
                <th scope="col">How it fared</th>
                <th scope="col">From</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((document) => (
                <tr key={document.number}>
                  <td className="nowrap">{dayTime(document.received, now)}</td>
                  <td style={{ overflowWrap: 'anywhere' }}>
                    {document.name}
                    {document.outcome === 'REFUSED' && (
                      <div>
                        <a className="mid" href={`/api/documents/${document.number}/content`} download>
                          the file as it came
                        </a>
                      </div>
                    )}
                  </td>
                  <td>
                    {document.formatTitle ?? <span className="mid">not told</span>}
                    <div>
                      {document.format === 'CSAF' || document.format === 'UPDATE_NOTICE' ? (
                        <Link to={`/cases/${encodeURIComponent(document.subject)}`}>{document.subject}</Link>
                      ) : (
                        document.subject
                      )}
                      {document.revision !== '' && <span className="mid"> revision {document.revision}</span>}
                    </div>
                  </td>
                  <td>
                    <span className={document.outcome === 'REFUSED' ? 'strong' : ''}>{OUTCOMES[document.outcome]}</span>
                    {document.problems.length > 0 && (
                      <ul className="problems">
                        {document.problems.map((problem) => (
                          <li key={`${problem.place} ${problem.reason}`}>
                            {problem.place !== '' && <code>{problem.place}</code>} {problem.reason}
                          </li>
                        ))}
                      </ul>
                    )}
                  </td>
                  <td>{document.sender}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {documents.hasNextPage && (
          <Button style={{ marginTop: 10 }} onClick={() => documents.fetchNextPage()}>
            Show earlier ones
          </Button>
        )}
      </div>
    </main>
  );
}

function Drop() {
  const [over, setOver] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const { message } = App.useApp();
  const send = useChange(sendFiles);
  const bring = (chosen: File[]) => {
    const files = chosen.filter((file) => file.size <= LONGEST);
    for (const file of chosen.filter((f) => f.size > LONGEST)) {
      message.error(`${file.name} was not sent: it is longer than 64 MB.`, 8);
    }
    if (files.length === 0) {
      return;
    }
    send.mutate(files, {
      onSuccess: (results) => {
        const refused = results.filter((r) => r.outcome === 'REFUSED').length;
        message.info(`${count(results.length - refused, 'document')} read${refused > 0 ? `, ${refused} refused: see why below` : ''}.`);
      },
      onError: (error) => message.error(`Nothing was sent: ${error.message}`),
    });
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    bring([...event.dataTransfer.files]);
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
      <Button loading={send.isPending} onClick={() => input.current?.click()}>
        Choose files
      </Button>
      <span>
        or drop them here: CSAF 2.0 advisories, update notices, host inventories, populations.
        <span className="mid"> Each is read by itself; the good ones of a batch are kept.</span>
      </span>
      <input
        ref={input}
        type="file"
        multiple
        hidden
        aria-label="Files to bring in"
        onChange={(event) => {
          bring([...(event.target.files ?? [])]);
          event.target.value = '';
        }}
      />
    </section>
  );
}
