import { AutoComplete, Input } from 'antd';
import { useState } from 'react';
import type { Beside } from '../api/client';
import styles from './WhosePackages.module.css';

interface Props {
  namespaces: string[];
  beside: Beside;
  change: (beside: Beside) => void;
  /** Without a switch, where it is what is missing. */
  open?: boolean;
}

/** An rpm updateinfo does not say whose packages it is about; where all hosts are of one system it need not be told. */
export function WhosePackages({ namespaces, beside, change, open = false }: Props) {
  const [shown, setShown] = useState(open);
  if (!shown) {
    return (
      <button type="button" className="plain link mid" onClick={() => setShown(true)}>
        rpm updateinfo: whose packages?
      </button>
    );
  }
  return (
    <span className={styles.fields}>
      {!open && <span className="mid">rpm updateinfo is of</span>}
      <AutoComplete
        aria-label="Namespace of the packages"
        placeholder="namespace, such as tarn"
        className={styles.namespace}
        value={beside.namespace ?? ''}
        options={namespaces.map((value) => ({ value }))}
        onChange={(namespace: string) => change({ ...beside, namespace })}
      />
      <Input
        aria-label="Release of the packages"
        placeholder="release, such as tarn-4 (or all)"
        className={styles.release}
        value={beside.distro ?? ''}
        onChange={(e) => change({ ...beside, distro: e.target.value })}
      />
    </span>
  );
}
