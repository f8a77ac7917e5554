import { Button, Input } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../api/client';
import { useHost, useHostUpdates } from '../api/queries';
import { Row } from '../frame/Boundary';
import { Chain } from '../frame/Chain';
import { Heading } from '../frame/Heading';
import { useKeys } from '../frame/keys';
import { Key, Legend } from '../frame/Legend';
import { Failed, Loading } from '../frame/Loading';
import { Term } from '../frame/Term';
import { useAddress } from '../frame/useAddress';
import { useNamed } from '../frame/useNamed';
import { useNow } from '../frame/useNow';
import { OperatorAt } from '../hosts/OperatorAt';
import { OrdersHeard } from '../hosts/OrdersHeard';
import { Retirement } from '../hosts/Retirement';
import { differenceWords, history } from '../hosts/words';
import { Mark } from '../look/Mark';
import { count, day, dayTime, lastDay, span } from '../words/dates';
import { PREVENTED } from '../words/prevented';
import { markOf, ratingWords, ruleMatchWords } from '../words/sentences';
import { stateWord } from '../words/states';
import styles from './Host.module.css';

type View = Schemas['HostView'];

const PARTS = ['lacks', 'has', 'products', 'history'] as const;
type Part = (typeof PARTS)[number];

/** One host: what it lacks and carries and why, its products, and what happened on it. */
export default function Host() {
  const name = useNamed();
  const host = useHost(name);
  if (host.isLoadingError) {
    return <Failed what={`The host ${name}`} error={host.error} again={host.refetch} />;
  }
  return host.data ? <HostPage host={host.data} /> : <Loading what={name} />;
}

