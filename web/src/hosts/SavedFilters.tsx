import { App, Button, Input, Popover } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api } from '../api/client';
import { useChange, useHostFilters } from '../api/queries';
import styles from './SavedFilters.module.css';

/** A person's own filters: each is an address of the page under a name. */
export function SavedFilters({ query }: { query: string }) {
  const filters = useHostFilters();
  const { message } = App.useApp();
  const [name, setName] = useState('');
  const keep = useChange(
    (as: string) => api.PUT('/api/host-filters/{name}', { params: { path: { name: as } }, body: { query } }),
    'Not kept',
  );
  const remove = useChange((which: string) => api.DELETE('/api/host-filters/{name}', { params: { path: { name: which } } }), 'Not removed');
  const save = () => {
    const as = name.trim();
    if (as !== '') {
      keep.mutate(as, {
        onSuccess: () => {
          setName('');
          message.info(`The filter “${as}” is kept.`);
        },
      });
    }
  };
  const content = (
    <div className={styles.filters}>
      {(filters.data ?? []).length === 0 && <p className="mid">A filter that you keep under a name stands here, for you alone.</p>}
      <ul className="problems ink">
        {(filters.data ?? []).map((filter) => (
          <li key={filter.name}>
            <Link to={`/hosts?${filter.query}`}>{filter.name}</Link>{' '}
            <button
              type="button"
              className="plain link mid"
              aria-label={`Remove the filter ${filter.name}`}
              onClick={() => remove.mutate(filter.name)}
            >
              remove
            </button>
          </li>
        ))}
      </ul>
      <div className="actions">
        <Input
          aria-label="Name of the filter"
          placeholder="Keep what is shown as"
          className={styles.filter}
          maxLength={100}
          value={name}
          onChange={(event) => setName(event.target.value)}
          onPressEnter={save}
        />
        <Button onClick={save} disabled={name.trim() === ''} loading={keep.isPending}>
          Keep
        </Button>
      </div>
    </div>
  );
  return (
    <Popover trigger="click" content={content} placement="bottomRight">
      <button type="button" className="plain link">
        Saved filters {filters.data !== undefined && filters.data.length > 0 && filters.data.length}
      </button>
    </Popover>
  );
}
