import type { OwnPage } from '../../api/own';
import { View } from 'react-native';
import { useTick } from '../data/own';
import { space } from '../kit/theme';
import { Refused, Section } from '../kit/parts';
import { AppChecks } from '../phones/AppChecks';
import { Words } from '../kit/Words';

/** What the mobile must let its app do, ticked by whose mobile it is. */
export function AppsPart({ page }: { page: OwnPage }) {
  const tick = useTick();
  const apps = page.person.endpoints.filter(({ kind }) => kind === 'mobile-app');
  if (apps.length === 0) return null;
  return (
    <Section title="So that the app rings">
      {apps.map(({ id, label }) => (
        <View key={id} style={{ gap: space(2) }}>
          <Words strong>{label}</Words>
          <AppChecks
            endpoint={id}
            checks={page.checks}
            onTick={(item, done) => tick.mutate({ endpoint: id, item, done })}
          />
        </View>
      ))}
      <Refused error={tick.error} />
    </Section>
  );
}
