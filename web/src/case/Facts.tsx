import { Link } from 'react-router';
import { type Schemas, undoOf } from '../api/client';
import { Row } from '../frame/Boundary';
import { useLastAct } from '../frame/lastAct';
import { Term } from '../frame/Term';
import { keyWords } from '../intake/Feeds';
import { Mark } from '../look/Mark';
import { OperatorsSaid } from '../operators/OperatorsSaid';
import { deliveredWords } from '../words/answers';
import { count, day, dayTime, lastDay } from '../words/dates';
import { cueWords, reasonWords, restartWords } from '../words/sentences';
import { vectorParts } from '../words/vectors';
import { isChangeable, sentences } from './changing';
import { type Dialog, Evidence } from './Evidence';
import styles from './Facts.module.css';
import { Requires } from './Requires';

type Page = Schemas['CaseView'];
type Verdict = Page['verdicts'][number];

interface Props {
  page: Page;
  now: Date;
  analyst: boolean;
  dialog: Dialog;
  open: (dialog: Dialog) => void;
  narrow: (where: string) => void;
}

/** The reading column: why now, what speaks for and against it, what it closes and changes, and what was decided. */
export function Facts({ page, now, analyst, dialog, open, narrow }: Props) {
  const { update } = page;
  return (
    <aside>
      <section>
        <h2>
          <Term name="why now">Why now</Term>
        </h2>
        {page.cues.length === 0 && <div className="mid">Nothing: it was answered, or no host lacks it.</div>}
        {page.foldedUnder !== undefined && (
          <div>
            <Term name="newest only">Stands under</Term>{' '}
            <Link to={`/cases/${encodeURIComponent(page.foldedUnder)}`}>{page.foldedUnder}</Link>, which is released for the same hosts and
            brings it.
          </div>
        )}
        {page.contains.length > 0 && (
          <div>
            <Term name="newest only">Contains {page.contains.length} earlier</Term>: <Ids ids={page.contains} />
          </div>
        )}
        {page.cues.map((cue) => (
          <div key={`${cue.type} ${cue.about}`}>{cueWords(cue, now)}</div>
        ))}
      </section>
      <Evidence page={page} now={now} analyst={analyst} dialog={dialog} open={open} narrow={narrow} />
      {page.requires !== undefined && <Requires requires={page.requires} />}
      {update.summary !== '' && (
        <section>
          <h2>What it does</h2>
          <div>{update.summary}</div>
        </section>
      )}
      <section>
        <h2>
          Vulnerabilities it closes <small>{update.vulnerabilities.length === 0 ? 'none named' : update.vulnerabilities.length}</small>
        </h2>
        {update.vulnerabilities.map((v) => (
          <Row key={v.id} what={v.id}>
            {() => (
              <div>
                <span className="strong">{v.id}</span> {v.baseScore?.toFixed(1)} {v.title}
                {v.exploitation !== '' && <div>{v.exploitation}</div>}
                {v.vector !== undefined && <Vector vector={v.vector} />}
              </div>
            )}
          </Row>
        ))}
      </section>
      <section>
        <h2>
          <Term name="affected versions">Affected versions</Term> <small>{update.platforms.join(', ')}</small>
        </h2>
        {update.fixes.length === 0 && <div className="mid">{update.unread.length > 0 ? 'None could be read.' : 'It names none.'}</div>}
        {update.fixes.map((fix) => (
          <div key={`${fix.product} ${fix.distro} ${fix.arch}`}>
            <span className="strong">{fix.product.split('/').pop()}</span>{' '}
            <span className="mid">
              {[fix.distro, fix.arch === 'source' ? 'and all that is built from it' : fix.arch].filter(Boolean).join(', ')}
            </span>
            {fix.affected.map((range) => (
              <div key={`${range.introduced} ${range.end}`}>{rangeWords(range)}</div>
            ))}
            {fix.restart !== update.restart && <div>{restartWords(fix.restart)}</div>}
            <ReadFrom from={fix.from} />
          </div>
        ))}
      </section>
      <VendorSays page={page} now={now} />
      {update.supersedes.length + update.supersededBy.length + update.brings.length + update.broughtBy.length > 0 && (
        <section>
          <h2>
            <Term name="succession">Succession</Term>
          </h2>
          {update.supersedes.map((other) => (
            <span key={other}>
              <Link to={`/cases/${encodeURIComponent(other)}`}>{other}</Link> →{' '}
            </span>
          ))}
          <b>{update.id}</b>
          {update.supersededBy.map((other) => (
            <span key={other}>
              {' '}
              → <Link to={`/cases/${encodeURIComponent(other)}`}>{other}</Link>
            </span>
          ))}
          <Brought words="Brings in, without superseding it" updates={update.brings} />
          <Brought words="Brought in by" updates={update.broughtBy} />
          {update.circular.length > 0 && (
            <div className="mid">
              It says to supersede {update.circular.join(', ')}, which supersedes it by older word; that is left out.
            </div>
          )}
        </section>
      )}
      <Decided page={page} now={now} analyst={analyst} />
      <section>
        <h2>Source</h2>
        <dl className="facts">
          <dt>Vendor</dt>
          <dd>{update.vendor}</dd>
          <dt>Published</dt>
          <dd>{dayTime(update.published, now)}</dd>
          <dt>First read</dt>
          <dd>{dayTime(update.firstRead, now)}</dd>
          {update.vendorRating !== undefined && (
            <>
              <dt>Its rating</dt>
              <dd>{update.vendorRating}</dd>
            </>
          )}
          <dt>Signature</dt>
          <dd>{update.signedBy === undefined ? 'not checked' : `verified, key ${keyWords(update.signedBy)}`}</dd>
          {update.sharing !== undefined && (
            <>
              <dt>May be shared</dt>
              <dd>TLP:{update.sharing.replace('_', '+')}</dd>
            </>
          )}
          {update.references.map(({ address, title }) => (
            <div key={`${address} ${title}`} className={styles.pair}>
              <dt>Reference</dt>
              <dd>
                {title !== '' && <div>{title}</div>}
                <a href={address} rel="noreferrer noopener" target="_blank">
                  {address}
                </a>
              </dd>
            </div>
          ))}
        </dl>
      </section>
    </aside>
  );
}

