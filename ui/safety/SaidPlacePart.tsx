import { DateTime } from 'luxon';
import type { Endpoint, SaidPlace } from '../../core/estate';
import { useSession } from '../data/session';
import { Fold } from '../kit/parts';
import { Words } from '../kit/Words';
import { CivicFields } from './CivicFields';

/** Where a softphone or a phone outside is, as somebody says. */
export function SaidPlacePart({
  endpoint: { place },
  onChange,
}: {
  readonly endpoint: Endpoint;
  readonly onChange: (place: SaidPlace | undefined) => void;
}) {
  const who = useSession((session) => session.account?.name ?? '');
  return (
    <Fold title="Where it is, for emergencies">
      <Words size="small" tone="soft">
        {place
          ? `Said by ${place.by} on ${place.saidOn}${place.from === undefined ? '' : ', from where it was registered then'}. It holds for 90 days.`
          : 'Nobody has said where it is. A phone at a site is where the site is.'}
      </Words>
      <CivicFields
        civic={place?.civic ?? {}}
        onChange={(civic) =>
          onChange(
            Object.keys(civic).length === 0
              ? undefined
              : { civic, saidOn: DateTime.now().toFormat('yyyy-MM-dd'), by: who },
          )
        }
      />
    </Fold>
  );
}
