import { Button } from 'antd';
import { Link, useSearchParams } from 'react-router';
import type { Schemas } from '../api/client';
import { type Outcome, useDocuments, useSession } from '../api/queries';
import { Row } from '../frame/Boundary';
import { Heading } from '../frame/Heading';
import { Failed, Loading } from '../frame/Loading';
import { useNow } from '../frame/useNow';
import { Bring } from '../intake/Bring';
import { Feeds, isLate, keyWords, lateWords, useFeeds } from '../intake/Feeds';
import { ReadOtherwise } from '../intake/ReadOtherwise';
import { PutAside, TryAgain } from '../intake/TryAgain';
import { UnreadProducts } from '../intake/UnreadProducts';
import { count, dayTime } from '../words/dates';
import styles from './Intake.module.css';

const OUTCOMES: Record<Outcome, string> = {
  ACCEPTED: 'accepted',
  DUPLICATE: 'known already',
  STALE: 'older than known',
  REJECTED: 'refused',
  WAITING: 'waits',
};

/** Intake, from whom, and what was refused and why. */
export default function Intake() {
  const [search, setSearch] = useSearchParams();
  const outcome = (search.get('outcome') ?? undefined) as Outcome | undefined;
  const documents = useDocuments(outcome);
  const now = useNow();
  const role = useSession().data?.role;
  const mayImport = role === 'ANALYST' || role === 'ADMINISTRATOR';
  const first = documents.data?.pages[0];
  const all = documents.data?.pages.flatMap((page) => page.documents) ?? [];
  // What is still to be looked at stands above, and once.
  const rows = outcome === undefined ? all.filter((document) => !isOpen(document)) : all;
  const choice = (which: Outcome | undefined, words: string) => (
    <Link to={which === undefined ? '/intake' : `/intake?outcome=${which}`} aria-current={outcome === which}>
      {words}
    </Link>
  );
  return (
    <main>
      <div className="head">
        <Heading>Intake</Heading>
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
          {choice('REJECTED', `Refused or waiting ${first?.refused ?? ''}`)}
          {choice('ACCEPTED', 'Taken')}
        </span>
      </div>
      <div className="page">
        {outcome === undefined && <UnreadProducts mayMap={mayImport} vendor={search.get('vendor') ?? undefined} />}
        {outcome === undefined && <ReadOtherwise maySettle={mayImport} />}
        {outcome === undefined && (first?.refused ?? 0) > 0 && <ToLookAt mayImport={mayImport} />}
        {outcome === undefined && <LateFeeds />}
        {mayImport && <Bring namespaces={first?.namespaces ?? []} />}
        {outcome === undefined && (
          <section>
            <h2 className={styles.heading}>Feeds</h2>
            <Feeds mayFetch={mayImport} />
          </section>
        )}
        {documents.isLoadingError && <Failed what="Intake" error={documents.error} again={documents.refetch} />}
        {documents.isPending && <Loading what="what came in" />}
        {documents.data && all.length === 0 && (
          <p className="empty">
            <strong>{outcome === 'REJECTED' ? 'Nothing was refused.' : 'Nothing has come in yet.'}</strong>
            {outcome !== 'REJECTED' &&
              'Each document stands here with how it fared. Host reports without a problem are only counted above.'}
            {outcome === 'REJECTED' && (
              <Button type="link" onClick={() => setSearch({})}>
                Show all
              </Button>
            )}
          </p>
        )}
        {rows.length > 0 && <h2 className={styles.heading}>{HEADINGS[outcome ?? 'ALL']}</h2>}
        {rows.length > 0 && <Documents documents={rows} namespaces={first?.namespaces ?? []} mayImport={mayImport} />}
        {documents.hasNextPage && (
          <Button className={styles.more} onClick={() => documents.fetchNextPage()}>
            Show earlier ones
          </Button>
        )}
      </div>
    </main>
  );
}

/** A feed that brings nothing says nothing: what has gone wrong with one stands before all that went well. */
function LateFeeds() {
  const now = useNow();
  const late = useFeeds().data?.filter((feed) => isLate(feed, now)) ?? [];
  return late.length === 0 ? null : (
    <section aria-label="Late feeds">
      <h2 className={styles.heading}>Late feeds</h2>
      <ul className={styles.late}>
        {late.map((feed) => (
          <li key={feed.name}>
            <span className="strong">{feed.name}</span>: {lateWords(feed, now)}
          </li>
        ))}
      </ul>
    </section>
  );
}