function Vector({ vector }: { vector: string }) {
  const { base, apart } = vectorParts(vector);
  return (
    <div className={`mid ${styles.vector}`}>
      {base}
      {apart !== '' && <div>Beside the base score, which they do not change: {apart}</div>}
    </div>
  );
}

/** What the advisory calls the product, and where: what was read can be read again by whoever doubts it. */
function ReadFrom({ from }: { from: Page['update']['fixes'][number]['from'] }) {
  const first = from[0];
  return first === undefined ? null : (
    <details className={`mid ${styles.from}`}>
      <summary>
        read from “{first.name}”{from.length > 1 && ` and ${count(from.length - 1, 'more place')}`}
      </summary>
      {from.map(({ name, place }) => (
        <div key={place}>
          {name}: <code>{place}</code>
        </div>
      ))}
    </details>
  );
}

type Range = Page['update']['fixes'][number]['affected'][number];

/** "from 6.0 below 6.0.1107", "only 1.2". */
export function rangeWords(range: Range): string {
  if (range.introduced !== undefined && range.introduced === range.end) {
    return `only ${range.end}`;
  }
  const from = range.introduced === undefined ? '' : `${range.afterIntroduced ? 'after' : 'from'} ${range.introduced} `;
  if (range.end === undefined) {
    return `${from}all that follow; no fixed version is known`;
  }
  return range.endIncluded ? `${from}up to ${range.end}; no fixed version is known` : `${from}below ${range.end}`;
}

function Ids({ ids }: { ids: string[] }) {
  return ids.map((id, index) => (
    <span key={id}>
      {index > 0 && ', '}
      <Link to={`/cases/${encodeURIComponent(id)}`}>{id}</Link>
    </span>
  ));
}

const STATEMENTS = {
  NOT_AFFECTED: 'not affected',
  UNDER_INVESTIGATION: 'still looked into',
  RECOMMENDED: 'recommended',
} as const;

