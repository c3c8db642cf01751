import { View } from 'react-native';
import { useQuery } from '@tanstack/react-query';
import { DateTime } from 'luxon';
import type { RemovedPhone } from '../../api/people';
import { zoneNamed } from '../../core/zones';
import { api } from '../data/api';
import { personKey } from '../data/data';
import { useZone } from '../data/session';
import { UndoOnSlate } from '../edit/UndoOnSlate';
import { Fold } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { KIND_WORDS } from '../phones/words';

/** Phones that were taken from somebody, each brought back on a slate with wherever it rang. */
export function RemovedPhones({ person, version }: { readonly person: string; readonly version: number }) {
  const zone = useZone();
  const path = `${personKey(person)}/removed-phones`;
  const removed = useQuery({
    queryKey: [path, version],
    queryFn: () => api<{ phones: readonly RemovedPhone[] }>('GET', path),
  });
  const phones = removed.data?.phones ?? [];
  if (phones.length === 0) return null;
  return (
    <View style={{ marginHorizontal: -space(4) }}>
      <Fold title={phones.length === 1 ? 'One removed phone' : `${phones.length} removed phones`}>
        <View style={{ paddingHorizontal: space(4), gap: space(2) }}>
          {phones.map((phone) => (
            <View
              key={phone.endpoint}
              style={{ flexDirection: 'row', alignItems: 'center', flexWrap: 'wrap', gap: space(2) }}
            >
              <View style={{ flex: 1, minWidth: 180 }}>
                <Words strong>{phone.label}</Words>
                <Words size="small" tone="soft">
                  {`${KIND_WORDS[phone.kind]}, removed by ${phone.who} on ${DateTime.fromISO(phone.at, {
                    zone: zoneNamed(zone),
                  })
                    .setLocale('en')
                    .toFormat('d LLL yyyy, HH:mm')}`}
                </Words>
              </View>
              <UndoOnSlate
                quiet={false}
                label={`Bring back ${phone.label}`}
                what={{ entries: phone.entries }}
              />
            </View>
          ))}
          <Words size="small" tone="soft">
            It comes back on a slate, with the rules that it rang in; what was changed since stays.
          </Words>
        </View>
      </Fold>
    </View>
  );
}
