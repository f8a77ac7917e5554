import { Select } from 'antd';
import type { Schemas } from '../api/client';
import styles from './FormatSelect.module.css';

export type Format = Schemas['Token']['formats'][number];

const WORDS: Record<Format, string> = {
  CSAF: 'CSAF advisories',
  UPDATE_NOTICE: 'update notices',
  UPDATEINFO: 'rpm updateinfo',
  REPOSITORY: 'rpm repository index',
  OSV: 'OSV advisories',
  INVENTORY: 'host inventories',
  CYCLONEDX: 'CycloneDX inventories',
  HOST_TABLE: 'tables of hosts',
  POPULATIONS: 'populations (to be confirmed)',
  EXPLOIT_SCORES: 'exploit probabilities',
  KNOWN_EXPLOITED: 'exploited vulnerabilities',
  OPENVEX: 'OpenVEX statements',
  KNOWN_ISSUES: 'known issues',
  FAILURE_REPORTS: 'failure reports',
};
const ALL = Object.keys(WORDS) as Format[];

/** What a feed brings unless it is told otherwise. */
const USUAL: Format[] = ['CSAF', 'UPDATE_NOTICE', 'UPDATEINFO', 'OSV', 'EXPLOIT_SCORES', 'KNOWN_EXPLOITED'];
export const USUAL_WORDS = 'advisories and what is told of exploitation';

/** "all", "all but populations", or the list, whichever is shortest. */
export function formatWords(formats: Format[]): string {
  if (formats.length === USUAL.length && USUAL.every((format) => formats.includes(format))) {
    return USUAL_WORDS;
  }
  const missing = ALL.filter((format) => !formats.includes(format));
  if (missing.length === 0) {
    return 'all formats';
  }
  const names = (list: Format[]) => list.map((format) => WORDS[format]).join(', ');
  return missing.length < formats.length ? `all formats but ${names(missing)}` : names(formats);
}

/** Which formats somebody or something may bring; what is not chosen is refused where it would be applied. */
export function FormatSelect(props: {
  value: Format[];
  onChange: (formats: Format[]) => void;
  placeholder: string;
  populations?: boolean;
}) {
  const options = ALL.filter((format) => props.populations || format !== 'POPULATIONS').map((value) => ({ value, label: WORDS[value] }));
  return (
    <Select
      aria-label="Formats that it may bring"
      mode="multiple"
      className={styles.formats}
      value={props.value}
      onChange={props.onChange}
      placeholder={props.placeholder}
      options={options}
      optionFilterProp="label"
    />
  );
}