/** What the vendor says beside the fixes: that it took the update back, revisions, other ways to be safe, products that are not affected. */
function VendorSays({ page, now }: { page: Page; now: Date }) {
  const { retraction, revisions, statements, notes } = page.update;
  const fix = page.update.remedies.filter((remedy) => remedy.category === 'vendor fix');
  const remedies = page.update.remedies.filter((remedy) => remedy.category !== 'vendor fix');
  return (
    <>
      {retraction !== undefined && (
        <section>
          <h2>{retraction.type === 'WITHDRAWN' ? 'Withdrawn by its vendor' : 'Superseded by another advisory'}</h2>
          {retraction.reason !== '' && <div>{retraction.reason}</div>}
        </section>
      )}
      {revisions.length > 1 && (
        <section>
          <h2>Revisions</h2>
          {[...revisions].reverse().map((revision, index) => (
            <div key={`${revision.revision} ${revision.read}`} className={index === 0 ? '' : 'mid'}>
              {revision.revision}, {day(revision.revised, now)}
              {index < revisions.length - 1 && (revision.newFixes ? ': other fixes' : ': words only')}
              {revision.words !== '' && `. ${revision.words}`}
            </div>
          ))}
        </section>
      )}
      {fix.length > 0 && (
        <section>
          <h2>How to install it</h2>
          {fix.map((remedy) => (
            <div key={remedy.words}>{remedy.words}</div>
          ))}
        </section>
      )}
      {remedies.length > 0 && (
        <section>
          <h2>Instead of installing</h2>
          {remedies.map((remedy) => (
            <div key={`${remedy.category} ${remedy.words}`}>
              <span className="strong">{remedy.category}:</span> {remedy.words}
            </div>
          ))}
        </section>
      )}
      {statements.length > 0 && (
        <section>
          <h2>The vendor also says</h2>
          {statements.map((statement) => (
            <div key={JSON.stringify(statement)}>
              {statement.product} {statement.version}: {STATEMENTS[statement.type]}
              {statement.words !== '' && `, ${statement.words}`}
              {statement.type === 'NOT_AFFECTED' && statement.words === '' && ', without saying why: it does not count by itself'}{' '}
              <span className="mid">({statement.vulnerability})</span>
            </div>
          ))}
        </section>
      )}
      {notes.length > 0 && (
        <section>
          <h2>Notes of the vendor</h2>
          {notes.map((note) => (
            <details key={JSON.stringify(note)}>
              <summary>
                {note.title} {note.about !== '' && <span className="mid">({note.about})</span>}
              </summary>
              <div className={styles.note}>{note.words}</div>
            </details>
          ))}
        </section>
      )}
    </>
  );
}

const DECIDED: Record<Verdict['type'], string> = { BLOCK: 'blocked', DEFER: 'deferred', PILOT: 'piloted', FORCE: 'forced' };
const UNTIL: Record<Verdict['type'], string> = { BLOCK: 'until', DEFER: 'until', PILOT: 'to answer by', FORCE: 'due' };

function Brought({ words, updates }: { words: string; updates: string[] }) {
  return (
    updates.length > 0 && (
      <div>
        {words}:{' '}
        {updates.map((other, place) => (
          <span key={other}>
            {place > 0 && ', '}
            <Link to={`/cases/${encodeURIComponent(other)}`}>{other}</Link>
          </span>
        ))}
      </div>
    )
  );
}

