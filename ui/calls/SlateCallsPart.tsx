import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import type { SlateCallsPage } from '../../api/records';
import { useLongWork } from '../data/calls';
import { useZone } from '../data/session';
import { sayWhen } from '../desks/when';
import { Button, Fold, LinkRow, LinkRows, Section } from '../kit/parts';
import { Words } from '../kit/Words';
import { DaysChoice, Worked, type Days } from './parts';
import { sayNumber } from './words';

/** A slate run over the calls that went: how many would have ended otherwise, before it is put live. */
export function SlateCallsPart({ slate, version }: { readonly slate: number; readonly version: number }) {
  const [asked, setAsked] = useState<number | null>(null);
  const [days, setDays] = useState<Days>(28);
  const isOn = asked === version;
  const work = useLongWork<SlateCallsPage>(isOn ? `/api/slates/${slate}/calls?days=${days}` : null);
  return (
    <Section title="Over the calls that went">
      {isOn ? (
        <>
          <DaysChoice days={days} onDays={setDays} />
          <Worked work={work}>{(page) => <SlateCallsView page={page} />}</Worked>
        </>
      ) : (
        <View style={{ flexDirection: 'row' }}>
          <Button label="Run it over last month’s calls" onPress={() => setAsked(version)} />
        </View>
      )}
    </Section>
  );
}

const MOST_PEOPLE = 12;
const calls = (n: number) => `${n.toLocaleString('en')} ${n === 1 ? 'call' : 'calls'}`;

function SlateCallsView({ page }: { readonly page: SlateCallsPage }) {
  const router = useRouter();
  const zone = useZone();
  const { turned, saved, lost, people, some, names, says } = page;
  if (turned === 0) return <Words strong live>{`All ${calls(page.calls)} end as they did.`}</Words>;
  return (
    <>
      <Words strong live tone={lost > 0 ? 'rust' : 'ink'}>
        {`${turned.toLocaleString('en')} of ${calls(page.calls)} end otherwise${
          saved + lost === 0
            ? '; none of them was lost, and none is lost then.'
            : `: ${saved} that were lost are kept, ${lost} that were kept are lost.`
        }`}
      </Words>
      <LinkRows>
        {people.slice(0, MOST_PEOPLE).map((each) => {
          const who = names[each.to];
          const text = `${calls(each.turned)} otherwise, ${each.saved} kept that were lost, ${each.lost} lost that were kept`;
          return (
            <LinkRow
              key={each.to}
              title={who?.name ?? sayNumber(each.to)}
              text={text}
              onPress={() =>
                router.navigate(
                  who?.person
                    ? `/people/${encodeURIComponent(who.person)}`
                    : `/numbers/${encodeURIComponent(each.to)}`,
                )
              }
            />
          );
        })}
      </LinkRows>
      <Fold title={some.length < turned ? `${some.length} of these calls` : 'These calls'}>
        <View role="list">
          {some.map((call) => (
            <View role="listitem" key={call.id} style={{ paddingVertical: 4 }}>
              <Words>
                {`${sayWhen(new Date(call.startMs).toISOString(), zone)}, ${names[call.to]?.name ?? sayNumber(call.to)}: `}
                <Words tone="soft">{says[call.id]?.before ?? ''}</Words>
                {' Now: '}
                <Words strong>{says[call.id]?.after ?? ''}</Words>
              </Words>
            </View>
          ))}
        </View>
      </Fold>
    </>
  );
}
