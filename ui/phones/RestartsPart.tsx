import { capital } from '../../core/estate';
import type { OwedRestart } from '../../api/findings';
import { View } from 'react-native';
import { DateTime } from 'luxon';
import { useRouter } from 'expo-router';
import { messageOf } from '../data/api';
import { useRestart, useRestarts } from '../data/findings';
import { useRole } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { Button, Section } from '../kit/parts';
import { Words } from '../kit/Words';

/** The phones that run something else than they should until they are restarted, by what is different. */
export function RestartsPart() {
  const palette = usePalette();
  const router = useRouter();
  const role = useRole();
  const restarts = useRestarts();
  const restart = useRestart();
  const owed = restarts.data?.owed ?? [];
  if (owed.length === 0) return null;
  const groups = new Map<string, OwedRestart[]>();
  for (const each of owed) groups.set(each.says, [...(groups.get(each.says) ?? []), each]);
  return (
    <Section title="Restarts owed" term="restart-owed" aside={<Words tone="soft">{owed.length}</Words>}>
      <Words size="small" tone="soft">
        These phones take up what was changed only when they restart. Until then calls go as they run now. The
        stand-in of a phone that is marked as restarted starts again with it.
      </Words>
      {restart.isError ? (
        <Words tone="rust" live>
          {messageOf(restart.error)}
        </Words>
      ) : null}
      {[...groups].map(([says, all]) => {
        const endpoints = all.map(({ endpoint }) => endpoint);
        const planned = all.find(({ restartAt }) => restartAt !== null)?.restartAt;
        const act = (when: 'now' | 'tonight' | 'not') => restart.mutate({ endpoints, when });
        return (
          <View
            key={says}
            style={{
              gap: space(1),
              paddingBottom: space(2),
              borderBottomWidth: 1,
              borderColor: palette.line,
            }}
          >
            <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(1) }}>
              {all.map(({ endpoint, label, name, person }) => (
                <Button
                  key={endpoint}
                  kind="quiet"
                  label={`${name}: ${label}`}
                  onPress={() => router.navigate(`/people/${encodeURIComponent(person)}`)}
                />
              ))}
            </View>
            <Words>{`${capital(says)}.`}</Words>
            {planned ? (
              <Words size="small" tone="soft">
                {`Planned for ${DateTime.fromISO(planned).setLocale('en').toFormat('ccc d LLL, HH:mm')}`}
              </Words>
            ) : null}
            {role === 'manager' ? null : (
              <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
                <Button label="Restarted" onPress={() => act('now')} />
                {planned ? (
                  <Button label="Not tonight" onPress={() => act('not')} />
                ) : (
                  <Button label="Tonight at 3" onPress={() => act('tonight')} />
                )}
              </View>
            )}
          </View>
        );
      })}
    </Section>
  );
}