function HostPage({ host }: { host: View }) {
  const now = useNow();
  const [search, set] = useAddress();
  const part = (PARTS.find((p) => p === search.get('part')) ?? 'lacks') as Part;
  const turn = (by: number) => set({ part: PARTS[(PARTS.indexOf(part) + by + PARTS.length) % PARTS.length] });
  useKeys({ Escape: () => window.history.back(), ArrowRight: () => turn(1), ArrowLeft: () => turn(-1) });
  const updates = useHostUpdates(host.name, part !== 'has');
  const counts = updates.data?.pages[0];
  const dated = history(host);
  const choice = (which: Part, words: string, number: number | undefined) => (
    <button type="button" className="plain" aria-current={part === which} onClick={() => set({ part: which })}>
      {words} {number}
    </button>
  );
  return (
    <div className="casepage">
      <div className="head tight">
        <Heading>{host.name}</Heading>
        <span className="mid">
          {host.platform} ·{' '}
          {host.retirement !== undefined ? (
            <b>retired</b>
          ) : host.populationId === undefined ? (
            'in no population'
          ) : (
            <Link to={`/populations?at=${host.populationId}`}>{host.population}</Link>
          )}
          {host.tier !== undefined && host.retirement === undefined && (
            <>
              {' '}
              · <Term name="tier">tier {host.tier}</Term>
            </>
          )}
        </span>
        <span className="space" />
        <a
          className="mid noprint"
          href={`/api/hosts/${encodeURIComponent(host.name)}/cyclonedx`}
          download
          title="What it has, for other programs (CycloneDX 1.6)"
        >
          Inventory
        </a>
        <span className="choices">
          {choice('lacks', 'Lacks', counts?.lacking)}
          {choice('has', 'Carries', counts?.carrying)}
          {choice('products', 'Products', host.products.length)}
          {choice('history', 'History', dated.length)}
        </span>
      </div>
      <div className="case">
        <aside>
          {host.retirement !== undefined && <Retirement host={host} now={now} />}
          <section>
            <h2>How it differs</h2>
            {host.prevented !== undefined && (
              <p className="flat">
                Installs nothing now, as it last told: {PREVENTED[host.prevented.why]}
                {host.prevented.why === 'BATTERY' && ` (${host.prevented.leastBattery} %)`}.
              </p>
            )}
            {host.differences.length === 0 && host.prevented === undefined && <p className="mid flat">It does not.</p>}
            {host.differences.map((difference) => (
              <p key={difference.way} className="flat strong">
                {differenceWords(difference, host, now)}
              </p>
            ))}
          </section>
          <section>
            <h2>How fresh this is</h2>
            <dl className="facts">
              <dt>Last report</dt>
              <dd>
                {dayTime(host.lastReport, now)}, {span(host.lastReport, now)} ago
              </dd>
              <dt>Expected</dt>
              <dd>
                every {count(host.rhythmHours, 'hour')}; <Term name="unknown">unknown</Term>{' '}
                {new Date(host.unknownFrom) < now ? 'since' : 'from'} {dayTime(host.unknownFrom, now)}
              </dd>
              <dt>Last start</dt>
              <dd>{host.lastStart === undefined ? <span className="mid">unknown</span> : dayTime(host.lastStart, now)}</dd>
              <dt>First report</dt>
              <dd>{day(host.firstReport, now)}</dd>
              <dt>Silences</dt>
              <dd>
                {host.absences.length === 0
                  ? 'none in 90 days'
                  : host.absences.map((absence) => (
                      <div key={absence.from}>
                        {day(absence.from, now)} to {day(absence.to, now)}
                      </div>
                    ))}
              </dd>
              <dt>
                <Term name="supply">Takes from</Term>
              </dt>
              <dd>
                {host.supply ?? <span className="mid">unknown</span>}
                {host.expectedSupply !== undefined && host.expectedSupply !== host.supply && `, should be ${host.expectedSupply}`}
              </dd>
              {host.lists !== undefined && (
                <>
                  <dt>Came from</dt>
                  <dd>
                    {host.lists.cameFrom.length === 0 && <span className="mid">not told</span>}
                    {host.lists.cameFrom.map((from) => (
                      <div key={from.source} className={from.expected ? '' : 'strong'}>
                        {from.source}: {count(from.products, 'product')}
                      </div>
                    ))}
                  </dd>
                  <dt>Lists fetched</dt>
                  <dd>{dayTime(host.lists.fetched, now)}</dd>
                </>
              )}
              {host.alsoMatches.length > 0 && (
                <>
                  <dt>Matches too</dt>
                  <dd>{host.alsoMatches.join(', ')}, further down the ladder</dd>
                </>
              )}
            </dl>
          </section>
          <OperatorAt name={host.name} now={now} />
          <OrdersHeard name={host.name} now={now} />
          {host.retirement === undefined && <Retirement host={host} now={now} />}
          {host.exceptions.length > 0 && (
            <section>
              <h2>Exceptions</h2>
              {host.exceptions.map((exception) => (
                <p key={exception.number} className="flat">
                  <Mark name="EXCEPTION" /> {exception.about} until {lastDay(exception.until, now)}: {exception.reason}; owner{' '}
                  {exception.owner}
                </p>
              ))}
            </section>
          )}
          <section>
            <h2>
              Traits <small>as of the last report</small>
            </h2>
            <dl className="facts">
              {host.traits.map((trait) => (
                <div key={trait.name} className={styles.pair}>
                  <dt>{trait.name}</dt>
                  <dd>
                    {trait.value}
                    {trait.told && <span className="mid"> from a table</span>}
                  </dd>
                </div>
              ))}
            </dl>
          </section>
        </aside>
        <main>
          {(part === 'lacks' || part === 'has') && (
            <Updates asked={updates} now={now} empty={`It ${part === 'lacks' ? 'lacks' : 'carries'} nothing that is known here.`} />
          )}
          {part === 'products' && <Products host={host} now={now} />}
          {part === 'history' && <History dated={dated} now={now} />}
        </main>
      </div>
      <Legend>
        <Key name="← →">lacks, carries, products, history</Key>
        <Key name="Escape">back</Key>
        <span>What is in force opens into its chain of reasons.</span>
      </Legend>
    </div>
  );
}

function Updates({ asked, now, empty }: { asked: ReturnType<typeof useHostUpdates>; now: Date; empty: string }) {
  if (asked.isLoadingError) {
    return <Failed what="The updates of this host" error={asked.error} again={asked.refetch} />;
  }
  if (!asked.data) {
    return <Loading what="its updates" />;
  }
  const updates = asked.data.pages.flatMap((page) => page.updates);
  if (updates.length === 0) {
    return <p className="empty">{empty}</p>;
  }
  return (
    <>
      <table className="list" aria-label="Updates">
        <thead>
          <tr>
            <th scope="col" className={styles.update}>
              Update
            </th>
            <th scope="col">State</th>
            <th scope="col" className={styles.versions}>
              Found, and expected
            </th>
            <th scope="col" className={styles.holds}>
              In force, and why
            </th>
          </tr>
        </thead>
        <tbody>
          {updates.map((update) => (
            <Row key={update.id} what={update.id} columns={4}>
              {() => <UpdateRow update={update} now={now} />}
            </Row>
          ))}
        </tbody>
      </table>
      {asked.hasNextPage && (
        <Button onClick={() => asked.fetchNextPage()} loading={asked.isFetchingNextPage} className={styles.more}>
          Show more; {updates.length} are shown
        </Button>
      )}
    </>
  );
}

