import { Input, type InputRef, Modal } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Schemas } from '../api/client';
import { useSearch } from '../api/queries';
import { count } from '../words/dates';
import styles from './Search.module.css';
import { useSettled } from './useSettled';

type Found = Schemas['Found'];

const TYPES: Record<Found['type'], string> = { UPDATE: 'update', CVE: 'CVE', PRODUCT: 'product', HOST: 'host', POPULATION: 'population' };
const HOSTS: Record<Found['type'], (hosts: number) => string> = {
  UPDATE: (hosts) => `${count(hosts, 'host')} ${hosts === 1 ? 'lacks' : 'lack'} it`,
  CVE: (hosts) => `${count(hosts, 'host')} ${hosts === 1 ? 'lacks' : 'lack'} what closes it`,
  PRODUCT: (hosts) => `on ${count(hosts, 'host')}`,
  HOST: () => '',
  POPULATION: (hosts) => count(hosts, 'host'),
};

/** Where what was found is shown. */
export function placeOf(found: Found, judges: boolean): string {
  const id = encodeURIComponent(found.id);
  switch (found.type) {
    case 'UPDATE':
      return judges ? `/cases/${id}` : `/carriers/${id}`;
    case 'CVE':
      return `/hosts?show=ALL&lacks=${id}`;
    case 'PRODUCT':
      return `/hosts?show=ALL&has=${id}`;
    case 'POPULATION':
      return `/hosts?show=ALL&population=${id}`;
    default:
      return `/hosts/${id}`;
  }
}

/** Searches everything; arrows choose, Enter goes there. */
export function Search({ open, close, judges }: { open: boolean; close: () => void; judges: boolean }) {
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const [going, setGoing] = useState(false);
  const input = useRef<InputRef>(null);
  const navigate = useNavigate();
  const asked = useSettled(text.trim(), 120);
  const search = useSearch(open ? asked : '');
  const answered = asked === text.trim() && !search.isPlaceholderData && !search.isFetching;
  const found = text.trim() === '' ? [] : (search.data ?? []);
  const go = (to: Found | undefined) => {
    if (to) {
      close();
      navigate(placeOf(to, judges));
    }
  };
  useEffect(() => {
    if (open) {
      setText('');
      setAt(0);
      setGoing(false);
    }
  }, [open]);
  // Enter pressed before the answer came goes to the first of it.
  useEffect(() => {
    if (going && answered) {
      setGoing(false);
      go(found[at]);
    }
  }, [going, answered]);
  const pressed = (event: React.KeyboardEvent) => {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      setAt(Math.min(Math.max(at + (event.key === 'ArrowDown' ? 1 : -1), 0), Math.max(found.length - 1, 0)));
    } else if (event.key === 'Enter' && text.trim() !== '') {
      event.preventDefault();
      setGoing(true);
    }
  };
  return (
    <Modal
      open={open}
      onCancel={close}
      footer={null}
      closable={false}
      title={null}
      width={640}
      className={styles.dialog}
      afterOpenChange={(shown) => shown && input.current?.focus()}
    >
      <Input
        ref={input}
        role="combobox"
        aria-label="Search everything"
        aria-expanded={found.length > 0}
        aria-controls="found"
        aria-activedescendant={found[at] === undefined ? undefined : `found-${at}`}
        variant="borderless"
        className="searchbox"
        placeholder="An update, a CVE, a product and version, a host, a population"
        value={text}
        maxLength={200}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
          setGoing(false);
        }}
        onKeyDown={pressed}
      />
      <div id="found" role="listbox" aria-label="Found">
        {found.map((one, index) => (
          // biome-ignore lint/a11y/useKeyWithClickEvents: the keys are those of the box above
          <div
            key={`${one.type} ${one.id}`}
            id={`found-${index}`}
            role="option"
            tabIndex={-1}
            aria-selected={index === at}
            className={index === at ? 'found current' : 'found'}
            onMouseEnter={() => setAt(index)}
            onClick={() => go(one)}
          >
            <span className="mid">{TYPES[one.type]}</span>
            <span>
              <span className={`serif strong ${styles.found}`}>{one.name}</span>{' '}
              <span className="mid">{one.note !== one.name && one.note}</span>
            </span>
            <span className="nowrap">{one.hosts !== undefined && HOSTS[one.type](one.hosts)}</span>
          </div>
        ))}
      </div>
      {text.trim() !== '' && answered && found.length === 0 && <p className="mid">No match.</p>}
    </Modal>
  );
}
