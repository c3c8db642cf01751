import { useState } from 'react';
import { View } from 'react-native';
import { useLocalSearchParams } from 'expo-router';
import { findTerms, type Term } from '../../core/glossary';
import { PageFrame } from '../kit/PageFrame';
import { Empty, Section } from '../kit/parts';
import { SearchField } from '../kit/SearchField';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';

/** Every term of the trade and of ours, each in one sentence, found by what others call it too. */
export function GlossaryScreen() {
  const { find } = useLocalSearchParams<{ find?: string }>();
  const [query, setQuery] = useState(find ?? '');
  const terms = findTerms(query);
  return (
    <PageFrame title="Glossary" back={{ path: '/today', label: 'Back to Today' }}>
      <Section>
        <SearchField
          label="Search the terms"
          placeholder="A term, or what others call it"
          value={query}
          onChange={setQuery}
        />
        <Words live tone="soft" size="small">
          {`${terms.length} ${terms.length === 1 ? 'term' : 'terms'}`}
        </Words>
        {terms.length === 0 ? (
          <Empty title="No such term" text="Search for a part of it, or for what you would call it." />
        ) : null}
        {terms.map((each) => (
          <TermRow key={each.id} term={each} />
        ))}
      </Section>
    </PageFrame>
  );
}

function TermRow({ term: { id, term, means, example, also, ours } }: { readonly term: Term }) {
  const palette = usePalette();
  return (
    <View
      nativeID={id}
      style={{ gap: space(1), paddingVertical: space(3), borderTopWidth: 1, borderColor: palette.line }}
    >
      <Words size="lead" strong heading={2}>
        {term}
      </Words>
      <Words style={{ maxWidth: 720 }}>{means}</Words>
      <Words tone="soft" style={{ maxWidth: 720 }}>{`For example: ${example}`}</Words>
      {also || ours ? (
        <Words size="small" tone="soft">
          {[ours ? 'A word of Hostler’s own' : '', also ? `Also: ${also.join(', ')}` : '']
            .filter(Boolean)
            .join(' · ')}
        </Words>
      ) : null}
    </View>
  );
}
