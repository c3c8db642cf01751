import { useCanEdit } from '../data/session';
import { PartLabel, PartsRow } from '../kit/PartsBar';
import { PressLink } from '../kit/PressLink';

const PAGES = [
  ['/calls', 'All calls'],
  ['/calls/nights', 'As planned?'],
  ['/calls/lost', 'Lost'],
  ['/calls/times', 'Answer times'],
  ['/calls/carriers', 'Carriers'],
  ['/calls/traffic', 'Trunks'],
  ['/calls/cost', 'Cost'],
  ['/calls/letter', 'Week'],
] as const;
export type CallsPath = (typeof PAGES)[number][0] | '/calls/import';

/** The pages about calls, each one tap away. */
export function CallPages({ path }: { readonly path: CallsPath }) {
  const canEdit = useCanEdit();
  return (
    <PartsRow label="Pages about calls">
      {[...PAGES, ...(canEdit ? ([['/calls/import', 'Import']] as const) : [])].map(([page, title]) => (
        <PressLink key={page} href={page} current={page === path} style={() => null}>
          <PartLabel title={title} on={page === path} />
        </PressLink>
      ))}
    </PartsRow>
  );
}
