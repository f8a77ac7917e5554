import { useQuery } from '@tanstack/react-query';
import { Popover } from 'antd';
import { Link } from 'react-router';
import { api, body } from '../api/client';
import { HostNames } from '../frame/HostNames';
import { count } from '../words/dates';
import styles from './NotObeyed.module.css';

/** What was decided, and hosts say is not in force on them; nothing where all do as ordered. */
export function NotObeyed() {
  const told = useQuery({ queryKey: ['not obeyed'], queryFn: () => body(api.GET('/api/not-obeyed')) }).data ?? [];
  if (told.length === 0) {
    return null;
  }
  return (
    <Popover
      trigger="click"
      content={
        <div className={styles.cases}>
          <p className="flat">Decided, and not in force as hosts say:</p>
          {told.map((one) => (
            <p key={one.update} className="flat">
              <Link to={`/cases/${encodeURIComponent(one.update)}`}>{one.title}</Link> on {count(one.hosts.count, 'host')}{' '}
              <HostNames hosts={one.hosts} most={1} />
            </p>
          ))}
          <Link to="/hosts?show=NOT_OBEYING">Why, on Hosts</Link>
        </div>
      }
    >
      <button type="button" className="plain link strong noprint">
        {count(told.length, 'case')} not in force on some hosts
      </button>
    </Popover>
  );
}
