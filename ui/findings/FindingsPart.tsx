import { View } from 'react-native';
import { useOpenFindings } from '../data/findings';
import { Section } from '../kit/parts';
import { Words } from '../kit/Words';
import { FoundRow } from './FoundRow';

/** The open findings about one person, group or menu, on its own page. */
export function FindingsPart({ subject }: { readonly subject: string }) {
  const { open, checks } = useOpenFindings(subject);
  if (open.length === 0) return null;
  return (
    <Section title="Findings" term="finding" aside={<Words tone="soft">{open.length}</Words>}>
      <View role="list">
        {open.map((finding) => (
          <FoundRow
            key={finding.key}
            finding={finding}
            check={checks.find(({ id }) => id === finding.check)}
            named={false}
          />
        ))}
      </View>
    </Section>
  );
}
