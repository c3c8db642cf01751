import type { OwnPage } from '../../api/own';
import { View } from 'react-native';
import { useOwnHandover } from '../data/own';
import { Button, Refused, Section } from '../kit/parts';
import { HandoverSheet } from '../phones/HandoverSheet';
import { Words } from '../kit/Words';

/** One's own softphones: what is typed into them, shown on demand. */
export function OwnHandoverPart({ page }: { readonly page: OwnPage }) {
  const apps = page.person.endpoints.filter(({ kind }) => kind === 'mobile-app' || kind === 'desktop-app');
  return apps.length === 0 ? null : (
    <Section title="Set up your app">
      {apps.map(({ id, label, kind }) => (
        <OneApp key={id} id={id} label={label} kind={kind} page={page} />
      ))}
    </Section>
  );
}

function OneApp({
  id,
  label,
  kind,
  page,
}: {
  readonly id: string;
  readonly label: string;
  readonly kind: OwnPage['person']['endpoints'][number]['kind'];
  readonly page: OwnPage;
}) {
  const shown = useOwnHandover(id);
  return (
    <View style={{ gap: 8 }}>
      <Words strong>{label}</Words>
      {shown.data ? (
        <HandoverSheet
          title={`${label} of ${page.person.name}`}
          endpoint={id}
          kind={kind}
          extension={page.person.extension ?? 'your extension'}
          account={shown.data}
          more={<Button label="Close it" onPress={() => shown.reset()} />}
        />
      ) : (
        <View style={{ flexDirection: 'row' }}>
          <Button label="Show my sheet" busy={shown.isPending} onPress={() => shown.mutate()} />
        </View>
      )}
      <Refused error={shown.error} />
    </View>
  );
}