function Decided({ page, now, analyst }: { page: Page; now: Date; analyst: boolean }) {
  const { takeBackThese } = useLastAct();
  const populationOf = (id: string) => page.populations.find((row) => row.id === id);
  const nothing = page.verdicts.length + page.exceptions.length + page.acknowledgements.length === 0;
  const back = (words: string, undo: string) =>
    analyst && (
      <button type="button" className="plain link mid noprint" onClick={() => takeBackThese({ words, undo })}>
        Take back
      </button>
    );
  return (
    <section>
      <h2>
        <Term name="decided">Decided</Term>
      </h2>
      {nothing && <div className="mid">Nothing yet.</div>}
      {sentences(page.verdicts).map((together) => {
        const verdict = together[0] as Verdict;
        const populations = together.map((v) => populationOf(v.population)?.name ?? v.population).join(', ');
        const letGo = verdict.type === 'DEFER' && verdict.end <= verdict.createdAt;
        return (
          <div key={verdict.number} className={verdict.stands ? '' : 'past'}>
            <Mark name={verdict.type} /> {letGo ? 'let go now' : DECIDED[verdict.type]} for {populations}
            {verdict.where !== undefined && ` where ${verdict.where}`}
            {!letGo && `, ${UNTIL[verdict.type]} ${lastDay(verdict.end, now, populationOf(verdict.population)?.timeZone)}`}
            {deliveredWords(verdict.delivery)}.{' '}
            {verdict.delivery.byOperator !== undefined && verdict.delivery.byOperator.checklist.length > 0 && (
              <ol className={styles.checklist}>
                {verdict.delivery.byOperator.checklist.map((step) => (
                  <li key={step}>{step}</li>
                ))}
              </ol>
            )}
            {verdict.delivery.byOperator !== undefined && verdict.delivery.byOperator.order.length > 0 && (
              <div>First {verdict.delivery.byOperator.order.join(', then ')}.</div>
            )}
            {verdict.delivery.byOperator !== undefined && verdict.stands && (
              <OperatorsSaid update={page.update.id} populations={together.map((one) => one.population)} now={now} />
            )}
            {reasonWords(verdict.reasons, verdict.words)}.{' '}
            <span className="mid">
              {verdict.author}
              {verdict.approver !== undefined && `, approved by ${verdict.approver}`}, {day(verdict.createdAt, now)}
              {verdict.revokedAt !== undefined ? `; taken back ${dayTime(verdict.revokedAt, now)}` : verdict.stands ? '' : '; ended'}
            </span>{' '}
            {verdict.pilot !== undefined && <Link to={`/pilots/${verdict.pilot}`}>How it goes</Link>}{' '}
            {analyst && isChangeable(verdict) && (
              <Link to={`?change=${verdict.number}`} className="mid noprint">
                Change
              </Link>
            )}{' '}
            {verdict.revokedAt === undefined &&
              verdict.stands &&
              back(
                `${verdict.type.toLowerCase()} for ${populations}.`,
                undoOf(
                  'verdict',
                  together.map((v) => v.number),
                ),
              )}
            {together.map((one) => (
              <span key={one.number} className="noprint">
                {' '}
                <Link className="mid" to={`/cases/${encodeURIComponent(page.update.id)}/verdicts/${one.number}`}>
                  {together.length === 1 ? 'Sheet' : `Sheet of ${populationOf(one.population)?.name ?? one.population}`}
                </Link>
              </span>
            ))}
          </div>
        );
      })}
      {page.exceptions.map((exception) => (
        <Row key={`e${exception.number}`} what={`Exception ${exception.number}`}>
          {() => (
            <div className={exception.stands ? '' : 'past'}>
              <Mark name="EXCEPTION" /> exception no. {exception.number} on {exception.about} where {exception.hosts} until{' '}
              {lastDay(exception.until, now)}. {exception.reason}
              {exception.measure !== '' && `; meanwhile ${exception.measure}`}.{' '}
              <span className="mid">
                Owner {exception.owner}
                {exception.revokedAt !== undefined
                  ? `; taken back ${dayTime(exception.revokedAt, now)}`
                  : exception.stands
                    ? ''
                    : '; lapsed'}
              </span>{' '}
              {exception.revokedAt === undefined &&
                exception.stands &&
                back(`exception no. ${exception.number}.`, undoOf('exception', [exception.number]))}
            </div>
          )}
        </Row>
      ))}
      {page.acknowledgements.map((answer) => (
        <Row key={`a${answer.number}`} what={`Answer ${answer.number}`}>
          {() => (
            <div className={answer.revokedAt === undefined ? '' : 'past'}>
              <Mark name="RULE" /> left to the rule
              {answer.populations.length > 0 && ` for ${answer.populations.map((id) => populationOf(id)?.name ?? id).join(', ')}`}
              {answer.lookAgain !== undefined && `, looked at again ${day(answer.lookAgain, now)}`}.{' '}
              <span className="mid">
                {answer.author}, {dayTime(answer.createdAt, now)}
                {answer.revokedAt !== undefined && `; taken back ${dayTime(answer.revokedAt, now)}`}
              </span>{' '}
              {answer.revokedAt === undefined && back(`${page.update.id} left to the rule.`, undoOf('acknowledgement', [answer.number]))}
            </div>
          )}
        </Row>
      ))}
    </section>
  );
}
