import type { Schemas } from '../api/client';
import { Term } from '../frame/Term';

/** The versions that an update speaks of, as they were found, each with the one that is expected. */
export function FoundVersions({ versions, levels = false }: { versions: Schemas['FoundVersion'][]; levels?: boolean }) {
  return versions.map((version) => (
    <div key={version.product} className="nowrap">
      {version.product} {version.found}
      {version.expected !== undefined && version.expected !== version.found && <span className="mid">, fixed in {version.expected}</span>}
      {version.running !== undefined && <span>, {version.running} still runs</span>}
      {levels && version.level !== undefined && (
        <div className="mid">
          <Term name="level">level</Term> {version.level}
          {version.track !== undefined && `, track from ${version.track}`}
        </div>
      )}
    </div>
  ));
}
