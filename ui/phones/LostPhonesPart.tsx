import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { deskEndpoint } from '../../core/desks';
import type { Desk } from '../../core/estate';
import { useObjects } from '../data/objects';
import { usePhones } from '../data/phones';
import { space, usePalette } from '../kit/theme';
import { Button, LinkRow, Section } from '../kit/parts';
import { Words } from '../kit/Words';
import { clockOf } from './words';

const SHOWN = 6;

/** The phones that were registered and are so no more, told of within seconds. */
export function LostPhonesPart() {
  const palette = usePalette();
  const router = useRouter();
  const phones = usePhones();
  const desks = useObjects<Desk>('desk');
  const lost = [...(phones.data?.lost ?? [])].sort((a, b) => b.lostMs - a.lostMs);
  if (lost.length === 0) return null;
  const rows = new Map((phones.data?.phones ?? []).map((each) => [each.endpoint, each]));
  return (
    <View>
      <Section
        title="Phones that were lost"
        aside={<Words tone="soft">{lost.length}</Words>}
        style={{ paddingBottom: space(2) }}
      >
        {null}
      </Section>
      <View style={{ borderTopWidth: 1, borderColor: palette.line }}>
        {lost.slice(0, SHOWN).map((each) => {
          const row = each.endpoint === null ? undefined : rows.get(each.endpoint);
          const desk = desks.data?.objects.find(({ id }) => each.endpoint === deskEndpoint(id));
          return (
            <LinkRow
              key={each.user}
              title={row ? `${row.name}: ${row.label}` : (desk?.name ?? each.user)}
              text={`Since ${clockOf(each.lostMs)}: ${each.detail}`}
              mark={
                <Words size="small" strong tone="rust">
                  ▱ lost
                </Words>
              }
              href={
                row
                  ? `/phones/${encodeURIComponent(row.endpoint)}`
                  : desk
                    ? `/desks/${encodeURIComponent(desk.id)}`
                    : '/phones'
              }
            />
          );
        })}
      </View>
      {lost.length > SHOWN ? (
        <View style={{ padding: space(4), flexDirection: 'row' }}>
          <Button label="All of them" onPress={() => router.navigate('/phones')} />
        </View>
      ) : null}
    </View>
  );
}
