import { Button } from 'antd';
import { useState } from 'react';
import type { Schemas } from '../api/client';
import { type useCarrierHosts, useRuling } from '../api/queries';
import { Row } from '../frame/Boundary';
import { Chain } from '../frame/Chain';
import { Failed } from '../frame/Loading';
import { dayTime } from '../words/dates';
import { ruleMatchWords } from '../words/sentences';
import { stateWord } from '../words/states';
import styles from './carriers.module.css';
import { FoundVersions } from './FoundVersions';

interface Props {
  update: string;
  hosts: ReturnType<typeof useCarrierHosts>;
  now: Date;
}

/** Hosts as they are now, each with what is in force and why. */
export function PresentHosts({ update, hosts, now }: Props) {
  const listed = hosts.data?.pages.flatMap((page) => page.hosts) ?? [];
  const total = hosts.data?.pages[0]?.count ?? 0;
  return (
    <>
      {hosts.isLoadingError && <Failed what="The hosts" error={hosts.error} again={hosts.refetch} />}
      {hosts.data && total === 0 && <p className="mid">No host is in this state.</p>}
      {total > 0 && (
        <table className="list" aria-label="Hosts">
          <thead>
            <tr>
              <th scope="col">Host</th>
              <th scope="col">Population</th>
              <th scope="col">State</th>
              <th scope="col">Found, and expected</th>
              <th scope="col">Last report</th>
              <th scope="col">In force</th>
            </tr>
          </thead>
          <tbody>
            {listed.map((host) => (
              <Row key={host.name} what={host.name} columns={6}>
                {() => <HostRow update={update} host={host} now={now} />}
              </Row>
            ))}
          </tbody>
        </table>
      )}
      {hosts.hasNextPage && (
        <Button onClick={() => hosts.fetchNextPage()} loading={hosts.isFetchingNextPage} className={styles.more}>
          Show more; {listed.length} of {total} are shown
        </Button>
      )}
    </>
  );
}

function HostRow({ update, host, now }: { update: string; host: Schemas['CarrierHost']; now: Date }) {
  const [open, setOpen] = useState(false);
  const ruling = useRuling(update, open ? host.name : undefined);
  return (
    <tr>
      <td className="strong nowrap">{host.name}</td>
      <td className="nowrap">{host.population}</td>
      <td>
        {stateWord(host.state)}
        {host.state === 'UNKNOWN' && <span className="mid">, last known: {stateWord(host.lastKnown)}</span>}
        {host.viaSuccessor && <span className="mid"> via successor</span>}
        {host.told !== undefined && (host.state === 'FAILED' || host.state === 'CLAIMED') && (
          <div className="mid">
            {host.told.code !== undefined && `${host.told.code}, `}
            {dayTime(host.told.at, now)}
          </div>
        )}
      </td>
      <td>
        <FoundVersions versions={host.versions} levels />
      </td>
      <td className="nowrap">{dayTime(host.lastReport, now)}</td>
      <td>
        <button type="button" className="plain link" aria-expanded={open} onClick={() => setOpen(!open)}>
          {ruleMatchWords(host.holds, now)}
        </button>
        {host.until !== undefined && host.until !== host.holds.end && <span className="mid">; changes {dayTime(host.until, now)}</span>}
        {open && ruling.isError && <div className="mid">The chain of reasons cannot be shown: {ruling.error.message}</div>}
        {open && ruling.data && <Chain chain={ruling.data.chain} now={now} />}
      </td>
    </tr>
  );
}
