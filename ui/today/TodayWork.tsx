import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { useFindings } from '../data/findings';
import { isOpen, useSlates } from '../data/slates';
import { Button, LinkRow, LinkRows, Section } from '../kit/parts';
import { FoundRow } from '../findings/FoundRow';
import { RestartsPart } from '../phones/RestartsPart';
import { Words } from '../kit/Words';

const SHOWN = 4;

/** What needs somebody today: slates in work and restarts owed. */
export function TodayWork() {
  const router = useRouter();
  const slates = useSlates().data?.slates.filter(isOpen) ?? [];
  return (
    <>
      <Section
        title="Slates in work"
        aside={<Button kind="quiet" label="All slates" onPress={() => router.navigate('/slates')} />}
      >
        {slates.length === 0 ? (
          <Words tone="soft">None. Changes that should take force together begin one.</Words>
        ) : (
          <LinkRows>
            {slates.slice(0, SHOWN).map((slate) => (
              <LinkRow
                key={slate.id}
                title={slate.name}
                text={
                  slate.heldWhy ?? `${slate.size} ${slate.size === 1 ? 'change' : 'changes'}, ${slate.owner}`
                }
                mark={
                  slate.state === 'work' ? null : (
                    <Words size="small" strong tone={slate.state === 'held' ? 'rust' : 'soft'}>
                      {slate.state === 'held' ? 'held back' : 'set for a time'}
                    </Words>
                  )
                }
                href={`/slates/${slate.id}`}
              />
            ))}
          </LinkRows>
        )}
      </Section>
      <RestartsPart />
    </>
  );
}

/** The heaviest of the findings, and the way to all. */
export function TodayFindings() {
  const router = useRouter();
  const found = useFindings();
  const open = found.data?.findings.filter((each) => each.isOpen) ?? [];
  if (open.length === 0) return null;
  return (
    <Section
      title="Findings"
      aside={
        <Button kind="quiet" label={`All ${open.length}`} onPress={() => router.navigate('/findings')} />
      }
    >
      <View role="list">
        {open.slice(0, SHOWN).map((finding) => (
          <FoundRow
            key={finding.key}
            finding={finding}
            check={found.data?.checks.find(({ id }) => id === finding.check)}
          />
        ))}
      </View>
    </Section>
  );
}