const ON_SOURCES = {
  THERE: 'on its sources',
  NOT_YET: 'not yet on its sources',
  NOT_FETCHED_SINCE: 'it has not fetched the lists of its sources since',
};

function UpdateRow({ update, now }: { update: Schemas['UpdateOnHost']; now: Date }) {
  const [open, setOpen] = useState(false);
  return (
    <tr>
      <td>
        <Link className={`name serif strong ${styles.name}`} to={`/carriers/${encodeURIComponent(update.id)}`}>
          {update.title}
        </Link>
        <div className="mid">
          {update.id} · {ratingWords(update.rating)} · {day(update.published, now)}
        </div>
        {update.contains.length > 0 && (
          <div className="mid">
            <Term name="newest only">contains {update.contains.length} earlier</Term>: {update.contains.join(', ')}
          </div>
        )}
      </td>
      <td className="nowrap">
        {stateWord(update.state)}
        {update.state !== update.lastKnown && <div className="mid">last known: {stateWord(update.lastKnown)}</div>}
        {update.viaSuccessor && <div className="mid">via successor</div>}
      </td>
      <td>
        {update.versions.map((version) => (
          <div key={version.product}>
            {version.product} {version.found}
            {version.expected !== undefined && version.expected !== version.found && (
              <span className="mid">, fixed in {version.expected}</span>
            )}
            {version.running !== undefined && `, ${version.running} still runs`}
          </div>
        ))}
        {update.lacks.length > 0 && <div className="strong">lacks {update.lacks.join(', ')}, which it requires</div>}
        {update.onSources !== undefined && update.onSources !== 'NOT_TOLD' && (
          <div className={update.onSources === 'THERE' ? 'mid' : 'strong'}>{ON_SOURCES[update.onSources]}</div>
        )}
      </td>
      <td>
        <div className="marked">
          <Mark name={markOf(update.holds)} />
          <button type="button" className="plain link" aria-expanded={open} onClick={() => setOpen(!open)}>
            {ruleMatchWords(update.holds, now)}
          </button>
        </div>
        {update.until !== undefined && update.until !== update.holds.end && <div className="mid">changes {dayTime(update.until, now)}</div>}
        {open && <Chain chain={update.chain} now={now} />}
      </td>
    </tr>
  );
}

function Products({ host, now }: { host: View; now: Date }) {
  const [part, setPart] = useState('');
  const shown = host.products.filter((product) => `${product.purl} ${product.version}`.includes(part.trim()));
  return (
    <>
      <Input
        aria-label="Part of a product"
        placeholder="Part of a product"
        allowClear
        className={styles.find}
        value={part}
        onChange={(event) => setPart(event.target.value)}
      />
      <table className="list" aria-label="Products">
        <thead>
          <tr>
            <th scope="col">Product</th>
            <th scope="col">
              Version, and <Term name="candidate">candidate</Term>
            </th>
            <th scope="col">
              <Term name="level">Level</Term>
            </th>
            <th scope="col">First reported so</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((product) => (
            <tr key={`${product.purl} ${product.distro} ${product.arch} ${product.version}`}>
              <td>
                <Link to={`/hosts?show=ALL&has=${encodeURIComponent(product.purl)}`}>{product.purl}</Link>
                <span className="mid">
                  {product.distro !== '' && ` on ${product.distro}`}
                  {product.arch !== '' && ` for ${product.arch}`}
                </span>
              </td>
              <td>
                {product.version}
                {product.running !== undefined && <div className="strong">{product.running} still runs until the next start</div>}
                {product.candidate !== undefined && <div className="mid">candidate {product.candidate}</div>}
                {product.highest !== undefined && <div className="mid">{product.highest} is there, and kept back</div>}
              </td>
              <td>
                {product.level ?? <span className="mid">none known</span>}
                {product.track !== undefined && <span className="mid">, track from {product.track}</span>}
              </td>
              <td className="nowrap">{dayTime(product.since ?? host.firstReport, now)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function History({ dated, now }: { dated: { at: string; words: string }[]; now: Date }) {
  return (
    <div className="prose">
      {dated.map((line, index) => {
        const on = day(line.at, now);
        const previous = dated[index - 1];
        return (
          <div key={`${line.at} ${line.words}`}>
            {(previous === undefined || day(previous.at, now) !== on) && <h3 className="day">{on}</h3>}
            <div className="entry">
              <span className={`mid ${styles.time}`}>{dayTime(line.at, now).slice(-5)}</span>
              <span>{line.words}</span>
            </div>
          </div>
        );
      })}
    </div>
  );
}
