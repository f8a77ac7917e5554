import { App, Popover } from 'antd';
import type { Schemas } from '../api/client';
import { names } from '../words/sentences';
import styles from './HostNames.module.css';

/** The first names of some hosts; opens to all of them, which can be copied. */
export function HostNames({ hosts, most = 3 }: { hosts: Schemas['HostList']; most?: number }) {
  const { message } = App.useApp();
  if (hosts.count === 0) {
    return null;
  }
  const copy = async () => {
    await navigator.clipboard.writeText(hosts.names.join('\n'));
    message.info(`${hosts.names.length} names copied.`);
  };
  return (
    <Popover
      trigger="click"
      content={
        <div className={styles.names}>
          {hosts.names.join(', ')}
          {hosts.count > hosts.names.length && ` and ${hosts.count - hosts.names.length} more`}{' '}
          <button type="button" className="plain link" onClick={copy}>
            Copy
          </button>
        </div>
      }
    >
      <button type="button" className="plain link mid">
        {names(hosts, most)}
      </button>
    </Popover>
  );
}
