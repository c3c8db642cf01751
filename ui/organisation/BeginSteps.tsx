import { useState } from 'react';
import { View } from 'react-native';
import { usePeople } from '../data/people';
import { AddPerson } from '../people/AddPerson';
import { Button, LinkRow, LinkRows, Section } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';

/** What comes after an organisation has begun: its first people, and the first call that is proved. */
export function BeginSteps({ people }: { readonly people: number }) {
  const [adding, setAdding] = useState(false);
  const list = usePeople();
  const [first] = list.data?.people ?? [];
  return (
    <>
      {adding ? <AddPerson onClose={() => setAdding(false)} /> : null}
      <Section title="1 · First people">
        <Words tone={people > 0 ? 'kelp' : 'ink'}>
          {people > 0
            ? `${people} ${people === 1 ? 'person is' : 'people are'} here.`
            : 'Nobody is here yet.'}
        </Words>
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
          <Button
            kind={people > 0 ? 'plain' : 'main'}
            icon="add"
            label="Add person"
            onPress={() => setAdding(true)}
          />
        </View>
        <LinkRows>
          <LinkRow title="Import staff" text="From a CSV file or vCards, with a preview" href="/import" />
        </LinkRows>
      </Section>
      <Section title="2 · First call">
        {first ? (
          <LinkRows>
            <LinkRow
              title={`How ${first.name} is reached`}
              text="The call drawn, and two promises proved for every case"
              href={`/people/${encodeURIComponent(first.id)}`}
            />
            <LinkRow
              title={`Try a call to ${first.name}`}
              text="What rings when, and what happens if nobody answers"
              href={`/people/${encodeURIComponent(first.id)}/try`}
            />
          </LinkRows>
        ) : (
          <Words tone="soft">Once somebody is here, a call to them is drawn, tried and proved.</Words>
        )}
      </Section>
      <Section title="3 · What else there is to set">
        <LinkRows>
          <LinkRow
            title="Organisation"
            text="Name, zone, dial plan, permissions, trunks, the estate file"
            href="/organisation"
          />
          <LinkRow
            title="Promises and findings"
            text="What must hold for everybody, and what is amiss"
            href="/today"
          />
        </LinkRows>
      </Section>
    </>
  );
}
