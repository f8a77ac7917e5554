import { Button } from 'antd';
import { Row } from '../frame/Boundary';
import { Failed, Loading } from '../frame/Loading';
import { stateWord } from '../words/states';
import styles from './carriers.module.css';
import { FoundVersions } from './FoundVersions';
import type { usePastHosts } from './usePast';

/** Hosts as they were at the end of a day: states and versions of then. */
export function PastHosts({ hosts }: { hosts: ReturnType<typeof usePastHosts> }) {
  const listed = hosts.data?.pages.flatMap((page) => page.hosts) ?? [];
  const total = hosts.data?.pages[0]?.count ?? 0;
  if (hosts.isLoadingError) {
    return <Failed what="The hosts of that day" error={hosts.error} again={hosts.refetch} />;
  }
  if (hosts.isPending) {
    return <Loading what="the hosts of that day" />;
  }
  return (
    <>
      {total === 0 && <p className="mid">No host was in this state.</p>}
      {total > 0 && (
        <table className="list" aria-label="Hosts then">
          <thead>
            <tr>
              <th scope="col">Host</th>
              <th scope="col">Population</th>
              <th scope="col">State then</th>
              <th scope="col">Found then, and expected</th>
            </tr>
          </thead>
          <tbody>
            {listed.map((host) => (
              <Row key={host.name} what={host.name} columns={4}>
                {() => (
                  <tr>
                    <td className="strong nowrap">{host.name}</td>
                    <td className="nowrap">{host.population}</td>
                    <td>{stateWord(host.state)}</td>
                    <td>
                      <FoundVersions versions={host.versions} />
                    </td>
                  </tr>
                )}
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