const HEADINGS: Record<Outcome | 'ALL', string> = {
  ALL: 'What came in',
  ACCEPTED: 'Taken',
  DUPLICATE: 'Known already',
  STALE: 'Older than known',
  REJECTED: 'Refused or waiting',
  WAITING: 'Waiting',
};

/** What was refused, is held or waits, and nobody has done anything about: it stands before all that went well. */
function ToLookAt({ mayImport }: { mayImport: boolean }) {
  const refused = useDocuments('REJECTED').data?.pages[0];
  const open = refused?.documents.filter(isOpen) ?? [];
  if (open.length === 0) {
    return null;
  }
  return (
    <section aria-label="Refused, held or waiting">
      <h2 className={styles.heading}>Refused, held or waiting</h2>
      <Documents documents={open} namespaces={refused?.namespaces ?? []} mayImport={mayImport} />
    </section>
  );
}

function Documents({ documents, namespaces, mayImport }: { documents: Schemas['Document'][]; namespaces: string[]; mayImport: boolean }) {
  const now = useNow();
  return (
    <table className={`list ${styles.table}`}>
      <thead>
        <tr>
          <th scope="col">Received</th>
          <th scope="col">Document</th>
          <th scope="col">What it is</th>
          <th scope="col">Result</th>
          <th scope="col">From</th>
        </tr>
      </thead>
      <tbody>
        {documents.map((document) => (
          <Row key={document.number} what={`Document ${document.number}`} columns={5}>
            {() => (
              <tr>
                <td className="nowrap">{dayTime(document.received, now)}</td>
                <td className={styles.anywhere}>
                  {document.kept ? (
                    <a href={`/api/documents/${document.number}/content`} download title="The document as it came">
                      {document.name}
                    </a>
                  ) : (
                    document.name
                  )}
                </td>
                <td>
                  {document.formatTitle ?? <span className="mid">unknown</span>}
                  <div>
                    {document.revision !== '' ? (
                      <Link to={`/cases/${encodeURIComponent(document.subject)}`}>{document.subject}</Link>
                    ) : (
                      document.subject
                    )}
                    {document.revision !== '' && <span className="mid"> revision {document.revision}</span>}
                  </div>
                </td>
                <td>
                  <span className={isOpen(document) ? 'strong' : ''}>
                    {document.distrusted ? 'held: not trusted' : OUTCOMES[document.outcome]}
                  </span>
                  {document.signedBy !== undefined && <span className="mid">, signed by key {keyWords(document.signedBy)}</span>}
                  {document.triedAgain !== undefined && (
                    <span className="mid">, {document.format === 'POPULATIONS' ? 'saved since' : 'tried again since'}</span>
                  )}
                  {document.dismissedBy !== undefined && <span className="mid">, put aside by {document.dismissedBy}</span>}
                  {document.problems.length > 0 && (
                    <ul className="problems">
                      {document.problems.map((problem) => (
                        <li key={`${problem.place} ${problem.reason}`}>
                          {problem.place !== '' && <code>{problem.place}</code>} {problem.reason}
                        </li>
                      ))}
                    </ul>
                  )}
                  {mayImport && isOpen(document) && <WhatNow document={document} namespaces={namespaces} />}
                </td>
                <td>{document.sender}</td>
              </tr>
            )}
          </Row>
        ))}
      </tbody>
    </table>
  );
}

/** Refused or waiting, and nobody has done anything about it since. */
function isOpen(document: Schemas['Document']) {
  const waits = document.outcome === 'REJECTED' || document.outcome === 'WAITING';
  return waits && document.triedAgain === undefined && document.dismissedBy === undefined;
}

/** What can be done about a document that was refused or waits. */
function WhatNow({ document, namespaces }: { document: Schemas['Document']; namespaces: string[] }) {
  if (document.format === 'POPULATIONS' && document.kept) {
    return (
      <div className="actions">
        <Link to={`/populations?proposal=${document.number}`}>See what it changes</Link>
        <PutAside number={document.number} />
      </div>
    );
  }
  return document.kept && !document.distrusted ? (
    <TryAgain document={document} namespaces={namespaces} />
  ) : (
    <div className="actions">
      <PutAside number={document.number} />
    </div>
  );
}
